import type { OwnerSheet, SheetChannel } from './ownerSheet.ts';
import { lettersIn, PAPER, shortened, type Picture, type Shape } from './picture.ts';

const BOX = { width: 190, height: 46, gap: 14, across: 60 };
const PAD = 10;

/** The signal's way: source, processor, amplifiers, and every channel at its terminals. */
export function systemPicture({ system, channels }: Pick<OwnerSheet, 'system' | 'channels'>): Picture {
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
    names.flatMap((name, index) => box(columnX(column), placeY(column, index), name, column === 0 ? system.settings : '')),
  );
  const lines = stages
    .slice(1)
    .flatMap((names, column) =>
      names.map((_, index) => line(columnX(column) + BOX.width, placeY(column, 0), columnX(column + 1), placeY(column + 1, index))),
    );
  const ends = rows.flatMap((channel, row) => [
    line(columnX(stages.length - 1) + BOX.width, middleOf(channel.amplifier), columnX(stages.length), rowY(row)),
    ...box(columnX(stages.length), rowY(row), channel.name, `${channel.terminals} · ${channel.load.split(',')[0]!}`),
  ]);
  return {
    width: columnX(stages.length) + BOX.width + PAD,
    height,
    words: wayWords(system, rows),
    shapes: [...lines, ...boxes, ...ends],
  };
}

const wayWords = ({ source, processor }: OwnerSheet['system'], channels: readonly SheetChannel[]): string =>
  `${[source, processor].filter((name) => name !== '').join(' feeds ')} feeds ${channels.map(({ name, amplifier, terminals }) => `${name} on ${amplifier}, ${terminals}`).join('; ')}`;

function box(x: number, y: number, name: string, below: string): Shape[] {
  const words = (of: string, size: number): string => shortened(of, lettersIn(BOX.width - 2 * PAD, size));
  return [
    { kind: 'box', x, y, width: BOX.width, height: BOX.height, radius: 5, fill: '#fff', stroke: PAPER.quiet },
    { kind: 'words', x: x + PAD, y: y + (below === '' ? 28 : 20), size: 13, words: words(name, 13), color: PAPER.ink, isStrong: true },
    ...(below === ''
      ? []
      : [{ kind: 'words', x: x + PAD, y: y + 37, size: 11, words: words(below, 11), color: PAPER.quiet } satisfies Shape]),
  ];
}

function line(fromX: number, fromY: number, toX: number, toY: number): Shape {
  const [y1, y2, middle] = [fromY + BOX.height / 2, toY + BOX.height / 2, (fromX + toX) / 2];
  return { kind: 'path', d: `M${fromX} ${y1}H${middle}V${y2}H${toX}`, stroke: PAPER.quiet, width: 1.5 };
}
