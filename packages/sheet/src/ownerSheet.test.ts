import { type Chain, DEFAULT_RULES, type LoadReading, runOf, type SourceControl, type TuneSettings } from '@yield/core';
import { loadConditionsIn, situation } from '../../core/src/run/testKit.fixture.ts';
import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { ownerSheet } from './ownerSheet.ts';
import { scanCode, scanText } from './scanCode.ts';
import { sheetChanges } from './sheetChanges.ts';
import { sheetPage } from './sheetPage.ts';
import { pictureSvg } from './picture.ts';
import { systemPicture } from './systemPicture.ts';
import { wiringPicture } from './wiringPicture.ts';

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
  return ownerSheet(now, runOf(now), { job: 'Van', vehicle: 'Camper trailer', madeAt: '2026-03-01T10:00:00Z' }, say);
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
      'Bass, treble, loudness, bass boost and equaliser of the source',
      'The remote knob of Front left',
    ]);
  });
  it('says of a gain that nobody set that it is not set, and names no control that the source has not', () => {
    expect(sheet.leaveAlone[0]!.why).toContain('not set yet');
    const source = (controls: SourceControl[]) => sheetOf({ ...chainOf(), source: { ...chainOf().source, controls } });
    expect(source(['bass', 'fader']).leaveAlone.map(({ what }) => what)).toContain('Bass of the source');
    expect(source(['fader']).leaveAlone.some(({ what }) => what.endsWith('of the source'))).toBe(false);
  });
  it('names passive parts among the filters', () => {
    const chain = chainOf();
    const passive = [{ id: 'p', driverId: 'd', kind: 'highpass' as const, capacitanceFarad: 1e-5 }];
    expect(sheetOf({ ...chain, channels: [{ ...chain.channels[0]!, passive }] }).channels[0]!.filters).toMatch(
      /^High-pass of 10.*6 dB per octave/,
    );
  });
  it('is a page that stands alone: nothing is fetched, no name is markup', () => {
    const page = sheetPage(sheetOf(chainOf('<img src=x onerror=alert(1)> & "co"')));
    expect(page).not.toMatch(/<script|<img|https?:|@import|url\(/);
    expect(page).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;co&quot;');
    expect(page).toContain('This tune is not finished');
    expect(page).toContain('not measured: leave it off');
  });
  it('draws the signal’s way, with names that are no markup and words for whoever does not see it', () => {
    const drawing = pictureSvg(systemPicture(sheetOf(chainOf('<b>"left"</b>'))));
    expect(drawing).toContain('&lt;b&gt;&quot;left&quot;&lt;/b&gt;');
    expect(drawing).toMatch(/aria-label="Unit feeds .* on Four-channel, A"/);
  });
});

describe('what is no promise', () => {
  const of = (chain: Chain, settings: TuneSettings) => {
    const now = situation(chain, settings);
    return ownerSheet(now, runOf(now), { job: 'Van', vehicle: '', madeAt: '2026-03-01T10:00:00Z' }, say);
  };
  it('a tune without a channel is not finished, though nothing is wrong with it', () => {
    expect(of({ ...chainOf(), channels: [] }, SETTINGS)).toMatchObject({ isWhole: false, open: ['No channel is described yet.'] });
  });
  it('a tune for practice says so', () => {
    expect(sheetPage(of(chainOf(), { ...SETTINGS, isPractice: true }))).toContain('For practice');
    expect(sheetPage(of(chainOf(), SETTINGS))).not.toContain('For practice');
  });
});

describe('what a channel delivered before', () => {
  const chain = chainOf();
  const at = (value: number, minute: number): LoadReading => ({
    id: `r${minute}`,
    stepId: 'proof:fl',
    kind: 'loaded-voltage',
    value,
    resolution: 0.1,
    conditions: { ...loadConditionsIn({ id: 'proof:fl' }, chain, SETTINGS), toneLevelDbfs: -3, load: 'on' },
    takenAt: new Date(minute * 60_000).toISOString(),
  });
  const before = (readings: LoadReading[]): string => {
    const now = situation(chain, SETTINGS, { readings });
    return ownerSheet(now, runOf(now), { job: 'Van', vehicle: '', madeAt: '2026-03-01T10:00:00Z' }, say).channels[0]!.before.replace(
      /\s/gu,
      ' ',
    );
  };
  it('is told with a full-scale tone, and where it was measured twice', () => {
    expect(before([])).toBe('');
    expect(before([at(10, 1)])).toBe('');
    // 10 V with a tone at -3 dBFS are 14.1 V at full scale: 49.9 W into 4 ohm.
    expect(before([at(10, 1), at(12, 2)])).toBe('49.9 W');
  });
});

