import { X } from 'lucide-react';
import { useEffect, useRef, type JSX, type KeyboardEvent, type ReactNode } from 'react';

/** A dialog over the page. It is mounted while it is open; Escape and the cross close it. */
export function Dialog({
  title,
  onClose,
  children,
  wide = false,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
}): JSX.Element {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const dialog = ref.current;
    if (dialog === null) return undefined;
    const opener = document.activeElement;
    if (!dialog.open) dialog.showModal();
    // The first field, not the cross; one that comes with a chunk of its own takes the cursor as it arrives.
    const focusFirst = (): void => {
      const field = dialog.querySelector<HTMLElement>('[data-first-field], input, select, textarea');
      if (field === null) return;
      arrival.disconnect();
      if (!dialog.contains(document.activeElement) || document.activeElement?.closest('[data-close]') !== null) field.focus();
    };
    const arrival = new MutationObserver(focusFirst);
    arrival.observe(dialog, { childList: true, subtree: true });
    focusFirst();
    return () => {
      arrival.disconnect();
      // Back to where the hand was; where that is gone, to the page, whose keys all work.
      if (opener instanceof HTMLElement && opener.isConnected) opener.focus();
    };
  }, []);
  // The browser tells of its own closing a moment later; by then another dialog may stand here, and would be closed in its place.
  const closeAtOnce = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape' || event.defaultPrevented) return;
    event.preventDefault();
    onClose();
  };
  return (
    <dialog ref={ref} className="modal" onClose={onClose} onKeyDown={closeAtOnce} aria-label={title}>
      <div className={`modal-box bg-ground text-ink max-h-[90dvh] p-6 ${wide ? 'max-w-3xl' : 'max-w-lg'}`}>
        <div className="mb-4 flex items-start justify-between gap-4">
          <h2 className="text-xl">{title}</h2>
          <button type="button" data-close="" className="btn btn-ghost btn-square -mt-2 -mr-2" aria-label="Close" onClick={onClose}>
            <X size={20} aria-hidden />
          </button>
        </div>
        {children}
      </div>
    </dialog>
  );
}
