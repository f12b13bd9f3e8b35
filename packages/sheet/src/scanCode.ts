import qrcode from 'qrcode-generator';
import type { OwnerSheet } from './ownerSheet.ts';

/** The safe volumes as plain text: what a phone shows that scans the code, without a network. */
export const scanText = ({ job, volumes }: Pick<OwnerSheet, 'job' | 'volumes'>): string =>
  [
    job.slice(0, 60),
    ...volumes
      .slice(0, 8)
      .map(({ name, step, of }) => `${name.slice(0, 40)}: ${step === undefined ? 'leave it off' : `never above ${step} of ${of}`}`),
  ].join('\n');

/** Modules of a code that holds a text, dark where true; the quiet zone around it is whose draws it. @see ISO/IEC 18004 */
export function scanCode(text: string): boolean[][] {
  // Left to itself it takes every sign for one byte.
  qrcode.stringToBytes = utf8;
  const code = qrcode(0, 'M');
  code.addData(text);
  code.make();
  const count = code.getModuleCount();
  return Array.from({ length: count }, (_, row) => Array.from({ length: count }, (__, column) => code.isDark(row, column)));
}

const utf8 = (text: string): number[] =>
  [...encodeURIComponent(text).matchAll(/%([0-9A-F]{2})|[^%]/g)].map(([sign, hex]) =>
    hex === undefined ? sign.charCodeAt(0) : parseInt(hex, 16),
  );

const QUIET = 4;

/** The code as a part of a page. */
export function scanSvg(text: string): string {
  const modules = scanCode(text);
  const size = modules.length + 2 * QUIET;
  const dark = modules.flatMap((row, y) => row.flatMap((isDark, x) => (isDark ? [`M${x + QUIET} ${y + QUIET}h1v1h-1z`] : [])));
  return `<svg viewBox="0 0 ${size} ${size}" role="img" aria-label="Code to scan: the highest safe volumes as text"><rect width="${size}" height="${size}" fill="#fff"/><path d="${dark.join('')}" fill="#161513"/></svg>`;
}
