import { fixed, formatQuantity, levelAt, type LevelCurve, octavePoints, type ResponseFigures } from '@yield/core';
import { PAPER, type Picture, type Shape } from './picture.ts';

/** What arrives of one channel at the listener, averaged over the places: levels at the same frequencies, in dB. */
export interface SheetResponse {
  name: string;
  /** the range that was evened out */
  fromHz: number;
  toHz: number;
  /** RMS off what was wanted over that range */
  offDb: number;
  beforeDb?: number;
  hertz: number[];
  now: number[];
  wanted: number[];
  before?: number[];
}

const POINTS_PER_OCTAVE = 6;
/** So much is drawn on either side of the range. */
const BESIDE = 1.6;

export function sheetResponse(
  name: string,
  { range, present, before, target, offDb, beforeDb }: ResponseFigures,
): SheetResponse | undefined {
  const { average } = present;
  if (average === undefined || target === undefined || offDb === undefined) return undefined;
  const within = ({ frequenciesHz }: LevelCurve, hertz: number): boolean => hertz >= frequenciesHz[0]! && hertz <= frequenciesHz.at(-1)!;
  const old = before.average;
  const hertz = octavePoints(range.fromHz / BESIDE, range.toHz * BESIDE, POINTS_PER_OCTAVE).filter(
    (each) => within(average, each) && (old === undefined || within(old, each)),
  );
  const levels = (curve: LevelCurve): number[] => hertz.map((each) => tenth(levelAt(curve, each)));
  return {
    name,
    ...range,
    offDb: tenth(offDb),
    ...(beforeDb === undefined ? {} : { beforeDb: tenth(beforeDb) }),
    hertz: hertz.map((each) => Number(each.toPrecision(4))),
    now: levels(average),
    wanted: levels(target),
    ...(old === undefined ? {} : { before: levels(old) }),
  };
}

const tenth = (value: number): number => Math.round(10 * value) / 10;

export const responseWords = ({ fromHz, toHz, offDb, beforeDb }: SheetResponse): string =>
  `${fixed(offDb, 1)} dB off what was wanted from ${formatQuantity(fromHz, 'Hz')} to ${formatQuantity(toHz, 'Hz')}${beforeDb === undefined ? '' : `, ${fixed(beforeDb, 1)} dB before`}`;

const SIZE = { width: 520, height: 190, left: 40, right: 12, top: 12, bottom: 26 };
const SHOWN_DB = 36;
const TICKS_HZ = [20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000];

/** Before, now and wanted over frequency. */
export function responsePicture(response: SheetResponse): Picture {
  const { name, hertz, now, wanted, before } = response;
  const [first, last] = [hertz[0] ?? 20, hertz.at(-1) ?? 20_000];
  const top = 5 * Math.ceil((Math.max(...now, ...wanted, ...(before ?? [])) + 3) / 5);
  const x = (at: number): number => SIZE.left + (Math.log(at / first) / Math.log(last / first)) * (SIZE.width - SIZE.left - SIZE.right);
  const y = (db: number): number =>
    SIZE.top + (Math.min(SHOWN_DB, Math.max(0, top - db)) / SHOWN_DB) * (SIZE.height - SIZE.top - SIZE.bottom);
  const path = (levels: readonly number[]): string =>
    levels.map((db, k) => `${k === 0 ? 'M' : 'L'}${x(hertz[k]!).toFixed(1)} ${y(db).toFixed(1)}`).join('');
  const decibels = Array.from({ length: 4 }, (_, k) => top - 10 * k);
  const shapes: Shape[] = [
    ...decibels.flatMap((db): Shape[] => [
      { kind: 'path', d: `M${SIZE.left} ${y(db).toFixed(1)}H${SIZE.width - SIZE.right}`, stroke: PAPER.line, width: 0.5 },
      { kind: 'words', x: SIZE.left - 6, y: y(db) + 4, size: 10, words: `${db} dB`, color: PAPER.quiet, anchor: 'end' },
    ]),
    ...TICKS_HZ.filter((at) => at >= first && at <= last).flatMap((at): Shape[] => [
      { kind: 'path', d: `M${x(at).toFixed(1)} ${SIZE.top}V${SIZE.height - SIZE.bottom}`, stroke: PAPER.line, width: 0.5 },
      { kind: 'words', x: x(at), y: SIZE.height - 10, size: 10, words: formatQuantity(at, 'Hz'), color: PAPER.quiet, anchor: 'middle' },
    ]),
    ...(before === undefined ? [] : [{ kind: 'path', d: path(before), stroke: PAPER.quiet, width: 1.5, dash: [5, 3] } satisfies Shape]),
    { kind: 'path', d: path(wanted), stroke: PAPER.good, width: 1.5, dash: [1.5, 3] },
    { kind: 'path', d: path(now), stroke: PAPER.action, width: 2.2 },
  ];
  return { width: SIZE.width, height: SIZE.height, words: `Response of ${name}: ${responseWords(response)}`, shapes };
}
