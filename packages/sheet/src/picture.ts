import { escapeText } from './escapeText.ts';

/** A drawing as data: the same on a page, in a file of its own, and on paper. */
export interface Picture {
  width: number;
  height: number;
  /** the same for whoever does not see it */
  words: string;
  shapes: readonly Shape[];
}

export type Shape =
  | { kind: 'path'; d: string; stroke: string; width: number; dash?: readonly number[] }
  | { kind: 'box'; x: number; y: number; width: number; height: number; radius: number; fill: string; stroke: string }
  | { kind: 'words'; x: number; y: number; size: number; words: string; color: string; isStrong?: boolean; anchor?: Anchor };

export type Anchor = 'start' | 'middle' | 'end';

/** Of daylight: what is printed is printed on white. */
export const PAPER = { ink: '#161513', quiet: '#57534a', line: '#bdb6a6', raised: '#f1eee6', action: '#1f4190', good: '#1d7a45' } as const;

/** Longer words end in a mark. */
export const shortened = (words: string, most: number): string => (words.length > most ? `${words.slice(0, most - 1)}…` : words);

/** A text of about so many letters fits into a width; of the page's own font. */
export const lettersIn = (width: number, size: number): number => Math.max(1, Math.floor(width / (0.53 * size)));

/**
 * A picture as SVG.
 *
 * @param standsAlone - a file of its own, not a part of a page
 * @returns a document with its words as text, readable without anything fetched
 */
export function pictureSvg({ width, height, words, shapes }: Picture, standsAlone = true): string {
  const head = standsAlone ? ` xmlns="http://www.w3.org/2000/svg" width="${round(width)}" height="${round(height)}"` : '';
  return `<svg${head} viewBox="0 0 ${round(width)} ${round(height)}" role="img" aria-label="${escapeText(words)}" font-family="IBM Plex Sans, system-ui, sans-serif">${shapes.map(shapeSvg).join('')}</svg>`;
}

function shapeSvg(shape: Shape): string {
  switch (shape.kind) {
    case 'path':
      return `<path d="${shape.d}" fill="none" stroke="${shape.stroke}" stroke-width="${shape.width}"${shape.dash === undefined ? '' : ` stroke-dasharray="${shape.dash.join(' ')}"`}/>`;
    case 'box':
      return `<rect x="${round(shape.x)}" y="${round(shape.y)}" width="${round(shape.width)}" height="${round(shape.height)}" rx="${shape.radius}" fill="${shape.fill}" stroke="${shape.stroke}"/>`;
    case 'words':
      return `<text x="${round(shape.x)}" y="${round(shape.y)}" font-size="${shape.size}"${shape.isStrong === true ? ' font-weight="600"' : ''}${shape.anchor === undefined ? '' : ` text-anchor="${shape.anchor}"`} fill="${shape.color}">${escapeText(shape.words)}</text>`;
  }
}

const round = (value: number): number => Math.round(100 * value) / 100;
