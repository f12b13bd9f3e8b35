import {
  type Block,
  type Channel,
  channelCoils,
  channelNetwork,
  formatQuantity,
  type JoinKind,
  joinsOf,
  readWiring,
  wiringLayout,
} from '@yield/core';
import { lettersIn, PAPER, shortened, type Picture, type Shape } from './picture.ts';

/** A channel's wiring as it was when the sheet was made. */
export interface SheetWiring {
  /** what is printed at the amplifier's terminals */
  terminals: string;
  drivers: { letter: string; name: string }[];
  /** "A1" of driver A */
  coils: { name: string; driver: string; ohm: number }[];
  wires: { from: string; to: string; kind: JoinKind }[];
}

/** Undefined where nothing is joined: no wiring chosen, or no network that fits the drivers. */
export function sheetWiring(channel: Channel): SheetWiring | undefined {
  const coils = channelCoils(channel);
  const network = channelNetwork(channel);
  if (network === undefined) return undefined;
  const joins = channel.wiring?.joins ?? joinsOf(network);
  const { kinds } = readWiring(coils, joins);
  const letters = [...new Set(coils.map(({ driver }) => driver))];
  return {
    terminals: channel.terminals,
    drivers: letters.map((letter, i) => ({ letter, name: channel.drivers[i]?.name ?? '' })),
    coils: coils.map(({ name, driver, nominalOhm }) => ({ name, driver, ohm: nominalOhm })),
    wires: joins.map(([from, to], i) => ({ from, to, kind: kinds[i] ?? 'feed' })),
  };
}

const STROKE: Readonly<Record<JoinKind, { width: number; dash?: readonly number[] }>> = {
  feed: { width: 3 },
  series: { width: 2.2, dash: [8, 4] },
  parallel: { width: 2.2 },
};
const KIND_COLOR: Readonly<Record<JoinKind, string>> = { feed: PAPER.ink, series: '#8a4b08', parallel: PAPER.action };

/** Amplifier, coils and every wire with its number, terminal by terminal. */
export function wiringPicture(title: string, { terminals, drivers, coils, wires }: SheetWiring): Picture {
  const pairs = wires.some(({ from, to }) => [from, to].some((terminal) => terminal.startsWith('amp2'))) ? 2 : 1;
  const layout = wiringLayout(
    coils,
    wires.map(({ from, to }) => [from, to] as const),
    pairs,
  );
  const nameOf = (block: Block): string =>
    block.kind === 'amplifier'
      ? `Amplifier, ${terminals}`
      : `${block.driver} ${drivers.find(({ letter }) => letter === block.driver)?.name ?? ''}`;
  const shapes: Shape[] = [
    ...layout.wires.map(({ path }, i): Shape => {
      const { kind } = wires[i]!;
      return { kind: 'path', d: path, stroke: KIND_COLOR[kind], ...STROKE[kind] };
    }),
    ...layout.wires.flatMap(({ badge }, i): Shape[] => [
      { kind: 'box', x: badge.x - 9, y: badge.y - 9, width: 18, height: 18, radius: 9, fill: '#fff', stroke: KIND_COLOR[wires[i]!.kind] },
      { kind: 'words', x: badge.x, y: badge.y + 4, size: 11, words: `${i + 1}`, color: PAPER.ink, isStrong: true, anchor: 'middle' },
    ]),
    ...layout.blocks.flatMap((block): Shape[] => [
      { kind: 'box', x: block.x, y: block.y, width: block.width, height: block.height, radius: 6, fill: PAPER.raised, stroke: PAPER.line },
      {
        kind: 'words',
        x: block.x + 14,
        y: block.y + 23,
        size: 14,
        words: shortened(nameOf(block), lettersIn(block.width - 28, 14)),
        color: PAPER.ink,
        isStrong: true,
      },
      ...block.coils.flatMap(({ name, plusY, minusY }): Shape[] => {
        const ohm = coils.find((coil) => coil.name === name)?.ohm ?? 0;
        const edge = block.side === 'left' ? block.x + block.width : block.x;
        const coilX = edge + (block.side === 'left' ? -30 : 30);
        const step = (minusY - plusY) / 4;
        const loops = Array.from({ length: 4 }, () => `a${step / 2} ${step / 2} 0 0 ${coilX > edge ? 1 : 0} 0 ${step}`).join('');
        return [
          { kind: 'path', d: `M${edge} ${plusY}H${coilX}${loops}H${edge}`, stroke: PAPER.ink, width: 2 },
          {
            kind: 'words',
            x: block.side === 'left' ? block.x + 14 : block.x + 52,
            y: (plusY + minusY) / 2 + 4,
            size: 12,
            words: `coil ${name.slice(block.driver.length)} · ${formatQuantity(ohm, 'ohm')}`,
            color: PAPER.quiet,
          },
        ];
      }),
    ]),
    ...[...layout.terminals].flatMap(([terminal, { x, y }]): Shape[] => [
      { kind: 'box', x: x - 9, y: y - 9, width: 18, height: 18, radius: 9, fill: '#fff', stroke: PAPER.ink },
      {
        kind: 'path',
        d: terminal.endsWith('+') ? `M${x - 5} ${y}H${x + 5}M${x} ${y - 5}V${y + 5}` : `M${x - 5} ${y}H${x + 5}`,
        stroke: PAPER.ink,
        width: 2,
      },
    ]),
  ];
  const list = wires.map(({ from, to }, i) => `${i + 1}: ${from} to ${to}`).join(', ');
  return { width: layout.width, height: layout.height, words: `${title}, wired: ${list}`, shapes };
}
