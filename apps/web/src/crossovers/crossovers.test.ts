import { demoTunes } from '@yield/bench';
import {
  type ActiveFilter,
  type AlikeGroups,
  alikeGroups,
  atCorner,
  atStep,
  byDial,
  type Chain,
  crossoverParts,
  type Dial,
  dialGearIn,
  dialGearsOf,
  dialOfFilter,
  driverGroupsOf,
  filterAt,
  groupIdAfter,
  NOTHING_PROVED,
  planCrossovers,
  withCrossoverParts,
  withDials,
  withFamily,
  withFilter,
  withNewFilter,
  withoutFilter,
  withParts,
  withReversed,
} from '@yield/core';
import { newId } from '../chain/chainFields.ts';
import { beforeAll, describe, expect, it } from 'vitest';
import { FREQUENCIES, PICTURE_HZ, sumCurve, groupCurve } from './curvePoints.ts';
import { bandOf, limitOf } from './laneBands.ts';

let bus: Chain;
let van: Chain;
beforeAll(async () => {
  const tunes = await demoTunes(0);
  bus = tunes[0]!.chain;
  van = planCrossovers(tunes[3]!.chain).chain;
});

const wayOf = (chain: Chain, name: string): AlikeGroups => alikeGroups(driverGroupsOf(chain)).find((group) => group.name === name)!;
const filtersIn = (chain: Chain, channelId: string): ActiveFilter[] => chain.channels.find(({ id }) => id === channelId)?.filters ?? [];

describe('changes of a way', () => {
  it('are made to left and right alike, and to no other channel', () => {
    const way = wayOf(van, 'Middle left');
    const highpass = way.filters.find(({ kind }) => kind === 'highpass')!;
    const next = withFilter(van, way, highpass, (filter) => ({ ...filter, cornerHz: 640 }));
    for (const side of ['middle-left', 'middle-right']) {
      expect(filtersIn(next, side).find(({ kind }) => kind === 'highpass')?.cornerHz).toBe(640);
      expect(filtersIn(next, side).find(({ kind }) => kind === 'lowpass')?.cornerHz).toBe(3500);
    }
    expect(filtersIn(next, 'door-left')).toEqual(filtersIn(van, 'door-left'));
    expect(wayOf(next, 'Middle left').members).toHaveLength(2);
    expect(groupIdAfter(next, way)).toBe(way.id);
  });
  it('add and take out filters where the gear has room for them', () => {
    const added = withNewFilter(van, wayOf(van, 'Tweeter left'), 'lowpass', newId);
    expect(filtersIn(added, 'tweeter-right').map(({ kind, place }) => `${kind} ${place}`)).toEqual([
      'highpass processor',
      'lowpass processor',
    ]);
    const bass = withNewFilter(bus, wayOf(bus, 'Bass under the counter'), 'highpass', newId);
    expect(filtersIn(bass, 'bass').at(-1)).toMatchObject({ place: 'amplifier', cornerHz: 25 });
    const way = wayOf(added, 'Tweeter left');
    expect(filtersIn(withoutFilter(added, way, way.filters[0]!), 'tweeter-right').map(({ kind }) => kind)).toEqual(['lowpass']);
    expect(new Set(added.channels.flatMap(({ filters = [] }) => filters.map(({ id }) => id))).size).toBe(
      added.channels.flatMap(({ filters = [] }) => filters).length,
    );
  });
  it('change polarity and passive parts', () => {
    const way = wayOf(van, 'Tweeter left');
    const turned = withReversed(van, way, true);
    expect(turned.channels.filter(({ isReversed }) => isReversed).map(({ id }) => id)).toEqual(['tweeter-left', 'tweeter-right']);
    expect(withReversed(turned, wayOf(turned, 'Tweeter left'), false)).toEqual(van);
    const parts = withParts(van, way, 'highpass', { capacitanceFarad: 1e-5 }, newId);
    const right = parts.channels.find(({ id }) => id === 'tweeter-right')!;
    expect(right.passive).toMatchObject([{ driverId: 'd-tweeter-right', kind: 'highpass', capacitanceFarad: 1e-5 }]);
    expect(
      withParts(parts, wayOf(parts, 'Tweeter left'), 'highpass', null, newId).channels.every(({ passive = [] }) => passive.length === 0),
    ).toBe(true);
  });
});

describe('a corner', () => {
  it('by a figure is rounded to three digits and stepped by a twenty-fourth of an octave', () => {
    const way = wayOf(van, 'Middle left');
    const filter = way.filters[0]!;
    expect(atCorner(van, way.channel, filter, 1234.567).cornerHz).toBe(1230);
    const up = atStep(van, way.channel, { ...filter, cornerHz: 1000 }, 24);
    expect(up.cornerHz).toBe(2000);
    expect(atStep(van, way.channel, { ...filter, cornerHz: 1000 }, -1).cornerHz).toBeLessThan(1000);
  });
  it('by a dial goes from click to click, switch and all, and stays within the dial', () => {
    const way = wayOf(bus, 'Front left');
    const filter = way.filters[0]!;
    const dial = dialOfFilter(bus, way.channel, filter)!;
    const next = atStep(bus, way.channel, filter, 1);
    expect(next).toMatchObject({ cornerHz: dial.table[11]!.cornerHz, dial: { click: 11, multiplier: 1 } });
    expect(atStep(bus, way.channel, filter, -400).cornerHz).toBe(dial.table[0]!.cornerHz);
    expect(atCorner(bus, way.channel, filter, 90_000)).toMatchObject({ cornerHz: 4000, dial: { multiplier: 10 } });
    expect(atCorner(bus, way.channel, filter, 900)).toMatchObject({ dial: { multiplier: 10 } });
  });
  it('takes the dial’s slope when it is set by one, and keeps it when it is not any more', () => {
    const way = wayOf(bus, 'Front left');
    const typed: ActiveFilter = { id: 'x', place: 'amplifier', kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 95 };
    const dialled = byDial(bus, way.channel, typed, 'hp-dial');
    expect(dialled).toMatchObject({ family: 'butterworth', order: 2, dial: { id: 'hp-dial' } });
    const { dial: _dial, ...rest } = dialled;
    expect(byDial(bus, way.channel, dialled, undefined)).toEqual(rest);
  });
  it.each([
    ['linkwitz-riley', 3, 2],
    ['bessel', 1, 2],
    ['butterworth', 6, 6],
  ] as const)('as %s has the nearest order to %d', (family, order, wanted) => {
    const filter: ActiveFilter = { id: 'x', place: 'amplifier', kind: 'highpass', family: 'butterworth', order, cornerHz: 95 };
    expect(withFamily(filter, family)).toMatchObject({ family, order: wanted });
  });
});

