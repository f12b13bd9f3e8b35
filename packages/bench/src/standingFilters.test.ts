import { crossoverFit, filterAt, seededRandom, SHORT_SWEEP, sweepResponse, type Filter } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { LIBRARY_BUS } from './demo/demoChains.ts';
import { filterSweep } from './filterSweep.ts';
import { dialOf, filtersDb, plannedPosition, standingFilters } from './standingFilters.ts';

const CHANNEL = LIBRARY_BUS.channels[0]!;
const FILTER = CHANNEL.filters![0]!;
const cornerOf = (seed: string, position?: { click: number; switchedTo: number }): number =>
  standingFilters(LIBRARY_BUS, CHANNEL, seed, () => position)[0]!.cornerHz;

describe('filters of the simulated vehicle', () => {
  it('stand where they were planned, off by no more than a dial is, and the same for the same seed', () => {
    const corners = Array.from({ length: 40 }, (_, i) => cornerOf(String(i)) / FILTER.cornerHz);
    expect(Math.max(...corners)).toBeLessThan(1.07);
    expect(Math.min(...corners)).toBeGreaterThan(0.93);
    expect(Math.max(...corners) / Math.min(...corners)).toBeGreaterThan(1.05);
    expect(cornerOf('a')).toBe(cornerOf('a'));
  });
  it('follow the dial and its switch', () => {
    const dial = dialOf(LIBRARY_BUS, CHANNEL, FILTER)!;
    const planned = plannedPosition(dial, FILTER);
    expect(cornerOf('a', planned)).toBe(cornerOf('a'));
    expect(cornerOf('a', { ...planned, switchedTo: 1 }) / cornerOf('a')).toBeCloseTo(10, 9);
    expect(cornerOf('a', { ...planned, click: 0 }) / cornerOf('a')).toBeCloseTo(40 / FILTER.cornerHz, 9);
  });
  it('of a processor are exact', () => {
    const typed = { ...CHANNEL, filters: [{ ...FILTER, place: 'processor' as const }] };
    expect(standingFilters(LIBRARY_BUS, typed, 'a')[0]!.cornerHz).toBe(FILTER.cornerHz);
  });
});

describe('a sweep through filters', () => {
  it.each<[Filter, number]>([
    [{ kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 90 }, 44_100],
    [{ kind: 'lowpass', family: 'linkwitz-riley', order: 4, cornerHz: 120 }, 44_100],
    [{ kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 3500 }, 48_000],
    [{ kind: 'lowpass', family: 'bessel', order: 3, cornerHz: 400 }, 48_000],
    [{ kind: 'highpass', family: 'butterworth', order: 5, cornerHz: 60 }, 44_100],
  ])('is what the analog filter does, and the fit finds it: $kind $family $order', (filter, rate) => {
    const response = sweepResponse(filterSweep(SHORT_SWEEP, rate, [filter], seededRandom('sweep')), rate, SHORT_SWEEP);
    if (response.kind !== 'response') throw new Error(response.reason);
    const inside = response.points.filter(({ hertz }) => hertz > 30 && hertz < 16_000 && filtersDb([filter], hertz) > -25);
    const level = Math.max(...inside.map(({ db }) => db));
    for (const { hertz, db } of inside) expect(Math.abs(db - level - filterAt(filter, hertz).db)).toBeLessThan(0.4);
    const points = inside.filter((_, i) => i % 4 === 0).map(({ hertz, db }) => ({ frequencyHz: hertz, voltageRms: 10 ** (db / 20) }));
    const fit = crossoverFit({ kind: filter.kind, points });
    if (fit.verdict === 'not-a-filter') throw new Error(fit.reason);
    expect(Math.abs(fit.cornerHz / filter.cornerHz - 1)).toBeLessThan(0.03);
    expect(fit.order).toBe(filter.order);
  });
});
