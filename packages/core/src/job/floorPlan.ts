import type { Chain, Channel } from './chain.ts';
import type { PlanPlace } from './planPlace.ts';

export interface WholePlan {
  widthMetre: number;
  lengthMetre: number;
  head: PlanPlace;
  places: Record<string, PlanPlace>;
}

/** A hatchback, in metres. From memory. */
const USUAL = { widthMetre: 1.8, lengthMetre: 4.2 };
/** Where things usually are, as shares of width and length: doors, the rear seats, the boot, the driver's head. */
const SIDE = { left: 0.08, right: 0.92, middle: 0.5 } as const;
const ROW = { front: 0.42, rear: 0.66, boot: 0.9 } as const;
const HEAD = { x: 0.28, y: 0.52 };

const sideOf = ({ name }: Channel): keyof typeof SIDE => (/\bleft\b/i.test(name) ? 'left' : /\bright\b/i.test(name) ? 'right' : 'middle');
const rowOf = ({ name, band }: Channel): keyof typeof ROW =>
  band === 'bass' ? 'boot' : /\b(rear|back|reading|awning)\b/i.test(name) ? 'rear' : 'front';

/** The plan of a chain, with a place for everything that nobody placed. Several in one place stand a little apart. */
export function wholePlan({ channels, listening }: Pick<Chain, 'channels' | 'listening'>): WholePlan {
  const {
    widthMetre = USUAL.widthMetre,
    lengthMetre = USUAL.lengthMetre,
    isRightHandDrive = false,
    head,
    places = {},
  } = listening?.plan ?? {};
  const taken = new Map<string, number>();
  const usual = (channel: Channel): PlanPlace => {
    const [side, row] = [sideOf(channel), rowOf(channel)];
    const before = taken.get(`${side} ${row}`) ?? 0;
    taken.set(`${side} ${row}`, before + 1);
    return { x: SIDE[side] * widthMetre, y: ROW[row] * lengthMetre - 0.25 * before };
  };
  return {
    widthMetre,
    lengthMetre,
    head: head ?? { x: (isRightHandDrive ? 1 - HEAD.x : HEAD.x) * widthMetre, y: HEAD.y * lengthMetre },
    places: Object.fromEntries(channels.map((channel) => [channel.id, places[channel.id] ?? usual(channel)])),
  };
}