describe('dials', () => {
  const dial: Dial = { id: 'new', name: 'LPF', kind: 'lowpass', family: 'bessel', order: 2, stops: 'marks', table: [], multipliers: [1] };
  it('belong to their gear, whichever it is', () => {
    for (const gear of dialGearsOf(van)) {
      const next = withDials(van, gear, [dial]);
      expect(dialGearIn(next, gear)?.dials).toEqual([dial]);
      expect(dialGearsOf(next).filter((each) => dialGearIn(next, each)?.dials !== undefined)).toHaveLength(1);
    }
  });
  it('that are taken away leave their filters at their figures', () => {
    const four = dialGearsOf(bus).find(({ id }) => id === 'amp-four')!;
    const without = withDials(bus, four, []);
    expect(filtersIn(without, 'front-left')[0]).toMatchObject({ cornerHz: 86 });
    expect(filtersIn(without, 'front-left')[0]!.dial).toBeUndefined();
    expect(filtersIn(without, 'bass')[0]!.dial).toBeDefined();
  });
});

describe('the plan beside a chain that changes', () => {
  it('put back where it came from changes nothing', () => {
    for (const chain of [bus, van]) expect(withCrossoverParts(chain, crossoverParts(chain))).toEqual(chain);
  });
  it('leaves everything else as it is now', () => {
    const parts = crossoverParts(withReversed(van, wayOf(van, 'Tweeter left'), true));
    const meanwhile: Chain = {
      ...van,
      source: { ...van.source, workingVolume: 12 },
      channels: van.channels.filter(({ id }) => id !== 'tweeter-right').map((channel) => ({ ...channel, toneHz: 5000 })),
    };
    const merged = withCrossoverParts(meanwhile, parts);
    expect(merged.source.workingVolume).toBe(12);
    expect(merged.channels.map(({ id, toneHz, isReversed }) => [id, toneHz, isReversed ?? false])).toContainEqual([
      'tweeter-left',
      5000,
      true,
    ]);
    expect(merged.channels).toHaveLength(6);
  });
  it('knows a changed filter, range or dial from an untouched one', () => {
    const untouched = JSON.stringify(crossoverParts(van));
    expect(JSON.stringify(crossoverParts({ ...van, source: { ...van.source, workingVolume: 3 } }))).toBe(untouched);
    expect(JSON.stringify(crossoverParts(withReversed(van, wayOf(van, 'Door left'), true)))).not.toBe(untouched);
    const other = van.channels.map((channel) => ({
      ...channel,
      drivers: channel.drivers.map((driver) => ({ ...driver, usableToHz: 999 })),
    }));
    expect(JSON.stringify(crossoverParts({ ...van, channels: other }))).not.toBe(untouched);
  });
});

describe('the picture', () => {
  const nothing = NOTHING_PROVED;
  it('draws each way from end to end', () => {
    const way = wayOf(van, 'Tweeter left');
    const curve = groupCurve(way, 'level', nothing);
    expect(curve[0]!.hertz).toBe(PICTURE_HZ.from);
    expect(curve.at(-1)!.hertz).toBeCloseTo(PICTURE_HZ.to, 6);
    curve.forEach(({ hertz, value }) => expect(value).toBeCloseTo(filterAt(way.filters[0]!, hertz).db, 9));
    expect(groupCurve(way, 'phase', nothing).every(({ value }) => Math.abs(value) <= 180)).toBe(true);
    expect(Math.max(...groupCurve(way, 'delay', nothing).map(({ value }) => value))).toBeLessThan(1);
  });
  it('sums what is drawn, and leaves out what has no sum', () => {
    const ways = alikeGroups(driverGroupsOf(van));
    const sum = sumCurve(ways, 'level', nothing);
    expect(sum).toHaveLength(FREQUENCIES.length);
    // Far above the last corner the tweeter is alone.
    expect(sum.at(-1)!.value).toBeCloseTo(0, 1);
    expect(sumCurve(ways, 'delay', nothing)).toEqual([]);
    expect(sumCurve(ways.slice(0, 1), 'level', nothing)).toEqual([]);
  });
  it('knows the range that a way’s drivers share, and the lowest safe corner', () => {
    expect(bandOf(wayOf(van, 'Door left'))).toEqual({ from: 60, to: 1500 });
    expect(limitOf(wayOf(van, 'Door left'), 1)).toBe(90);
    expect(limitOf(wayOf(van, 'Tweeter left'), 1)).toBe(2500);
    expect(limitOf(wayOf(van, 'Bass under the stage'), 1)).toBeUndefined();
    const bare = { ...wayOf(van, 'Door left'), drivers: [] };
    expect(bandOf(bare)).toBeUndefined();
    expect(limitOf(bare, 1)).toBeUndefined();
  });
});
