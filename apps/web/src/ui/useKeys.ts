import { useEffect } from 'react';

/** Keys that work anywhere on the page, except while something is being typed. Keys with Ctrl, Alt or Meta are left to the browser. */
export function useKeys(keys: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.altKey || event.metaKey || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      if (target.closest('input, textarea, select, dialog, [contenteditable]') !== null) return;
      const action = keys[event.key];
      if (action === undefined) return;
      event.preventDefault();
      action();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  });
}
