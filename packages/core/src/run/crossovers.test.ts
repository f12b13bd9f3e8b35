import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { filterAt, filterDelay } from '../crossovers/crossoverResponse.ts';
import type { Filter } from '../crossovers/filters.ts';
import type { Finding } from '../findings.ts';
import { DEFAULT_RULES, type ActiveFilter, type Chain, type Channel, type Driver, type DriverRole } from '../job/chain.ts';
import { chainFaults } from '../job/chainFaults.ts';
import type { LineTrace, LoadReading, RunRecords, StepMark, TuneSettings } from '../job/records.ts';
import { normalizeChannel } from '../job/normalizeChannel.ts';
import { magnitude } from '../numerics/complex.ts';
import { seededRandom } from '../numerics/random.ts';
import { crossoverFindings } from '../ways/crossoverFindings.ts';
import { planCrossovers } from '../ways/crossoverPlan.ts';
import { filterChecks, filtersBasis } from '../ways/filterChecks.ts';
import { reachAt } from '../ways/reach.ts';
import { crossingOf, groupName, alikeGroups, groupAt, groupDb, groupDelay, driverGroupsOf } from '../ways/driverGroups.ts';
import { provedNow } from './frame/channels.ts';
import { areFiltersConfirmed, toneStart } from './frame/gate.ts';
import type { Judgement } from './frame/judgement.ts';
import { acceptedBasis, provedSettingNow } from './kinds/crossover/judge.ts';
import type { FiguresOf, StepOf } from './kinds/index.ts';
import { lineConditionsIn, loadConditionsIn, runStepIn, allTicked, situation, stateIn, stepOfKind } from './testKit.fixture.ts';

// A made-up front stage of three ways with a subwoofer: every way of both sides on a channel of its own.
const RANGES: Record<Exclude<DriverRole, 'full-range'>, Partial<Driver>> = {
  tweeter: {
    usableFromHz: 2000,
    usableToHz: 20_000,
    recommended: [
      { order: 2, fromHz: 3500 },
      { order: 4, fromHz: 2500 },
    ],
  },
  midrange: { usableFromHz: 250, usableToHz: 6000 },
  woofer: { usableFromHz: 60, usableToHz: 1500 },
  subwoofer: { usableFromHz: 25, usableToHz: 150, tuningHz: 32 },
};
const driver = (role: Exclude<DriverRole, 'full-range'>, changes: Partial<Driver> = {}): Driver => ({
  id: `d-${role}`,
  name: `the ${role}`,
  coils: 1,
  coilOhm: 4,
  ratedPowerWatt: 100,
  role,
  ...RANGES[role],
  ...changes,
});
function channel(role: Exclude<DriverRole, 'full-range'>, side: string, changes: Partial<Channel> = {}): Channel {
  return {
    id: side === '' ? role : `${role}-${side}`,
    name: `${role.charAt(0).toUpperCase()}${role.slice(1)}${side === '' ? '' : ` ${side}`}`,
    amplifierId: 'amp',
    mode: 'stereo',
    terminals: 'x',
    band: role === 'subwoofer' ? 'bass' : 'full-range',
    loadOhm: 4,
    drivers: [driver(role)],
    processorOutputId: 'out',
    ...changes,
  };
}
const THREE_WAY: Chain = {
  source: { name: 'Source', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  processor: {
    name: 'Processor',
    inputs: [{ id: 'in', name: 'In', output: 'preamp-front' }],
    outputs: [{ id: 'out', name: 'Out' }],
    outputVolt: 4,
    hasClipLight: false,
  },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], minimumStereoOhm: 2 }],
  channels: [
    ...(['tweeter', 'midrange', 'woofer'] as const).flatMap((role) => ['left', 'right'].map((side) => channel(role, side))),
    channel('subwoofer', ''),
  ],
};
const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const DIAL = {
  id: 'dial',
  name: 'Low-pass dial',
  kind: 'lowpass' as const,
  family: 'butterworth' as const,
  order: 2,
  stops: 'clicks' as const,
  table: [40, 50, 63, 80, 100, 125].map((cornerHz, i) => ({ label: String(i + 1), cornerHz })),
  multipliers: [1, 10],
};
const withChannels = (chain: Chain, change: (channel: Channel) => Partial<Channel>): Chain => ({
  ...chain,
  channels: chain.channels.map((each) => ({ ...each, ...change(each) })),
});
const filter = (kind: Filter['kind'], cornerHz: number, changes: Partial<ActiveFilter> = {}): ActiveFilter => ({
  id: `${kind}-${cornerHz}`,
  place: 'processor',
  kind,
  family: 'linkwitz-riley',
  order: 4,
  cornerHz,
  ...changes,
});
const said = (findings: readonly Finding[]): string =>
  findings
    .map(say)
    .map(({ text, next }) => `${text} ${next ?? ''}`)
    .join(' | ')
    .replaceAll('\u00a0', ' ');
