import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../../../job/chain.ts';
import type { TuneSettings } from '../../../job/records.ts';
import { situation } from '../../testKit.fixture.ts';
import { meetingsNow, meetingSetting } from './subject.ts';
import { neighbourTries, type NeighbourTry } from './tries.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 20_000, trueRms: true } };
type Cut = { family: 'linkwitz-riley' | 'butterworth'; order: number; cornerHz?: number };
const channel = (id: string, kind: 'lowpass' | 'highpass', { family, order, cornerHz = 80 }: Cut): Channel => ({
  id,
  name: id,
  amplifierId: 'amp',
  mode: 'mono',
  terminals: id,
  band: kind === 'lowpass' ? 'bass' : 'full-range',
  loadOhm: 4,
  drivers: [{ id: `d-${id}`, name: id, coils: 1, coilOhm: 4, ratedPowerWatt: 300, role: kind === 'lowpass' ? 'subwoofer' : 'woofer' }],
  wiring: { network: 'A1' },
  filters: [{ id: `f-${id}`, place: 'processor', kind, family, order, cornerHz }],
});
/** What is promised where both stand at one place: the filters alone. */
function triesOf(low: Cut, high: Cut, isReversed = false): NeighbourTry[] {
  const bass = channel('bass', 'lowpass', low);
  const chain: Chain = {
    source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
    amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
    channels: [isReversed ? { ...bass, isReversed } : bass, channel('door', 'highpass', high)],
  };
  const now = situation(chain, SETTINGS);
  const step = meetingsNow(now)[0]!;
  return neighbourTries(step, now, { tones: [], setting: meetingSetting(step, now) });
}
const LR4: Cut = { family: 'linkwitz-riley', order: 4 };
const LR2: Cut = { family: 'linkwitz-riley', order: 2 };

describe('what to try where two ways meet', () => {
  it('is nothing where fourth-order Linkwitz-Riley filters meet in phase', () => {
    expect(triesOf(LR4, LR4)).toEqual([]);
  });

  it('begins with the polarity where second-order ones cancel, and comes in the order of what it costs', () => {
    const tries = triesOf(LR2, LR2);
    expect(tries[0]).toMatchObject({ what: 'polarity', setting: { isReversed: true } });
    // At the corner two second-order ways are half a turn apart: a null against a flat sum, by the textbook.
    expect(tries[0]!.gainDb).toBeGreaterThan(10);
    const order = ['polarity', 'delay', 'corner', 'slope'];
    expect(tries.map(({ what }) => order.indexOf(what))).toEqual([...tries.map(({ what }) => order.indexOf(what))].sort());
    expect(triesOf(LR2, LR2, true)).toEqual([]);
  });

  it('names a delay where the phases part by an odd slope, and the slopes that would meet', () => {
    const tries = triesOf(LR4, { family: 'butterworth', order: 2 });
    expect(tries.length).toBeGreaterThan(0);
    for (const { gainDb } of tries) expect(gainDb).toBeGreaterThanOrEqual(0.2);
    expect(tries.find(({ what }) => what === 'slope')?.words).toContain('24 dB an octave');
  });

  it('names a corner where a gap lies between the two', () => {
    const corner = triesOf({ ...LR4, cornerHz: 63 }, { ...LR4, cornerHz: 100 }).find(({ what }) => what === 'corner');
    expect(corner?.words).toMatch(/low-pass of .* at 79|high-pass of .* at 79/);
  });
});
