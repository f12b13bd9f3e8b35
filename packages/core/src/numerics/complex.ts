/** A complex number. */
export interface Complex {
  re: number;
  im: number;
}

export const times = (a: Complex, b: Complex): Complex => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re });

export const plus = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });

export function divide(a: Complex, b: Complex): Complex {
  const square = b.re ** 2 + b.im ** 2;
  return { re: (a.re * b.re + a.im * b.im) / square, im: (a.im * b.re - a.re * b.im) / square };
}

export const magnitude = ({ re, im }: Complex): number => Math.hypot(re, im);

/** Size as a level in decibels; −Infinity for nothing. */
export const levelDbOf = (value: Complex): number => 20 * Math.log10(magnitude(value));

/** In degrees, in (−180, 180]. */
export const degreesOf = ({ re, im }: Complex): number => (Math.atan2(im, re) * 180) / Math.PI;

/** From a level in decibels and an angle in degrees. */
export function fromLevel(db: number, deg: number): Complex {
  const [size, angle] = [10 ** (db / 20), (deg * Math.PI) / 180];
  return { re: size * Math.cos(angle), im: size * Math.sin(angle) };
}
