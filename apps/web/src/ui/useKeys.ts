import { useEffect } from 'react';

/** Where letters and arrows mean themselves. A ticked box, a choice or a turned knob is no such place: the keys go on after it. */
const TYPING = 'input:not([type=checkbox], [type=radio], [type=range]), textarea, select, dialog, [contenteditable]';
/** Where arrows alone do. */
const ARROWS_MOVE = 'input[type=radio], [role=slider]';
/** Where a figure is typed: letters that no figure has are keys there too. */
const FIGURE = 'input[data-figure]';
/** No figure holds these. */
const NEVER_TYPED = new Set(['r', 'j', '?']);
/** No figure begins with one of these: with nothing typed yet they are keys. */
const NEVER_FIRST = new Set(['n', 't', 's', 'b', 'c', 'x', 'f', 'h', 'l']);

type Pressed = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'altKey' | 'metaKey'> & { target: EventTarget | null };

/** Whether a key pressed in a figure's field belongs into the figure. */
export function isFigureKey({ key, ctrlKey, altKey, metaKey, target }: Pressed): boolean {
  if (key.length > 1 || ctrlKey || altKey || metaKey) return true;
  const isEmpty = target instanceof HTMLInputElement && target.value.trim() === '';
  return !NEVER_TYPED.has(key) && !(isEmpty && NEVER_FIRST.has(key));
}

/** Keys that work anywhere on the page, except while something is being typed. Keys with Ctrl, Alt or Meta are left to the browser. */
export function useKeys(keys: Record<string, () => void>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      const isBareKey = target.matches(FIGURE) && target.closest('dialog') === null && !isFigureKey(event);
      if (event.ctrlKey || event.altKey || event.metaKey || (event.defaultPrevented && !isBareKey)) return;
      if (target.closest(TYPING) !== null && !isBareKey) return;
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
