import { useEffect } from 'react';

/** Where letters and arrows mean themselves. A ticked box, a choice or a turned knob is no such place: the keys go on after it. */
const TYPING = 'input:not([type=checkbox], [type=radio], [type=range]), textarea, select, dialog, [contenteditable]';
/** Where arrows alone do. */
const ARROWS_MOVE = 'input[type=radio], [role=slider]';

/** Keys that work anywhere on the page, except while something is being typed. Keys with Ctrl, Alt or Meta are left to the browser. */
export function useKeys(keys: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.altKey || event.metaKey || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      if (target.closest(TYPING) !== null) return;
      if (event.key.startsWith('Arrow') && target.closest(ARROWS_MOVE) !== null) return;
      const action = keys[event.key];
      if (action === undefined) return;
      event.preventDefault();
      action();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  });
}
