/** What a meter's overload on the ohms range is entered and kept as: far above any coil, and a number like any other. */
export const OVERLOAD_OHM = 1e6;

/** Whether a text is what meters show, or people say, for no path at all: "OL", "0L", "O.L", "open". */
export function isOverload(text: string): boolean {
  return /^\s*(0\.?l|o\.?l|ovl|overload|open|∞)\s*$/i.test(text);
}