describe('what the sheet rests on', () => {
  const chain = chainOf();
  chain.channels[0]!.drivers[0]!.coils = 2;
  chain.channels[0]!.wiring = { network: 'A1+A2' };
  const reading: LoadReading = {
    id: 'r',
    stepId: 'proof:fl',
    kind: 'loaded-voltage',
    value: 10.04,
    resolution: 0.01,
    conditions: { ...loadConditionsIn({ id: 'proof:fl' }, chain, SETTINGS), load: 'on' },
    takenAt: '2026-03-01T09:00:00.000Z',
  };
  const spoilt: LoadReading = { ...reading, id: 'v', voidedReason: 'wrong coil' };
  const now = situation(chain, SETTINGS, { readings: [reading, spoilt] });
  const sheet = ownerSheet(now, runOf(now), { job: 'Van', vehicle: '', madeAt: '2026-03-01T10:00:00Z' }, say);
  it('is every reading that counts, with what held', () => {
    expect(sheet.readings).toHaveLength(1);
    const { step, value, conditions } = sheet.readings![0]!;
    expect([step, value].join(' ').replace(/\s/gu, ' ')).toBe('Proof: Front left 10.0 V');
    expect(conditions.replace(/\s/gu, ' ')).toMatch(/^1 kHz, 0.0 dBFS, volume 30, load 4 Ω$/u);
  });
  it('and every wire of a wiring, which is drawn', () => {
    const { wiring } = sheet.channels[0]!;
    expect(wiring!.wires.map(({ from, to, kind }) => `${from} ${to} ${kind}`)).toEqual([
      'amp+ A1+ feed',
      'A1- A2+ series',
      'A2- amp- feed',
    ]);
    const drawing = pictureSvg(wiringPicture('Front <left>', wiring!));
    expect(drawing).toContain('aria-label="Front &lt;left&gt;, wired: 1: amp+ to A1+');
    expect(drawing).toMatch(/^<svg xmlns/);
  });
  it('one more reading makes another sheet, and says so', () => {
    const more = { ...sheet, readings: [...sheet.readings!, { ...sheet.readings![0]!, at: '2026-03-02T09:00:00.000Z' }] };
    expect(sheetChanges(sheet, more)).toEqual([
      { what: 'Readings', before: '1, the last of 2026-03-01', after: '2, the last of 2026-03-02' },
    ]);
    // A sheet of before readings were kept is no other one for that.
    const { readings: _none, ...old } = sheet;
    expect(sheetChanges(old, more)).toEqual([]);
  });
});

describe('two sheets side by side', () => {
  const sheet = sheetOf(chainOf());
  it('are alike on another day, and otherwise where a figure is', () => {
    expect(sheetChanges(sheet, { ...sheet, madeAt: '2027-01-01T00:00:00Z' })).toEqual([]);
    const channels = [{ ...sheet.channels[0]!, set: '12.0 V' }];
    expect(sheetChanges(sheet, { ...sheet, channels, open: [] })).toEqual([
      { what: 'Front left, set to', before: '–', after: '12.0 V' },
      ...sheet.open.map((words) => ({ what: 'Still open', before: words, after: '' })),
    ]);
  });
  it('tell of what is new and what is gone', () => {
    const volumes = [{ name: 'Night', step: 12, of: 40, isAssumed: false }];
    expect(sheetChanges(sheet, { ...sheet, volumes }).map(({ what, before, after }) => [what, before, after])).toEqual([
      ['Never louder than, Flat', '30 of 40, assumed', ''],
      ['Never louder than, Bass at +6', 'not measured', ''],
      ['Never louder than, Night', '', '12 of 40'],
    ]);
  });
});

describe('the code to scan', () => {
  it('holds the volumes as plain text', () => {
    const text = scanText(sheetOf(chainOf()));
    expect(text).toBe('Van\nFlat: never above 30 of 40\nBass at +6: leave it off');
    const modules = scanCode(text);
    // The finder in the corner: seven dark modules, a light ring, a dark heart.
    expect(modules[0]!.slice(0, 8)).toEqual([true, true, true, true, true, true, true, false]);
    expect(modules[1]!.slice(0, 8)).toEqual([true, false, false, false, false, false, true, false]);
  });
});
