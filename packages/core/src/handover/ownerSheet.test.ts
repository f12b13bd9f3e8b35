import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../job/chain.ts';
import type { TuneSettings } from '../job/records.ts';
import { runOf } from '../run/run.ts';
import { situation } from '../run/testKit.fixture.ts';
import { ownerSheet } from './ownerSheet.ts';
import { sheetPage } from './sheetPage.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const chainOf = (name = 'Front left'): Chain => ({
  source: {
    name: 'Unit',
    volumeSteps: 40,
    workingVolume: 30,
    volumeBasis: 'assumed',
    cases: [
      { id: 'flat', name: 'Flat', used: true },
      { id: 'loud', name: 'Bass at +6', used: true, bassRaised: true },
      { id: 'never', name: 'Never used', used: false },
    ],
  },
  amplifiers: [{ id: 'amp', name: 'Four-channel', minimumStereoOhm: 2, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] }],
  channels: [
    {
      id: 'fl',
      name,
      amplifierId: 'amp',
      mode: 'stereo',
      terminals: 'A',
      band: 'full-range',
      loadOhm: 4,
      remoteAt: '3 of 5',
      drivers: [{ id: 'd', name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75 }],
    },
  ],
});
const sheetOf = (chain: Chain) => {
  const now = situation(chain, SETTINGS);
  return ownerSheet(now, runOf(now), { job: 'Van', vehicle: 'Camper trailer', madeAt: '2026-03-01T10:00:00Z' });
};

describe('the owner’s sheet of a tune that is not finished', () => {
  const sheet = sheetOf(chainOf());
  it('gives no volume for a setting that nobody measured, and marks an assumed one', () => {
    expect(sheet.volumes).toEqual([
      { name: 'Flat', step: 30, of: 40, isAssumed: true },
      { name: 'Bass at +6', of: 40, isAssumed: false },
    ]);
  });
  it('calls nothing clean or set that is not', () => {
    expect(sheet.isWhole).toBe(false);
    expect(sheet.channels).toMatchObject([{ set: '–', delivered: '–', clean: 'not proved', polarity: 'not looked at', delay: '–' }]);
    expect(sheet.open.length).toBeGreaterThan(0);
  });
  it('names what is to be left alone, and the knob that is not', () => {
    expect(sheet.leaveAlone.map(({ what }) => what)).toEqual([
      'The gain of Four-channel',
      'Bass, loudness and equaliser of the source',
      'The remote knob of Front left',
    ]);
  });
  it('is a page that stands alone: nothing is fetched, no name is markup', () => {
    const page = sheetPage(sheetOf(chainOf('<img src=x onerror=alert(1)> & "co"')));
    expect(page).not.toMatch(/<script|<img|https?:|@import|url\(/);
    expect(page).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;co&quot;');
    expect(page).toContain('This tune is not finished');
    expect(page).toContain('not measured: leave it off');
  });
});
