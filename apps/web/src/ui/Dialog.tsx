import { X } from 'lucide-react';
import { useEffect, useRef, type JSX, type ReactNode } from 'react';

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
    if (dialog !== null && !dialog.open) dialog.showModal();
  }, []);
  return (
    <dialog ref={ref} className="modal" onClose={onClose} aria-label={title}>
      <div className={`modal-box bg-ground text-ink max-h-[90dvh] p-6 ${wide ? 'max-w-3xl' : 'max-w-lg'}`}>
        <div className="mb-4 flex items-start justify-between gap-4">
          <h2 className="text-xl">{title}</h2>
          <button type="button" className="btn btn-ghost btn-square -mt-2 -mr-2" aria-label="Close" onClick={onClose}>
            <X size={20} aria-hidden />
          </button>
        </div>
        {children}
      </div>
    </dialog>
  );
}
