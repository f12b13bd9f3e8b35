import { times, type Complex } from '../numerics/complex.ts';
import { octavePoints } from '../response/curve.ts';
import { biquad, biquadAt, type EqualiserFilter } from '../response/equaliserResponse.ts';
import { fixed, formatQuantity, signedDb } from '../units/formatQuantity.ts';
import type { Channel } from './chain.ts';

/** Most processors work at it; below 10 kHz another rate makes no difference that is heard. */
const RATE_HZ = 48_000;
const UNITY: Complex = { re: 1, im: 0 };

/** What a channel's equaliser does to one frequency. */
export function equaliserAt({ equaliser = [] }: Pick<Channel, 'equaliser'>, hertz: number): Complex {
  // Above half the rate nothing is played, and nothing is said.
  if (equaliser.length === 0 || hertz >= RATE_HZ / 2) return UNITY;
  return equaliser.reduce((value, band) => times(value, biquadAt(biquad(band, RATE_HZ), hertz, RATE_HZ)), UNITY);
}

export const equaliserDb = (channel: Pick<Channel, 'equaliser'>, hertz: number): number => {
  const { re, im } = equaliserAt(channel, hertz);
  return 10 * Math.log10(re * re + im * im);
};

const GRID = octavePoints(20, 20_000, 24);
const kept = new WeakMap<readonly EqualiserFilter[], number>();

/** The most that a channel's equaliser lifts anything by, in dB; 0 where it only cuts. */
export function equaliserBoostDb({ equaliser = [] }: Pick<Channel, 'equaliser'>): number {
  if (equaliser.every(({ gainDb }) => gainDb <= 0)) return 0;
  const found =
    kept.get(equaliser) ??
    Math.max(0, ...[...GRID, ...equaliser.map(({ frequencyHz }) => frequencyHz)].map((hertz) => equaliserDb({ equaliser }, hertz)));
  kept.set(equaliser, found);
  return found;
}

/** "63 Hz −4.2 dB Q 2.1". */
export const bandWords = ({ kind, frequencyHz, gainDb, q }: EqualiserFilter): string =>
  `${kind === 'peak' ? '' : kind === 'low-shelf' ? 'low shelf ' : 'high shelf '}${formatQuantity(frequencyHz, 'Hz')} ${signedDb(gainDb)}, Q ${fixed(q, 2)}`;

/** A channel's filters and equaliser as they are set, canonical: what was measured through others is not of these. */
export const settingKey = ({ filters = [], equaliser = [] }: Pick<Channel, 'filters' | 'equaliser'>): string =>
  [
    ...filters.map(({ kind, family, order, cornerHz }) => `${kind} ${family} ${order} ${cornerHz}`),
    ...equaliser.map(({ kind, frequencyHz, gainDb, q }) => `${kind} ${frequencyHz} ${gainDb} ${q}`),
  ].join(', ');
