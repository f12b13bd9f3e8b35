import type { Action, Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import { equaliserBoostDb, settingKey } from '../../../job/channelEqualiser.ts';
import type { CurvePoint } from '../../../job/chain.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import { LONG_SWEEP } from '../../../tones/sweepSpec.ts';
import type { LevelCurve } from '../../../response/curve.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { airConditions } from '../../frame/played.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { markAt, type Situation } from '../../frame/situation.ts';
import type { Check, Step } from '../../frame/stepKind.ts';
import { againstTarget, curvesOf, rangeOf, wantedOf, type FrequencyRange, type MeasuredCurves } from './curves.ts';
import { placeQuality, type PlaceQuality } from './beside.ts';
import { EVEN_WITHIN_DB, evenStretch, responseFeatures, type ResponseFeature } from './features.ts';

export type ResponseStep = Step<'response', ChannelNow>;

export interface ResponseFigures {
  range: FrequencyRange;
  present: MeasuredCurves;
  before: MeasuredCurves;
  target?: LevelCurve;
  /** RMS of what the average is off its target over the range, in dB */
  offDb?: number;
  beforeDb?: number;
  features: ResponseFeature[];
  /** what lies beside the sweeps of now, place by place */
  quality: PlaceQuality[];
}

/** Told with the conditions; a sweep has every tone in it. */
const SWEEP_TONE_HZ = 1000;
/** So near to the target an equaliser has little left to do. Common practice, no source. */
const EVEN_DB = 2;
/** Two settings are told apart from here on. */
const NOTABLE_DB = 0.3;
/** Places that agree to this show the cabin; those that do not show the places. Common practice, no source. */
const AGREE_DB = 4;
const ENOUGH_PLACES = 3;
/** A range is reached within two twelfths of an octave, the points of a curve. */
const REACHED = 2 ** (1 / 6);
const NAMED = 3;

/** Said of what was measured, by ticks of their own: that it stays so, and that the bands stand in the gear. */
export const KEPT = 'kept';
export const ENTERED = 'entered';
export const CABIN: Check = { id: 'cabin', words: 'windows and doors shut, seats and load as in use' };

/** What the ticks stand for: these filters and bands. */
export const responseBasis = ({ channel }: ChannelNow): Basis =>
  basisOf({ setting: settingKey(channel) }, (channel.equaliser ?? []).length === 0 ? 'no equaliser' : `${channel.equaliser!.length} bands`);

/** @param places - whom the microphones stand for, one for each channel of the recording */
export const responseConditions = (step: ChannelNow, now: Situation, places: readonly string[] = ['driver’s head']): AirConditions => ({
  ...airConditions(now, SWEEP_TONE_HZ),
  position: places[0] ?? 'driver’s head',
  channelId: step.channel.id,
  channelFilters: settingKey(step.channel),
  sweep: { ...LONG_SWEEP, labels: [...places] },
});

/** The same for a response that was measured elsewhere, at one place. */
export function curveConditions(step: ChannelNow, now: Situation, place: string): AirConditions {
  const { sweep: _none, ...rest } = responseConditions(step, now, [place]);
  return { ...rest, curve: true };
}

/** What arrives of one channel, at several places, against what was wanted. */
export function judgeResponse(step: ResponseStep, now: Situation): Judgement<ResponseFigures> {
  const range = rangeOf(step.channel);
  const wanted = wantedOf(step.channel, now.settings);
  const against = (curve: LevelCurve) => againstTarget(curve, step.channel, range, wanted);
  const { present, before } = curvesOf(step, now, step.id);
  const capture: Action = { kind: 'capture', judged: 'sweep' };
  if (present.average === undefined) {
    const figures = { range, present, before, features: [], quality: [] };
    if (before.average === undefined) return { status: 'open', figures, findings: unread(present), action: capture };
    const { target, offDb: beforeDb } = against(before.average);
    const next = 'Record the same places again.';
    return {
      status: 'stale',
      figures: { ...figures, target, beforeDb },
      findings: [staleFinding('What was measured', ['filters or equaliser were changed since'], next)],
      action: capture,
    };
  }
  const { target, offDb } = against(present.average);
  const beforeDb = before.average === undefined ? undefined : against(before.average).offDb;
  const features = responseFeatures(present.average, target, range);
  const quality = present.places.flatMap((place) => placeQuality(place, range) ?? []);
  const figures: ResponseFigures = {
    range,
    present,
    before,
    target,
    offDb,
    features,
    quality,
    ...(beforeDb === undefined ? {} : { beforeDb }),
  };
  const gap = gapFinding(present.average, range) ?? drownedFinding(quality);
  const worse = beforeDb !== undefined && offDb > beforeDb + NOTABLE_DB;
  const findings: Finding[] = [
    ...(gap !== undefined
      ? [gap]
      : worse
        ? [worseFinding(offDb, beforeDb)]
        : evenness(offDb, beforeDb, range, evenStretch(present.average, target, range))),
    ...features.slice(0, NAMED).map((feature) => featureFinding(feature, present.places.length)),
    ...(present.places.length < ENOUGH_PLACES ? [fewPlaces(present.places.length, capture)] : []),
    ...distortionFinding(quality),
    ...boostFinding(step),
    ...calibrationFinding(now.settings.microphone?.calibration, range),
  ];
  const mark = markAt(now, step.id);
  const basis = responseBasis(step);
  const isKept = mark?.checks.includes(KEPT) === true && (mark.basis === undefined || mark.basis === basis.key);
  const wantsEntry = (step.channel.equaliser ?? []).length > 0 && !(mark?.checks.includes(ENTERED) === true && mark.basis === basis.key);
  const tick: Action = {
    kind: 'tick',
    checks: ['volume', CABIN.id, ...((step.channel.equaliser ?? []).length > 0 ? [ENTERED] : []), KEPT],
    basis: basis.key,
    basisWords: basis.words,
  };
  if (gap !== undefined) return { status: 'out-of-tolerance', figures, findings, action: capture };
  if (worse) return { status: 'out-of-tolerance', figures, findings, action: tick };
  return isKept && !wantsEntry ? { status: 'done', figures, findings } : { status: 'open', figures, findings, action: tick };
}

function unread(present: MeasuredCurves): Finding[] {
  if (present.places.length === 0) return [];
  return [
    {
      code: 'no-common-range',
      grade: 'attention',
      figures: { places: present.places.length },
      action: { kind: 'capture', judged: 'sweep' },
    },
  ];
}

/** A curve that ends before the range does says nothing of the rest of it, however even it is. */
function gapFinding({ frequenciesHz }: LevelCurve, { fromHz, toHz }: FrequencyRange): Finding | undefined {
  const [first, last] = [frequenciesHz[0]!, frequenciesHz.at(-1)!];
  if (first <= fromHz * REACHED && last >= toHz / REACHED) return undefined;
  return {
    code: 'range-not-covered',
    grade: 'attention',
    figures: { first, last, fromHz, toHz },
    action: { kind: 'capture', judged: 'sweep' },
  };
}

/** A level that is partly the noise's own says nothing of the channel. */
function drownedFinding(quality: readonly PlaceQuality[]): Finding | undefined {
  const worst = [...quality].sort((a, b) => b.drowned.length - a.drowned.length)[0];
  if (worst === undefined || worst.drowned.length === 0) return undefined;
  const [first, last] = [worst.drowned[0]!, worst.drowned.at(-1)!];
  return {
    code: 'in-noise',
    grade: 'attention',
    figures: { first, last, underDb: worst.nearestNoise?.underDb ?? 0, place: worst.place },
    action: { kind: 'capture', judged: 'sweep' },
  };
}

/** So much is heard as strain at low tones. Common practice, no source. */
const STRAINED_PERCENT = 10;

function distortionFinding(quality: readonly PlaceQuality[]): Finding[] {
  const [most] = quality.flatMap(({ mostDistortion }) => mostDistortion ?? []).sort((a, b) => b.percent - a.percent);
  if (most === undefined || most.percent < STRAINED_PERCENT) return [];
  return [
    {
      code: 'strained',
      grade: 'note',
      figures: { ...most, percent: most.percent, hertz: most.hertz },
    },
  ];
}

function evenness(
  offDb: number,
  beforeDb: number | undefined,
  { fromHz, toHz }: FrequencyRange,
  band: FrequencyRange | undefined,
): Finding[] {
  const isEven = offDb <= EVEN_DB;
  const whole: Finding = {
    code: isEven ? 'even' : 'uneven',
    grade: isEven ? 'good' : 'note',
    figures: { offDb, fromHz, toHz, ...(beforeDb === undefined ? {} : { beforeDb }) },
  };
  if (isEven || band === undefined) return [whole];
  return [
    whole,
    {
      code: 'even-band',
      grade: 'note',
      figures: { ...band, withinDb: EVEN_WITHIN_DB },
    },
  ];
}

const worseFinding = (offDb: number, beforeDb: number): Finding => ({
  code: 'worse-than-before',
  grade: 'attention',
  figures: { offDb, beforeDb },
});

function featureFinding({ kind, hertz, offDb, spreadDb }: ResponseFeature, places: number): Finding {
  const figures = { hertz, offDb, spreadDb };
  const isOfPlace = places > 1 && spreadDb > AGREE_DB;
  if (kind === 'dip') {
    return {
      code: 'dip',
      grade: 'note',
      figures: { ...figures, isOfPlace, places },
    };
  }
  return {
    code: 'hump',
    grade: 'note',
    figures: { ...figures, places, isOfPlace },
  };
}

const fewPlaces = (places: number, action: Action): Finding => ({
  code: 'few-places',
  grade: 'note',
  figures: { places },
  action,
});

/** Beyond its table's ends a microphone is taken to be as it is there. */
function calibrationFinding(calibration: readonly CurvePoint[] | undefined, { fromHz, toHz }: FrequencyRange): Finding[] {
  if (calibration === undefined) return [];
  const hertz = calibration.map((point) => point.hertz);
  const [first, last] = [Math.min(...hertz), Math.max(...hertz)];
  if (first <= fromHz * REACHED && last >= toHz / REACHED) return [];
  return [
    {
      code: 'calibration-short',
      grade: 'note',
      figures: { first, last, fromHz, toHz },
    },
  ];
}

/** What bands lift is headroom: the gain’s target is lowered by it already. */
function boostFinding({ channel }: ChannelNow): Finding[] {
  const boostDb = equaliserBoostDb(channel);
  if (boostDb < 0.1) return [];
  return [
    {
      code: 'boost-costs',
      grade: 'note',
      figures: { boostDb },
    },
  ];
}
