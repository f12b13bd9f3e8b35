import type { OwnerSheet, SheetChannel } from './ownerSheet.ts';
import { escapeText } from './escapeText.ts';

const BOX = { width: 190, height: 46, gap: 14, across: 60 };
const PAD = 10;
/** Characters that fit into a box; longer names end in a mark. */
const MOST_LETTERS = 27;

/**
 * The signal's way as a drawing: source, processor, amplifiers, and every channel at its terminals.
 *
 * @param standsAlone - a file of its own, not a part of a page
 * @returns an SVG document with its words as text, readable without anything fetched
 */
export function systemDrawing({ system, channels }: Pick<OwnerSheet, 'system' | 'channels'>, standsAlone = true): string {
  const amplifiers = [...new Set(channels.map(({ amplifier }) => amplifier))];
  // Channels stand by their amplifier, so that no line crosses another.
  const rows = amplifiers.flatMap((amplifier) => channels.filter((channel) => channel.amplifier === amplifier));
  const stages = [[system.source], ...(system.processor === '' ? [] : [[system.processor]]), amplifiers];
  const height = Math.max(1, rows.length) * (BOX.height + BOX.gap) + PAD;
  const columnX = (column: number): number => PAD + column * (BOX.width + BOX.across);
  const rowY = (row: number): number => PAD + row * (BOX.height + BOX.gap);
  const middleOf = (amplifier: string): number => {
    const own = rows.flatMap((channel, row) => (channel.amplifier === amplifier ? [rowY(row)] : []));
    return (own[0]! + own.at(-1)!) / 2;
  };
  const placeY = (column: number, index: number): number =>
    column === stages.length - 1 ? middleOf(amplifiers[index]!) : (height - BOX.height) / 2;
  const boxes = stages.flatMap((names, column) =>
    names.map((name, index) => box(columnX(column), placeY(column, index), name, column === 0 ? system.settings : '')),
  );
  const lines = stages
    .slice(1)
    .flatMap((names, column) =>
      names.map((_, index) => line(columnX(column) + BOX.width, placeY(column, 0), columnX(column + 1), placeY(column + 1, index))),
    );
  const ends = rows.flatMap((channel, row) => [
    line(columnX(stages.length - 1) + BOX.width, middleOf(channel.amplifier), columnX(stages.length), rowY(row)),
    box(columnX(stages.length), rowY(row), channel.name, `${channel.terminals} · ${channel.load.split(',')[0]!}`),
  ]);
  const width = columnX(stages.length) + BOX.width + PAD;
  return `<svg${standsAlone ? ' xmlns="http://www.w3.org/2000/svg"' : ''} viewBox="0 0 ${width} ${height}" role="img" aria-label="${escapeText(wayWords(system, rows))}" font-family="IBM Plex Sans, system-ui, sans-serif">${lines.join('')}${boxes.join('')}${ends.join('')}</svg>`;
}

/** The same for whoever does not see it. */
const wayWords = ({ source, processor }: OwnerSheet['system'], channels: readonly SheetChannel[]): string =>
  `${[source, processor].filter((name) => name !== '').join(' feeds ')} feeds ${channels.map(({ name, amplifier, terminals }) => `${name} on ${amplifier}, ${terminals}`).join('; ')}`;

const short = (words: string): string => (words.length > MOST_LETTERS ? `${words.slice(0, MOST_LETTERS - 1)}…` : words);

const box = (x: number, y: number, name: string, below: string): string =>
  `<g><title>${escapeText(`${name}${below === '' ? '' : `, ${below}`}`)}</title><rect x="${x}" y="${y}" width="${BOX.width}" height="${BOX.height}" rx="5" fill="#fff" stroke="#57534a"/><text x="${x + PAD}" y="${y + (below === '' ? 28 : 20)}" font-size="13" font-weight="600" fill="#161513">${escapeText(short(name))}</text>${below === '' ? '' : `<text x="${x + PAD}" y="${y + 37}" font-size="11" fill="#57534a">${escapeText(short(below))}</text>`}</g>`;

const line = (fromX: number, fromY: number, toX: number, toY: number): string => {
  const [y1, y2, middle] = [fromY + BOX.height / 2, toY + BOX.height / 2, (fromX + toX) / 2];
  return `<path d="M${fromX} ${y1}H${middle}V${y2}H${toX}" fill="none" stroke="#57534a" stroke-width="1.5"/>`;
};