const only = (role: string, filters: ActiveFilter[], changes: Partial<Channel> = {}): Chain => ({
  ...THREE_WAY,
  channels: THREE_WAY.channels
    .filter(({ drivers }) => drivers[0]?.role === role)
    .slice(0, 1)
    .map((each) => ({ ...each, filters, ...changes })),
});

describe('a plan', () => {
  const { chain, reasons, findings } = planCrossovers(THREE_WAY);
  const filtersOfRole = (role: string): ActiveFilter[] => chain.channels.find(({ drivers }) => drivers[0]?.role === role)?.filters ?? [];

  it('gives every way its filters, alike on both sides, and leaves nothing to complain of', () => {
    expect(findings.filter(({ grade }) => grade !== 'note')).toEqual([]);
    expect(chainFaults(chain)).toEqual([]);
    expect(alikeGroups(driverGroupsOf(chain)).map(groupName)).toEqual([
      'Tweeter left and right',
      'Midrange left and right',
      'Woofer left and right',
      'Subwoofer',
    ]);
    expect(filtersOfRole('tweeter').map(({ kind }) => kind)).toEqual(['highpass']);
    expect(
      filtersOfRole('midrange')
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['highpass', 'lowpass']);
    // 24 dB per octave lets the tweeter down to 2.5 kHz; the usual place above that is kept.
    expect(filtersOfRole('tweeter')[0]).toMatchObject({ cornerHz: 3500, order: 4, family: 'linkwitz-riley', place: 'processor' });
    // From 250 Hz at full power wants 375 Hz or more.
    expect(filtersOfRole('midrange').find(({ kind }) => kind === 'highpass')?.cornerHz).toBeGreaterThanOrEqual(375);
    // Tuned to 32 Hz: a subsonic filter at four fifths of that.
    expect(filtersOfRole('subwoofer').find(({ kind }) => kind === 'highpass')).toMatchObject({ cornerHz: 26, family: 'butterworth' });
    expect(
      reasons
        .map(({ text }) => text)
        .join(' ')
        .replaceAll('\u00a0', ' '),
    ).toContain('Midrange and tweeter meet at 3.50 kHz');
    expect(reasons.every(({ why }) => why.length > 10)).toBe(true);
  });

  // Every pair sums flat alone; over several crossings and a subsonic filter the phase turns on, which costs up to two decibels.
  it('has no hole in its sum', () => {
    const like = alikeGroups(driverGroupsOf(chain));
    for (const hertz of [60, 90, 200, 450, 1000, 3500, 8000]) {
      const sum = like.map((group) => groupAt(group, hertz)).reduce((a, b) => ({ re: a.re + b.re, im: a.im + b.im }));
      expect(Math.abs(20 * Math.log10(magnitude(sum)))).toBeLessThan(2.5);
    }
  });

  it('keeps to a maker’s word for a gentler slope', () => {
    const gentle = planCrossovers(THREE_WAY, { family: 'linkwitz-riley', order: 2 });
    const [tweeter, midrange] = ['tweeter', 'midrange'].map((role) =>
      gentle.chain.channels.find(({ drivers }) => drivers[0]?.role === role)!,
    );
    expect(tweeter!.filters![0]).toMatchObject({ order: 2, cornerHz: 3500 });
    // Order 2: neighbours are half a turn apart, so every second way is turned round.
    expect(tweeter!.isReversed === true).not.toBe(midrange!.isReversed === true);
    expect(gentle.findings.filter(({ grade }) => grade === 'attention' || grade === 'stop')).toEqual([]);
  });

  it('takes an amplifier’s dial as it is: its slope, its nearest click', () => {
    const withDial: Chain = {
      ...withChannels(THREE_WAY, ({ drivers }) =>
        drivers[0]?.role === 'subwoofer' ? { processorOutputId: undefined as unknown as string } : {},
      ),
      amplifiers: [{ ...THREE_WAY.amplifiers[0]!, dials: [DIAL] }],
    };
    const planned = planCrossovers(withDial).chain.channels.find(({ id }) => id === 'subwoofer')!.filters!;
    const lowpass = planned.find(({ kind }) => kind === 'lowpass')!;
    expect(lowpass).toMatchObject({ place: 'amplifier', order: 2, family: 'butterworth', dial: { id: 'dial', multiplier: 1 } });
    expect(DIAL.table.map(({ cornerHz }) => cornerHz)).toContain(lowpass.cornerHz);
  });

  it('makes passive parts for drivers that share a channel', () => {
    const two: Chain = {
      ...THREE_WAY,
      channels: [channel('woofer', 'left', { drivers: [driver('woofer', { usableToHz: 5000 }), driver('tweeter')], loadOhm: 2 })],
    };
    const { chain: passive, findings: words } = planCrossovers(two);
    expect(passive.channels[0]!.passive).toMatchObject([
      { driverId: 'd-woofer', kind: 'lowpass' },
      { driverId: 'd-tweeter', kind: 'highpass' },
    ]);
    // The tweeter goes plus to minus, so that the two do not cancel where they meet.
    expect(passive.channels[0]!.passive![1]).toMatchObject({ isReversed: true });
    expect(words.filter(({ grade }) => grade === 'stop')).toEqual([]);
    expect(said(words)).not.toContain('work against each other');
  });

  it('keeps the upper one safe and says so where two do not overlap', () => {
    const apart = withChannels(THREE_WAY, ({ drivers }) =>
      drivers[0]?.role === 'midrange' ? { drivers: [driver('midrange', { usableToHz: 1800 })] } : {},
    );
    const { reasons: why, findings: words } = planCrossovers(apart);
    expect(why.map(({ why: text }) => text).join(' ')).toContain('do not overlap');
    expect(said(words)).toContain('too high for the midrange');
  });

  it('begins at the usual places where no range is known, and plans nothing for drivers without a role', () => {
    const unknown = withChannels(THREE_WAY, ({ drivers }) => ({
      drivers: drivers.map(({ id, name, role }) => ({ id, name, coils: 1, coilOhm: 4, ratedPowerWatt: 50, role: role! })),
    }));
    expect(planCrossovers(unknown).reasons.every(({ why }) => why.includes('enter the drivers’ ranges'))).toBe(true);
    const silent = withChannels(THREE_WAY, ({ drivers }) => ({
      band: 'full-range',
      drivers: drivers.map(({ role: _role, ...rest }) => rest),
    }));
    expect(planCrossovers(silent).reasons).toEqual([]);
  });
});

