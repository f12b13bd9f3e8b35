import { newUuid } from './newId.ts';
// This browser, as others see it. There are no accounts: a name is what its user writes down.

const NAME = 'yield.device-name';
const ID = 'yield.device-id';

let heldId: string | undefined;

/** The name that this browser was given; empty where it was given none. */
export function deviceName(): string {
  try {
    return localStorage.getItem(NAME) ?? '';
  } catch {
    return '';
  }
}

export function nameDevice(name: string): void {
  try {
    localStorage.setItem(NAME, name.trim());
  } catch {
    // Not kept: this browser goes without a name.
  }
}

/** The same for all windows of this browser. */
export function deviceId(): string {
  try {
    const known = localStorage.getItem(ID);
    if (known !== null) return known;
    const made = newUuid();
    localStorage.setItem(ID, made);
    return made;
  } catch {
    heldId ??= newUuid();
    return heldId;
  }
}
