// Equaliser fits: the forty simulated cabins against SciPy's optimiser, and how long ten bands take.
import { readFileSync } from 'node:fs';
import { equaliserFit, nullsOf, octavePoints, type EqualiserFit } from '@yield/core';

interface Cabins {
  fromHz: number;
  toHz: number;
  bands: number;
  maxBoostDb: number;
  maxCutDb: number;
  frequenciesHz: number[];
  cabins: { levelDb: number[]; nullsHz: number[]; scipyDb: number }[];
}
const file = new URL('../../packages/core/test/reference/results/cabins.json', import.meta.url);
const { fromHz, toHz, bands, maxBoostDb, maxCutDb, frequenciesHz, cabins } = JSON.parse(readFileSync(file, 'utf8')) as Cabins;

/** RMS about its own mean, in the range and beside the nulls. */
function leftDb({ correctedDb }: EqualiserFit, nullsHz: readonly number[]): number {
  const counted = correctedDb.filter((_, i) => {
    const hertz = frequenciesHz[i]!;
    return hertz >= fromHz && hertz <= toHz && !nullsHz.some((bottom) => Math.abs(Math.log2(hertz / bottom)) <= 1 / 6);
  });
  const mean = counted.reduce((sum, db) => sum + db, 0) / counted.length;
  return Math.sqrt(counted.reduce((sum, db) => sum + (db - mean) ** 2, 0) / counted.length);
}

const rows = cabins.map(({ levelDb, nullsHz, scipyDb }, i) => {
  const response = { frequenciesHz, levelDb };
  const began = performance.now();
  const fit = equaliserFit({ response, fromHz, toHz, equaliser: { kind: 'parametric', bands }, maxBoostDb, maxCutDb });
  return {
    cabin: i,
    nulls: nullsOf(response, fromHz, toHz).length,
    beforeDb: fit.beforeDb,
    leftDb: leftDb(fit, nullsHz),
    scipyDb,
    ms: performance.now() - began,
  };
});
const points = octavePoints(20, 20_000, 100);
const bump = (hertz: number, at: number, db: number, octaves: number): number =>
  db * Math.exp(-0.5 * (Math.log2(hertz / at) / octaves) ** 2);
const levelDb = points.map((hertz) =>
  [
    [43, 7, 0.3],
    [90, -4, 0.2],
    [160, 5, 0.2],
    [400, -3, 0.4],
    [1200, 4, 0.3],
    [3200, 5, 0.25],
    [7000, -4, 0.3],
    [12_000, 4, 0.2],
  ].reduce((sum, [at, db, octaves]) => sum + bump(hertz, at!, db!, octaves!), 80),
);
const tenBands = Array.from({ length: 5 }, () => {
  const began = performance.now();
  equaliserFit({ response: { frequenciesHz: points, levelDb }, fromHz: 25, toHz: 16_000, equaliser: { kind: 'parametric', bands: 10 } });
  return performance.now() - began;
});
console.log(JSON.stringify({ rows, tenBands, points: points.length }));
