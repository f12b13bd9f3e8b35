import { levelAt, type LevelCurve, type PlaceCurve } from '@yield/core';
import Papa from 'papaparse';

/** What was measured at each place, its average and what was wanted: a row a frequency; empty where a curve does not reach. */
export function curvesCsv(places: readonly PlaceCurve[], average: LevelCurve, target: LevelCurve): string {
  const columns = [...places, average, target];
  const heads = ['frequency Hz', ...places.map(({ place }) => `${place} dB`), 'average dB', 'wanted dB'];
  const rows = average.frequenciesHz.map((hertz) => [
    Number(hertz.toPrecision(6)),
    ...columns.map((curve) =>
      hertz < curve.frequenciesHz[0]! || hertz > curve.frequenciesHz.at(-1)! ? '' : Number(levelAt(curve, hertz).toFixed(2)),
    ),
  ]);
  return Papa.unparse([heads, ...rows], { escapeFormulae: true });
}