describe('what is said of crossovers', () => {
  it.each<[string, Chain, Finding['grade'], string]>([
    ['a tweeter with nothing', only('tweeter', []), 'stop', 'no protection from bass'],
    ['a tweeter with a bass high-pass', only('tweeter', [filter('highpass', 80)]), 'stop', 'no protection from bass'],
    ['a setting alone before a tweeter', only('tweeter', [filter('highpass', 3500)]), 'note', 'only a filter setting protects'],
    [
      'a capacitor whose place is empty',
      only('tweeter', [], { passive: [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass' }] }),
      'attention',
      'has no series part',
    ],
    ['a corner below the range', only('midrange', [filter('highpass', 200)]), 'attention', 'too low for the midrange'],
    [
      'a corner above the range',
      only('woofer', [filter('highpass', 100), filter('lowpass', 4000)]),
      'attention',
      'too high for the woofer',
    ],
    [
      'a high-pass above the low-pass',
      only('midrange', [filter('highpass', 5000), filter('lowpass', 400)]),
      'attention',
      'is above the low-pass',
    ],
    [
      'a filter twice in a row',
      only('woofer', [filter('highpass', 90), filter('highpass', 100, { place: 'amplifier', order: 2, family: 'butterworth' })]),
      'attention',
      'slopes add to 36 dB per octave',
    ],
    ['no subsonic filter', only('subwoofer', [filter('lowpass', 80)]), 'attention', 'no subsonic filter'],
    ['no high-pass at all', only('woofer', [filter('lowpass', 300)]), 'attention', 'no filter keeps frequencies below 60 Hz'],
  ])('%s', (_, chain, grade, words) => {
    const found = crossoverFindings(chain).filter((each) => each.grade === grade);
    expect(said(found)).toContain(words);
    expect(found.every(({ channelIds }) => channelIds.every((id) => chain.channels.some((each) => each.id === id)))).toBe(true);
  });

  it('a capacitor is protection enough, and losing it is a stop again', () => {
    const passive = [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass' as const, capacitanceFarad: 10e-6 }];
    const has = only('tweeter', [], { passive });
    expect(crossoverFindings(has).some(({ grade }) => grade === 'stop')).toBe(false);
    const lost = only('tweeter', [], { passive: [{ ...passive[0]!, capacitanceFarad: undefined as unknown as number }] });
    expect(crossoverFindings(lost).some(({ grade }) => grade === 'stop')).toBe(true);
  });

  const pair = (low: number, high: number, changes: Partial<ActiveFilter> = {}): Chain =>
    withChannels(
      { ...THREE_WAY, channels: THREE_WAY.channels.filter(({ id }) => id === 'subwoofer' || id === 'woofer-left') },
      ({ id }) => ({
        filters: id === 'subwoofer' ? [filter('lowpass', low, changes), filter('highpass', 25)] : [filter('highpass', high, changes)],
      }),
    );
  it.each<[string, Chain, string]>([
    ['a gap', pair(60, 200), 'there is a gap'],
    ['an overlap', pair(145, 90, { order: 8 }), 'overlap'],
    ['no filter between them', withChannels(pair(80, 80), () => ({ filters: [] })), 'no filter separates them'],
    [
      'half a turn between them',
      withChannels(pair(90, 90, { order: 2 }), ({ filters = [] }) => ({ filters: filters.filter(({ cornerHz }) => cornerHz === 90) })),
      'work against each other: 180° apart',
    ],
  ])('%s', (_, chain, words) => expect(said(crossoverFindings(chain))).toContain(words));

  it('meets at the corner, six decibels down and in phase, for Linkwitz-Riley', () => {
    const [upper, lower] = alikeGroups(
      driverGroupsOf(withChannels(pair(90, 90), ({ filters = [] }) => ({ filters: filters.filter(({ cornerHz }) => cornerHz === 90) }))),
    );
    const crossing = crossingOf(lower!, upper!)!;
    expect(crossing.hertz).toBeCloseTo(90, 3);
    expect(crossing.levelDb).toBeCloseTo(-6.02, 2);
    expect(Math.abs(crossing.phaseDeg)).toBeLessThan(0.01);
    expect(crossing.sumDb).toBeCloseTo(0, 3);
    expect(crossingOf(upper!, lower!)).toBeUndefined();
  });

  it('counts the delay of passive parts like that of the same filter', () => {
    const parts = only('tweeter', [], {
      passive: [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass', capacitanceFarad: 1 / (2 * Math.PI * 3000 * 4) }],
    });
    const active: Filter = { kind: 'highpass', family: 'butterworth', order: 1, cornerHz: 3000 };
    expect(groupDelay(driverGroupsOf(parts)[0]!, 4000)).toBeCloseTo(filterDelay(active, 4000), 9);
    expect(groupDb(driverGroupsOf(parts)[0]!, 4000)).toBeCloseTo(filterAt(active, 4000).db, 6);
  });
});

describe('faults of filters in a chain', () => {
  it.each<[string, Chain, string, string]>([
    ['an order that the family lacks', only('woofer', [filter('highpass', 80, { order: 3 })]), '/channels/0/filters/0/order', 'has order'],
    [
      'a processor that is not there',
      {
        ...only('woofer', [filter('highpass', 80)], { processorOutputId: undefined as unknown as string }),
        processor: undefined as unknown as NonNullable<Chain['processor']>,
      },
      '/channels/0/filters/0/place',
      'no processor',
    ],
    [
      'a dial that is gone',
      only('woofer', [filter('highpass', 80, { dial: { id: 'gone', click: 0, multiplier: 1 } })]),
      '/channels/0/filters/0/dial',
      'no such dial',
    ],
    [
      'one id twice',
      only('woofer', [filter('highpass', 80), filter('lowpass', 80, { id: 'highpass-80' })]),
      '/channels/0/filters/1/id',
      'share one id',
    ],
    [
      'parts of nobody',
      only('tweeter', [], { passive: [{ id: 'p', driverId: 'x', kind: 'highpass' }] }),
      '/channels/0/passive/0/driverId',
      'not there',
    ],
    [
      'a label without the parts that stand in for it',
      only('tweeter', [], { passive: [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass', printed: { cornerHz: 3500, order: 2 } }] }),
      '/channels/0/passive/0/capacitanceFarad',
      'printed corner',
    ],
    [
      'an unknown capacitor without what is taken for it',
      only('tweeter', [], { passive: [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass', isUnknown: true }] }),
      '/channels/0/passive/0/capacitanceFarad',
      'unknown capacitor',
    ],
    [
      'a range upside down',
      only('woofer', [], { drivers: [driver('woofer', { usableToHz: 20 })] }),
      '/channels/0/drivers/0/usableToHz',
      'end above',
    ],
  ])('%s', (_, chain, pointer, message) => {
    expect(chainFaults(chain)).toContainEqual({ pointer, message: expect.stringContaining(message) as string });
  });
});

// One subwoofer channel whose low-pass is a dial of the amplifier: the step that is proved by voltages.
const SET = filter('lowpass', 80, {
  id: 'lp',
  place: 'amplifier',
  family: 'butterworth',
  order: 2,
  dial: { id: 'dial', click: 3, multiplier: 1 },
});
const SUB: Chain = {
  ...only('subwoofer', [filter('highpass', 25, { family: 'butterworth' }), SET]),
  amplifiers: [{ ...THREE_WAY.amplifiers[0]!, dials: [DIAL] }],
};
const confirmed = (chain: Chain): StepMark[] =>
  chain.channels.map((each) => ({
    stepId: `filters:${each.id}`,
    checks: filterChecks(each, chain).map(({ id }) => id),
    basis: filtersBasis(each).key,
    basisWords: filtersBasis(each).words,
  }));

let clock = 0;
/** What a meter reads of filters that really stand like this. */
function voltages(
  chain: Chain,
  really: readonly Filter[],
  hertz: readonly number[],
  changes: { series?: number; noise?: number; volt?: number } = {},
): LoadReading[] {
  const step = stepOfKind('crossover', chain, DEFAULT_RULES);
  const random = seededRandom('voltages');
  return hertz.map((toneHz) => {
    clock += 1;
    const db = really.reduce((sum, each) => sum + filterAt(each, toneHz).db, 0);
    return {
      id: `v${clock}`,
      stepId: step.id,
      kind: 'filter-voltage',
      value: (changes.volt ?? 8) * 10 ** (db / 20) * (1 + (changes.noise ?? 0) * random.normal()),
      resolution: 0.001,
      conditions: {
        ...loadConditionsIn(step, chain, SETTINGS),
        toneHz,
        filter: provedSettingNow(step.filter, changes.series ?? 1),
      },
      takenAt: new Date(clock * 60_000).toISOString(),
    };
  });
}
function proofOf(readings: LoadReading[], chain = SUB, records: Partial<RunRecords> = {}): Judgement<FiguresOf<'crossover'>> {
  return stateIn(stepOfKind('crossover', chain, DEFAULT_RULES), chain, SETTINGS, {
    marks: allTicked(chain, SETTINGS),
    readings,
    ...records,
  });
}
const SUBSONIC: Filter = { kind: 'highpass', family: 'butterworth', order: 4, cornerHz: 25 };
const really = (cornerHz: number, changes: Partial<Filter> = {}): Filter[] => [
  SUBSONIC,
  { kind: 'lowpass', family: 'butterworth', order: 2, cornerHz, ...changes },
];
const SIX = [35, 50, 70, 80, 110, 160];

describe('setting a channel’s filters', () => {
  const state = (chain: Chain, marks: StepMark[] = []): Judgement =>
    stateIn(stepOfKind('filters', chain, DEFAULT_RULES), chain, SETTINGS, { marks });
  it('asks for every filter, with the click of its dial, and is done once all are ticked', () => {
    expect(filterChecks(SUB.channels[0]!, SUB).map(({ words, how }) => `${words} ${how ?? ''}`.replaceAll('\u00a0', ' '))).toEqual([
      'Processor: High-pass 25 Hz, 24 dB per octave, Butterworth ',
      'Amplifier: Low-pass 80 Hz, 12 dB per octave, Butterworth Low-pass dial: click 4, switch at ×1',
    ]);
    expect(state(SUB).status).toBe('open');
    expect(state(SUB, confirmed(SUB)).status).toBe('done');
    const half = confirmed(SUB).map((mark) => ({ ...mark, checks: mark.checks.slice(1) }));
    expect(areFiltersConfirmed(SUB.channels[0]!, situation(SUB, SETTINGS, { marks: half }))).toBe(false);
    expect(state(SUB, half).status).toBe('open');
  });
  it('wants a word even where there is no filter', () => {
    const none = only('woofer', [], { drivers: [] });
    expect(filterChecks(none.channels[0]!, none)).toMatchObject([{ id: 'none' }]);
  });
  it('is stale after any change, with both settings named', () => {
    const changed = withChannels(SUB, () => ({ filters: [SET] }));
    const { status, findings } = state(changed, confirmed(SUB));
    expect(status).toBe('stale');
    expect(said(findings)).toContain('Now: Amplifier: Low-pass 80 Hz');
  });
  it.each(['filters', 'gain', 'proof'] as const)('a bare tweeter stops its %s step', (kind) => {
    const bare = only('tweeter', []);
    const { status, findings } = stateIn(stepOfKind(kind, bare, DEFAULT_RULES), bare, SETTINGS, { marks: confirmed(bare) });
    expect(status).toBe('stop');
    expect(said(findings)).toContain('no protection from bass');
  });
});

describe('proving a filter by voltages', () => {
  it('proposes seven frequencies around the corner, the next unread one first', () => {
    const { figures: crossover } = proofOf([]);
    expect(crossover.proposedHz).toHaveLength(7);
    expect(crossover.nextHz).toBe(crossover.proposedHz[0]);
    expect(Math.min(...crossover.proposedHz)).toBeGreaterThan(25);
    expect(crossover.proposedHz.some((hertz) => hertz > 130)).toBe(true);
    const one = proofOf(voltages(SUB, really(80), [crossover.proposedHz[0]!]));
    expect(one.figures.nextHz).toBe(crossover.proposedHz[1]);
    expect(said(one.findings)).toContain('4 more voltages are needed');
  });
  it('is done when the corner is where it was set, the subsonic filter taken off', () => {
    const { status, findings, figures: crossover } = proofOf(voltages(SUB, really(80), SIX));
    expect(status).toBe('done');
    expect(said(findings)).toContain('Set to 80 Hz, really 80.0 Hz, 12 dB per octave');
    expect(crossover.suspects).toEqual([]);
  });
  it('says what it really is, and which click would be right', () => {
    const { status, findings } = proofOf(voltages(SUB, really(94), SIX));
    expect(status).toBe('out-of-tolerance');
    expect(said(findings)).toContain(
      'Set to 80 Hz, really 94.0 Hz, 12 dB per octave. Try Low-pass dial'.replace('Low-pass dial', 'click 3, switch at ×1'),
    );
  });
  it('takes it as it is once the tuner says so, for that figure alone', () => {
    const readings = voltages(SUB, really(94), SIX);
    const mark = {
      stepId: 'crossover:lp',
      checks: ['gain-low', 'drivers-off', 'accepted'],
      basis: acceptedBasis(provedNow(situation(SUB, SETTINGS, { readings })).get('lp')!).key,
    };
    expect(proofOf(readings, SUB, { marks: [...confirmed(SUB), mark] }).status).toBe('done');
    expect(proofOf(readings, SUB, { marks: [...confirmed(SUB), { ...mark, basis: 'another' }] }).status).toBe('out-of-tolerance');
  });
  it.each<[string, Filter[], string]>([
    ['the multiplier switch, by voltages that do not fall', really(800), 'multiplier switch is at ×10, not ×1'],
    ['a filter that is off', [SUBSONIC], 'filter is switched off'],
    ['high-pass for low-pass', [SUBSONIC, { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 }], 'switch is at high-pass'],
    ['another slope', really(80, { order: 4 }), 'slope is at 24 dB per octave, not 12'],
  ])('finds %s', (_, standing, words) => {
    const { status, findings } = proofOf(voltages(SUB, standing, SIX));
    expect(status).toBe('out-of-tolerance');
    expect(said(findings)).toContain(words);
  });
  it('counts only what was read since the dial was touched', () => {
    const wrong = voltages(SUB, really(800), SIX);
    const right = voltages(SUB, really(81), SIX, { series: 2 });
    expect(proofOf([...wrong, ...right.slice(0, 3)])).toMatchObject({ status: 'open', figures: { proof: { series: 2 } } });
    expect(proofOf([...wrong, ...right]).status).toBe('done');
  });
  it('is stale when another corner is set afterwards', () => {
    const readings = voltages(SUB, really(80), SIX);
    const other = withChannels(SUB, ({ filters = [] }) => ({
      filters: filters.map((each) => (each.id === 'lp' ? { ...each, cornerHz: 100 } : each)),
    }));
    const { status, findings } = proofOf(readings, other);
    expect(status).toBe('stale');
    expect(said(findings)).toContain('read with Low-pass 80 Hz');
  });
  it('leaves out, with a word, what the meter cannot read and what does not belong', () => {
    const readings = voltages(SUB, really(80), [...SIX, 1500, 15]);
    const zero = { ...voltages(SUB, really(80), [300])[0]!, value: 0 };
    const { findings, status } = proofOf([...readings, zero]);
    expect(status).toBe('done');
    expect(said(findings)).toContain('Left out: 1.50 kHz. The meter is not accurate there: its manual says up to 1 kHz.');
    expect(said(findings)).toContain('Left out: 15 Hz. Another filter');
    expect(said(findings)).toContain('Left out: 300 Hz. Nothing was read');
  });
  it('says that equal readings are no filter', () => {
    const flat = voltages(SUB, [], SIX);
    const { status, findings } = proofOf(
      flat,
      withChannels(SUB, () => ({ filters: [SET] })),
    );
    expect(status).toBe('out-of-tolerance');
    expect(said(findings)).toContain('same at every frequency');
  });
  it('asks for a voltage where two filters that fit alike differ most', () => {
    const near = voltages(SUB, really(80, { family: 'bessel', order: 3 }), [40, 50, 60, 70, 80], { noise: 0.01 });
    const { figures: crossover, findings, status } = proofOf(near);
    expect(crossover.proof.fit?.verdict).toBe('ambiguous');
    expect(crossover.tellingHz).toBeDefined();
    expect(near.map(({ conditions }) => conditions.toneHz)).not.toContain(crossover.tellingHz);
    expect(status === 'done' || said(findings).includes('Ambiguous')).toBe(true);
  });
  it('cannot see a tweeter’s filter with a meter that ends at 1 kHz', () => {
    const tweeter = only('tweeter', [filter('highpass', 3500, { id: 'hp', isProved: true })]);
    expect(said(proofOf([], tweeter).findings)).toContain('cannot read this filter’s passband');
  });
  it('reads a sweep instead, without the meter’s limits', () => {
    const tweeter = only('tweeter', [filter('highpass', 3500, { id: 'hp', isProved: true })]);
    const step = stepOfKind('crossover', tweeter, DEFAULT_RULES);
    const input = stepOfKind('input', THREE_WAY, DEFAULT_RULES);
    const points = Array.from({ length: 121 }, (_, i) => 20 * 2 ** (i / 12)).map((hertz) => ({
      hertz,
      db: filterAt({ kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 3500 }, hertz).db - 11,
    }));
    const sweep = (response: unknown): LineTrace =>
      ({
        id: 's',
        stepId: step.id,
        fileName: 'sweep.wav',
        channelIndex: 0,
        analysis: { channels: [{ response }] },
        conditions: {
          ...lineConditionsIn(input, THREE_WAY, SETTINGS),
          sweep: { fromHertz: 20, toHertz: 20_000, seconds: 10, labels: ['x'] },
          filter: provedSettingNow(step.filter, 1),
        },
        takenAt: new Date(1e9).toISOString(),
      }) as unknown as LineTrace;
    const good = proofOf([], tweeter, { traces: [sweep({ kind: 'response', points })] });
    expect(good.status).toBe('done');
    expect(said(good.findings)).toContain('really 3.50 kHz, 24 dB per octave');
    const failed = proofOf([], tweeter, { traces: [sweep({ kind: 'no-sweep', reason: 'No sweep in it.' })] });
    expect(failed).toMatchObject({ status: 'open', findings: [{ code: 'no-sweep', figures: { reason: 'No sweep in it.' } }] });
  });
});

describe('the target behind filters', () => {
  const gainOf = (chain: Chain, readings: LoadReading[] = []): StepOf<'gain'> =>
    runStepIn(`gain:${chain.channels[0]!.id}`, situation(chain, SETTINGS, { readings })).step as StepOf<'gain'>;
  it('comes down by what they take off the tone, first as set, then as measured', () => {
    // Against the frequency where they let most through: beside each other they nowhere let everything.
    const at = (cornerHz: number, hertz: number): number => really(cornerHz).reduce((sum, each) => sum + filterAt(each, hertz).db, 0);
    const THIRDS_HZ = [25, 31.5, 40, 50, 63];
    const loss = (cornerHz: number): number => at(cornerHz, 40) - Math.max(...THIRDS_HZ.map((hertz) => at(cornerHz, hertz)));
    const set = gainOf(SUB);
    expect(set.loss).toMatchObject({ basis: 'set', isNear: false });
    expect(set.target!.settingVoltage).toBeCloseTo(20 * 10 ** (loss(80) / 20), 6);
    expect(set.target!.fullScaleVoltage).toBeCloseTo(20, 9);
    const proved = gainOf(SUB, voltages(SUB, really(94), SIX));
    expect(proved.loss.basis).toBe('proved');
    expect(proved.target!.settingVoltage).toBeCloseTo(20 * 10 ** (loss(94) / 20), 2);
  });
  it('is refused by a tone near a corner, with a better one', () => {
    const near = gainOf(withChannels(SUB, () => ({ toneHz: 80 })));
    expect(near.loss.isNear).toBe(true);
    expect(near.loss.betterHz).toBe(40);
    const nearer = withChannels(SUB, () => ({ toneHz: 80 }));
    const state = stateIn(near, nearer, SETTINGS, { marks: confirmed(nearer) });
    expect(said(state.findings)).toContain('80 Hz is too close to a filter corner');
    const tweeter = gainOf(only('tweeter', [filter('highpass', 3500)]));
    expect(tweeter.loss.betterHz).toBeGreaterThan(6000);
  });
  it('makes readings stale where the loss changed, and not where the tone does not see it', () => {
    const reading = (chain: Chain): LoadReading => ({
      ...voltages(SUB, really(80), [40])[0]!,
      stepId: 'gain:subwoofer',
      kind: 'gain-voltage',
      value: gainOf(chain).target!.settingVoltage,
      conditions: loadConditionsIn(gainOf(chain), chain, SETTINGS),
    });
    const changed = (cornerHz: number): Chain =>
      withChannels(SUB, ({ filters = [] }) => ({ filters: filters.map((each) => (each.id === 'lp' ? { ...each, cornerHz } : each)) }));
    const state = (chain: Chain): Judgement =>
      stateIn(gainOf(chain), chain, SETTINGS, { readings: [reading(SUB)], marks: allTicked(chain, SETTINGS) });
    expect(state(SUB).status).toBe('done');
    expect(state(changed(81)).status).toBe('done');
    expect(state(changed(60))).toMatchObject({
      status: 'stale',
      findings: [{ code: 'stale', figures: { why: [expect.stringContaining('the filters were') as string] } }],
    });
    expect(state(withChannels(SUB, () => ({ filters: [] }))).status).toBe('stale');
  });
});

describe('what reaches a driver', () => {
  it('is the channel’s full-scale voltage, less what the filters take', () => {
    const woofer = only('woofer', [filter('highpass', 90)]);
    const group = driverGroupsOf(woofer)[0]!;
    const far = reachAt(woofer, DEFAULT_RULES, group, 2000);
    expect(far.db).toBeCloseTo(0, 3);
    expect(far.volt).toBeCloseTo(20, 3);
    expect(far.watt).toBeCloseTo(100, 2);
    const corner = reachAt(woofer, { ...DEFAULT_RULES, headroomDb: 3 }, group, 90);
    expect(corner.db).toBeCloseTo(-6.02, 2);
    expect(corner.watt).toBeCloseTo(100 * 10 ** (-9.02 / 10), 2);
  });
  it('behind passive parts goes by the driver’s own impedance', () => {
    const passive = [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass' as const, capacitanceFarad: 1 / (2 * Math.PI * 3000 * 4) }];
    const tweeter = only('tweeter', [], { passive });
    const { db, volt, watt } = reachAt(tweeter, DEFAULT_RULES, driverGroupsOf(tweeter)[0]!, 3000);
    expect(db).toBeCloseTo(-3.01, 2);
    expect(watt).toBeCloseTo(volt! ** 2 / 4, 9);
  });
  it('is a level alone where the power is not known', () => {
    const unknown = { ...only('woofer', []), amplifiers: [] };
    expect(reachAt(unknown, DEFAULT_RULES, driverGroupsOf(unknown)[0]!, 100)).toEqual({ db: 0 });
  });
});

describe('where a tone begins', () => {
  const gainOf = (chain: Chain): StepOf<'gain'> => stepOfKind('gain', chain, DEFAULT_RULES);
  it('is a tenth of a volt for a tweeter, or its target where that is lower', () => {
    const safe = only('tweeter', [filter('highpass', 3500)], { toneHz: 8000 });
    const start = toneStart(gainOf(safe))!;
    expect(start.volt).toBe(0.1);
    expect(gainOf(safe).target!.settingVoltage * 10 ** (start.levelDb / 20)).toBeCloseTo(0.1, 9);
    const far = toneStart(gainOf(only('tweeter', [filter('highpass', 3500)], { toneHz: 300 })))!;
    expect(far.volt).toBeLessThan(0.1);
    expect(far.levelDb).toBe(0);
  });
  it('is no matter for any other driver', () => expect(toneStart(gainOf(only('woofer', [])))).toBeUndefined());
});

describe('a channel that is edited elsewhere', () => {
  const before = only('tweeter', [filter('highpass', 3500)], {
    isReversed: true,
    toneHz: 8000,
    passive: [{ id: 'p', driverId: 'd-tweeter', kind: 'highpass', capacitanceFarad: 1e-5 }],
  }).channels[0]!;
  it('keeps every field that the edit left alone', () => {
    expect(normalizeChannel(before, { ...before, name: 'Other' })).toEqual({ ...before, name: 'Other' });
  });
  it('on another amplifier lets go of the dial, and keeps the figure', () => {
    const moved = normalizeChannel(SUB.channels[0]!, { ...SUB.channels[0]!, amplifierId: 'other' });
    expect(moved.filters).toMatchObject([{ cornerHz: 25 }, { id: 'lp', cornerHz: 80 }]);
    expect(moved.filters?.some(({ dial }) => dial !== undefined)).toBe(false);
    expect(normalizeChannel(SUB.channels[0]!, SUB.channels[0]!).filters?.[1]?.dial).toBeDefined();
  });
  it('lets go of the parts of a driver that is gone', () => {
    expect(normalizeChannel(before, { ...before, drivers: [driver('woofer')] }).passive).toEqual([]);
  });
  it.each([
    ['other coils', { drivers: [driver('tweeter', { coilOhm: 8 })] }],
    ['another load', { loadOhm: 8 }],
  ])('lets go of its wiring with %s', (_, changes) => {
    const wired: Channel = { ...before, wiring: { network: 'A1' } };
    expect(normalizeChannel(wired, { ...wired, ...changes }).wiring).toBeUndefined();
    expect(normalizeChannel(wired, { ...wired, name: 'Other' }).wiring).toEqual({ network: 'A1' });
  });
});
