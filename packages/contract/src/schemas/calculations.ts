import { FILTER_FAMILIES, HIGHEST_ORDER } from '@yield/core';
import { Type } from 'typebox';
import { hertz, number, ohm, percent, strict, volt, watt } from './fields.ts';

const decibels = (title: string): ReturnType<typeof number> => number(title, 'dB', { minimum: 0, maximum: 120 });
const figure = Type.Number();

export const HookupMode = Type.Enum(['stereo', 'bridged', 'mono'], { title: 'mode' });

export const HookupRequest = strict({
  mode: HookupMode,
  loadOhm: ohm('load'),
  minimumStereoOhm: Type.Optional(ohm('lowest stereo load')),
  minimumBridgedOhm: Type.Optional(ohm('lowest bridged load')),
  minimumMonoOhm: Type.Optional(ohm('lowest mono load')),
});
export const HookupAnswer = Type.Object({
  perChannelOhm: figure,
  verdict: Type.Enum(['fits', 'below-minimum', 'unknown']),
  note: Type.String(),
});

const networkExpression = Type.String({ title: 'network', maxLength: 2000 });
const atLeastZero = (title: string, unit: string): ReturnType<typeof number> => number(title, unit, { minimum: 0, maximum: 1e9 });
const OhmBand = Type.Object({ low: figure, high: figure });

export const LoadNetworkRequest = strict({
  coils: Type.Record(
    Type.String({ pattern: '^[A-Za-z][A-Za-z0-9_]{0,31}$' }),
    strict({ nominalOhm: ohm('nominal impedance'), dcOhm: Type.Optional(ohm('DC resistance')) }),
    { title: 'coils', minProperties: 1, maxProperties: 64, additionalProperties: false },
  ),
  network: networkExpression,
  seriesResistorOhm: Type.Optional(atLeastZero('series resistor', 'ohm')),
  seriesResistorRatedWatt: Type.Optional(watt('rating of the series resistor')),
  voltageRms: Type.Optional(atLeastZero('voltage', 'V')),
});
export const LoadNetworkAnswer = Type.Object({
  loadOhm: figure,
  dcOhm: figure,
  coils: Type.Record(Type.String(), Type.Object({ powerShare: figure, powerWatt: Type.Optional(figure) })),
  resistor: Type.Optional(Type.Object({ powerShare: figure, powerWatt: Type.Optional(figure), overRating: Type.Optional(Type.Boolean()) })),
  totalPowerWatt: Type.Optional(figure),
  levelChangeDb: Type.Optional(figure),
  balanced: Type.Boolean(),
  reversed: Type.Array(Type.String()),
  unused: Type.Array(Type.String()),
  notes: Type.Array(Type.String()),
});

export const DriverSpecSchema = strict({
  name: Type.String({ title: 'name of the driver', pattern: '^[A-Za-z][A-Za-z0-9_]{0,15}$' }),
  coils: Type.Enum([1, 2, 4], { title: 'coils' }),
  coilOhm: ohm('coil impedance'),
  coilDcOhm: Type.Optional(ohm('DC resistance of a coil')),
  ratedPowerWatt: Type.Optional(watt('rated power')),
});
const drivers = Type.Array(DriverSpecSchema, { title: 'drivers', minItems: 1, maxItems: 8 });

export const LoadOptionsRequest = strict({ drivers, minimumLoadOhm: Type.Optional(ohm('lowest load')) });
export const LoadOptionsAnswer = Type.Object({
  options: Type.Array(
    Type.Object({
      network: Type.String(),
      family: Type.Enum(['series', 'parallel', 'series-parallel', 'parallel-series', 'mixed']),
      loadOhm: figure,
      meterOhm: OhmBand,
      balanced: Type.Boolean(),
      verdict: Type.Enum(['below-minimum', 'fits', 'high']),
    }),
  ),
});

export const MeterDiagnosisRequest = strict({
  drivers,
  intendedNetwork: networkExpression,
  meterOhm: atLeastZero('meter reading', 'ohm'),
  leadOhm: Type.Optional(atLeastZero('lead resistance', 'ohm')),
  meterPercent: Type.Optional(number('meter accuracy', '%', { minimum: 0, maximum: 50 })),
  meterDigitsOhm: Type.Optional(atLeastZero('meter accuracy in ohms', 'ohm')),
});
export const MeterDiagnosisAnswer = Type.Object({
  verdict: Type.Enum(['matches', 'differs', 'open', 'short']),
  expectedOhm: OhmBand,
  coilsOhm: figure,
  causes: Type.Array(
    Type.Object({
      kind: Type.Enum([
        'as-intended',
        'other-wiring',
        'one-coil-only',
        'driver-missing',
        'coil-open',
        'short',
        'open',
        'leads-not-subtracted',
      ]),
      network: Type.Optional(Type.String()),
      expectedOhm: figure,
      note: Type.String(),
    }),
  ),
  notes: Type.Array(Type.String()),
});

export const SplRequest = strict({
  sensitivityDb: number('sensitivity', 'dB', { minimum: 0, maximum: 200 }),
  sensitivityAt: Type.Enum(['1W', '2.83V'], { title: 'basis of the sensitivity' }),
  nominalOhm: Type.Optional(ohm('nominal impedance')),
  powerWatt: Type.Optional(watt('power')),
  voltageRms: Type.Optional(volt('voltage')),
  drivers: Type.Optional(Type.Integer({ title: 'number of drivers', minimum: 1, maximum: 1000 })),
  distanceMetre: Type.Optional(number('distance', 'm', { exclusiveMinimum: 0, maximum: 1e9 })),
});
export const SplAnswer = Type.Object({ splDb: figure, perDriverWatt: figure });

export const TargetVoltageRequest = strict({
  powerWatt: watt('power'),
  loadOhm: ohm('load'),
  toneLevelDbfs: Type.Optional(number('recorded level of the tone', 'dBFS', { minimum: -120, maximum: 0 })),
  overlapDb: Type.Optional(decibels('gain overlap')),
  headroomDb: Type.Optional(decibels('headroom')),
});
export const TargetVoltageAnswer = Type.Object({
  fullScaleVoltage: figure,
  settingVoltage: figure,
  overlapDb: figure,
  powerAtSettingWatt: figure,
});

/** The three forms share their fields here; which of them may stand together is checked after the fields themselves. */
export const DeliveredPowerRequest = strict({
  voltageRms: number('voltage', 'V', { minimum: 0, maximum: 1e9 }),
  loadOhm: Type.Optional(ohm('load')),
  currentRms: Type.Optional(number('current', 'A', { exclusiveMinimum: 0, maximum: 1e9 })),
  impedanceOhm: Type.Optional(ohm('impedance')),
  phaseDeg: Type.Optional(number('phase', 'degrees', { minimum: -180, maximum: 180 })),
  nominalOhm: Type.Optional(ohm('nominal impedance')),
});
export const DeliveredPowerAnswer = Type.Object({
  powerWatt: figure,
  apparentVoltAmpere: figure,
  impedanceOhm: figure,
  impedanceRiseRatio: Type.Optional(figure),
});

export const SagRequest = strict({
  unloadedVoltage: volt('voltage without load'),
  loadedVoltage: volt('voltage with load'),
  loadOhm: ohm('load'),
  predictLoadsOhm: Type.Optional(Type.Array(ohm('load'), { title: 'loads to predict', maxItems: 100 })),
});
export const SagAnswer = Type.Object({
  sourceOhm: figure,
  dropDb: figure,
  predictions: Type.Array(Type.Object({ loadOhm: figure, voltageRms: figure, powerWatt: figure })),
});

export const SourceCeilingRequest = strict({
  steps: Type.Array(
    strict({
      step: Type.Integer({ title: 'volume step', minimum: 0, maximum: 10_000 }),
      voltageRms: volt('voltage'),
      thdPercent: Type.Optional(number('distortion', '%', { minimum: 0, maximum: 1000 })),
    }),
    { title: 'volume table', minItems: 1, maxItems: 1000 },
  ),
  limitThdPercent: Type.Optional(percent('distortion limit')),
  compressionDb: Type.Optional(number('compression', 'dB', { exclusiveMinimum: 0, maximum: 20 })),
});
export const SourceCeilingAnswer = Type.Object({
  maxCleanStep: Type.Optional(Type.Integer()),
  firstDirtyStep: Type.Optional(Type.Integer()),
  method: Type.Enum(['distortion', 'compression', 'not-reached']),
  voltageAtCeiling: Type.Optional(figure),
  warnings: Type.Array(Type.String()),
});

export const FilterFields = {
  kind: Type.Enum(['highpass', 'lowpass'], { title: 'kind of filter' }),
  family: Type.Enum([...FILTER_FAMILIES], { title: 'family' }),
  order: Type.Integer({ title: 'order', minimum: 1, maximum: HIGHEST_ORDER }),
  cornerHz: hertz('corner'),
};
export const CrossoverResponseRequest = strict({
  filters: Type.Array(strict(FilterFields), { title: 'filters', maxItems: 16 }),
  frequenciesHz: Type.Array(hertz('frequency'), { title: 'frequencies', minItems: 1, maxItems: 10_000 }),
});
export const CrossoverResponseAnswer = Type.Object({
  magnitudeDb: Type.Array(figure),
  phaseDeg: Type.Array(figure),
  groupDelaySecond: Type.Array(figure),
});

export const CrossoverFitRequest = strict({
  kind: FilterFields.kind,
  points: Type.Array(strict({ frequencyHz: hertz('frequency'), voltageRms: volt('voltage') }), { title: 'points', maxItems: 500 }),
});
const Fitted = {
  family: FilterFields.family,
  order: Type.Integer(),
  slopeDbPerOctave: figure,
  cornerHz: figure,
  passbandVoltage: figure,
  residualDb: figure,
};
const Alternatives = Type.Array(Type.Object(Fitted));
export const CrossoverFitAnswer = Type.Union([
  Type.Object({ ...Fitted, verdict: Type.Enum(['good', 'ambiguous']), alternatives: Alternatives }),
  Type.Object({
    verdict: Type.Literal('not-a-filter'),
    reason: Type.String(),
    passbandVoltage: figure,
    residualDb: figure,
    alternatives: Alternatives,
  }),
]);

export const CapacitorRequest = strict({ driverOhm: ohm('driver impedance'), cornerHz: hertz('corner') });
export const CapacitorAnswer = Type.Object({
  capacitanceFarad: figure,
  nearest: Type.Array(Type.Object({ capacitanceFarad: figure, series: Type.Literal('E12'), cornerHz: figure })),
});

export const TraceQuery = strict({
  toneHz: Type.Optional(hertz('tone')),
  limitThdPercent: Type.Optional(percent('distortion limit')),
  fullScaleVolt: Type.Optional(volt('full scale')),
  probe: Type.Optional(number('probe factor', '', { exclusiveMinimum: 0, maximum: 1e6 })),
});
export const TraceJsonRequest = strict({ csv: Type.String({ title: 'csv' }) });

const TraceVerdict = Type.Enum(['clean', 'onset', 'clipped', 'distorted', 'over-range', 'unusable', 'sweep', 'pulse', 'curve']);
export const TraceAnswer = Type.Object({
  sampleRateHz: figure,
  channels: Type.Array(
    Type.Object({
      name: Type.String(),
      samples: Type.Integer(),
      fundamentalHz: Type.Optional(figure),
      voltageRms: figure,
      voltageRmsWithDc: figure,
      peakPositiveVolt: figure,
      peakNegativeVolt: figure,
      crestFactor: figure,
      dcOffsetVolt: figure,
      thdPercent: Type.Optional(figure),
      thdPlusNoisePercent: Type.Optional(figure),
      harmonics: Type.Array(Type.Object({ order: Type.Integer(), percent: figure })),
      fit: Type.Optional(Type.Object({ frequencyHz: figure, amplitudeVolt: figure, phaseRad: figure, offsetVolt: figure })),
      clipping: Type.Object({
        verdict: TraceVerdict,
        positiveFlatFraction: figure,
        negativeFlatFraction: figure,
        estimatedOverdriveDb: Type.Optional(figure),
      }),
      warnings: Type.Array(Type.String()),
    }),
  ),
  between: Type.Array(
    Type.Object({
      from: Type.String(),
      to: Type.String(),
      phaseDeg: figure,
      delaySecond: figure,
      polarity: Type.Enum(['same', 'inverted', 'unclear']),
      gainDb: figure,
    }),
  ),
});

export const PowerLimitRequest = strict({
  loadOhm: ohm('load'),
  ratings: Type.Optional(Type.Array(strict({ loadOhm: ohm('load'), powerWatt: watt('power') }), { title: 'ratings', maxItems: 12 })),
  driversWatt: Type.Optional(watt('what the drivers take')),
  supply: Type.Optional(
    strict({
      voltage: volt('supply voltage'),
      ratedAtVoltage: volt('supply voltage of the rating'),
      regulated: Type.Boolean({ title: 'regulated' }),
    }),
  ),
  fuseAmpere: Type.Optional(number('fuses', 'A', { exclusiveMinimum: 0, maximum: 1e6 })),
  supplyVoltage: Type.Optional(volt('supply voltage')),
  efficiency: Type.Optional(number('efficiency', '', { exclusiveMinimum: 0, maximum: 1 })),
  headroomDb: Type.Optional(number('headroom', 'dB', { minimum: 0, maximum: 120 })),
});
const LimitName = Type.Enum(['rating', 'supply', 'drivers', 'fuse-rule']);
export const PowerLimitAnswer = Type.Object({
  limits: Type.Array(
    Type.Object({
      by: LimitName,
      powerWatt: figure,
      basis: Type.Enum(['rated', 'interpolated', 'same-voltage', 'scaled', 'given', 'guess']),
    }),
  ),
  powerWatt: Type.Optional(figure),
  voltageRms: Type.Optional(figure),
  limitedBy: Type.Optional(LimitName),
  fuse: Type.Optional(
    Type.Object({ powerWatt: figure, currentAmpere: Type.Optional(figure), verdict: Type.Optional(Type.Enum(['carries', 'short'])) }),
  ),
  notes: Type.Array(Type.String()),
});

export const OverdriveRequest = strict({ overdriveDb: number('overdrive', 'dB', { minimum: 0, maximum: 60 }) });
export const OverdriveAnswer = Type.Object({
  thdPercent: figure,
  crestFactor: figure,
  rmsAgainstRail: figure,
  powerAgainstCleanDb: figure,
  flatFraction: figure,
});

const positive = (title: string, unit = ''): ReturnType<typeof number> => number(title, unit, { exclusiveMinimum: 0, maximum: 1e6 });
export const DriverModelSchema = strict({
  dcOhm: ohm('DC resistance'),
  inductanceHenry: Type.Optional(number('inductance', 'H', { minimum: 0, maximum: 10 })),
  resonanceHz: hertz('resonance'),
  qMechanical: positive('mechanical Q'),
  qElectrical: positive('electrical Q'),
});
export const EnclosureSchema = Type.Union([
  strict({ kind: Type.Literal('sealed'), complianceRatio: positive('compliance ratio') }),
  strict({ kind: Type.Literal('ported'), complianceRatio: positive('compliance ratio'), tuningHz: hertz('tuning') }),
]);
export const ImpedanceRequest = strict({
  driver: DriverModelSchema,
  enclosure: Type.Optional(EnclosureSchema),
  frequenciesHz: Type.Array(hertz('frequency'), { title: 'frequencies', minItems: 1, maxItems: 20_000 }),
  nominalOhm: Type.Optional(ohm('nominal impedance')),
  voltageRms: Type.Optional(number('voltage', 'V', { minimum: 0, maximum: 1e6 })),
});
const ImpedancePoint = Type.Object({ frequencyHz: figure, magnitudeOhm: figure });
export const ImpedanceAnswer = Type.Object({
  magnitudeOhm: Type.Array(figure),
  phaseDeg: Type.Array(figure),
  minimum: Type.Optional(ImpedancePoint),
  peaks: Type.Array(ImpedancePoint),
  riseRatio: Type.Optional(Type.Array(figure)),
  powerWatt: Type.Optional(Type.Array(figure)),
  currentAmpere: Type.Optional(Type.Array(figure)),
});

const level = (title: string): ReturnType<typeof number> => number(title, 'dB', { minimum: -300, maximum: 300 });
export const RelativePhaseRequest = strict({
  levelADb: level('level of A'),
  levelBDb: level('level of B'),
  levelBothDb: level('level of both'),
});
export const RelativePhaseAnswer = Type.Object({
  phaseDeg: Type.Optional(figure),
  possible: Type.Boolean(),
  sumAgainstInPhaseDb: figure,
  advice: Type.String(),
});

export const DelayRequest = strict({
  distancesMetre: Type.Record(Type.String({ pattern: '^.{1,64}$' }), number('distance', 'm', { minimum: 0, maximum: 1000 }), {
    title: 'distances',
    minProperties: 1,
    maxProperties: 64,
    additionalProperties: false,
  }),
  temperatureCelsius: Type.Optional(number('temperature', '°C', { exclusiveMinimum: -273.15, maximum: 1000 })),
});
export const DelayAnswer = Type.Object({ speedOfSound: figure, delaysSecond: Type.Record(Type.String(), figure) });

const frequencies = Type.Array(hertz('frequency'), { title: 'frequencies', minItems: 1, maxItems: 20_000 });
const FilterSchema = strict(FilterFields);
export const CrossoverSumRequest = strict({
  ways: Type.Array(
    strict({
      filters: Type.Array(FilterSchema, { title: 'filters', maxItems: 16 }),
      gainDb: Type.Optional(level('gain')),
      reversed: Type.Optional(Type.Boolean({ title: 'reversed' })),
      delaySecond: Type.Optional(number('delay', 's', { minimum: -10, maximum: 10 })),
    }),
    { title: 'ways', minItems: 2, maxItems: 8 },
  ),
  frequenciesHz: frequencies,
});
export const CrossoverSumAnswer = Type.Object({
  magnitudeDb: Type.Array(figure),
  phaseDeg: Type.Array(figure),
  againstInPhaseDb: Type.Array(figure),
});

const KnobsSchema = strict({
  balance: Type.Enum(['left', 'centre', 'right'], { title: 'balance' }),
  fader: Type.Enum(['front', 'centre', 'rear'], { title: 'fader' }),
});
export const PolarityByEarRequest = strict({
  drivers: Type.Array(
    strict({
      name: Type.String({ title: 'name of the driver', minLength: 1, maxLength: 80 }),
      side: Type.Enum(['left', 'right', 'centre'], { title: 'side' }),
      row: Type.Enum(['front', 'rear'], { title: 'row' }),
    }),
    { title: 'drivers', minItems: 2, maxItems: 8 },
  ),
  answers: Type.Array(
    strict({ first: KnobsSchema, second: KnobsSchema, fuller: Type.Enum(['first', 'second', 'same'], { title: 'which is fuller' }) }),
    { title: 'answers', maxItems: 200 },
  ),
});
export const PolarityByEarAnswer = Type.Object({
  verdict: Type.Enum(['one', 'several', 'contradiction']),
  candidates: Type.Array(Type.Object({ reversed: Type.Array(Type.String()) })),
  next: Type.Optional(Type.Object({ first: KnobsSchema, second: KnobsSchema, words: Type.String() })),
});

const curveFields = {
  frequenciesHz: Type.Array(hertz('frequency'), { title: 'frequencies', minItems: 2, maxItems: 20_000 }),
  levelDb: Type.Array(number('level', 'dB', { minimum: -1000, maximum: 1000 }), { title: 'levels', minItems: 2, maxItems: 20_000 }),
};
export const ResponseAverageRequest = strict({
  curves: Type.Array(strict({ ...curveFields, weight: Type.Optional(positive('weight')) }), { title: 'curves', minItems: 1, maxItems: 32 }),
  method: Type.Optional(Type.Enum(['power', 'decibel'], { title: 'method' })),
  smoothing: Type.Optional(Type.Enum([0, 1, 2, 3, 6, 12, 24, 48], { title: 'smoothing' })),
  fromHz: hertz('begin of the range'),
  toHz: hertz('end of the range'),
  pointsPerOctave: Type.Optional(Type.Integer({ title: 'points to the octave', minimum: 1, maximum: 192 })),
});
export const ResponseAverageAnswer = Type.Object({
  frequenciesHz: Type.Array(figure),
  levelDb: Type.Array(figure),
  spreadDb: Type.Array(figure),
});

export const EqualiserResponseRequest = strict({
  filters: Type.Array(
    strict({
      kind: Type.Enum(['peak', 'low-shelf', 'high-shelf'], { title: 'kind of filter' }),
      frequencyHz: hertz('frequency'),
      gainDb: number('gain', 'dB', { minimum: -120, maximum: 120 }),
      q: number('Q', '', { exclusiveMinimum: 0, maximum: 1000 }),
    }),
    { title: 'filters', maxItems: 64 },
  ),
  sampleRateHz: Type.Optional(hertz('sample rate')),
  frequenciesHz: frequencies,
});
export const EqualiserResponseAnswer = Type.Object({ magnitudeDb: Type.Array(figure), phaseDeg: Type.Array(figure) });

const rangeFields = { fromHz: hertz('begin of the range'), toHz: hertz('end of the range') };
const quality = (title: string) => number(title, '', { exclusiveMinimum: 0, maximum: 1000 });
export const EqualiserFitRequest = strict({
  response: strict(curveFields),
  target: Type.Optional(strict(curveFields)),
  ...rangeFields,
  equaliser: Type.Union(
    [
      strict({
        kind: Type.Enum(['parametric'], { title: 'kind of equaliser' }),
        bands: Type.Integer({ title: 'bands', minimum: 1, maximum: 32 }),
        minQ: Type.Optional(quality('lowest Q')),
        maxQ: Type.Optional(quality('highest Q')),
        frequencyStepHz: Type.Optional(hertz('step of the frequencies')),
        qStep: Type.Optional(quality('step of the Qs')),
      }),
      strict({
        kind: Type.Enum(['graphic'], { title: 'kind of equaliser' }),
        centresHz: Type.Array(hertz('centre'), { title: 'centres', minItems: 1, maxItems: 64 }),
        q: quality('Q'),
      }),
    ],
    { title: 'equaliser' },
  ),
  maxBoostDb: Type.Optional(decibels('most boost')),
  maxCutDb: Type.Optional(decibels('most cut')),
  gainStepDb: Type.Optional(number('step of the gains', 'dB', { exclusiveMinimum: 0, maximum: 120 })),
  sampleRateHz: Type.Optional(hertz('sample rate')),
});
export const EqualiserFitAnswer = Type.Object({
  filters: Type.Array(Type.Object({ kind: Type.Enum(['peak']), frequencyHz: figure, gainDb: figure, q: figure })),
  correctedDb: Type.Array(figure),
  offsetDb: figure,
  beforeDb: figure,
  afterDb: figure,
  left: Type.Array(Type.Object({ fromHz: figure, toHz: figure, reason: Type.Enum(['null', 'limit', 'outside']) })),
});

export const PulseQuery = strict({ limitDb: Type.Optional(decibels('limit')) });
export const PulseAnswer = Type.Object({
  channels: Type.Array(
    Type.Object({
      name: Type.String(),
      polarity: Type.Enum(['positive', 'negative', 'unclear']),
      arrivalSecond: Type.Optional(figure),
      peakAboveNoiseDb: Type.Optional(figure),
      reason: Type.Optional(Type.String()),
    }),
  ),
});

export const SweepQuery = strict({
  sweepSecond: Type.Optional(number('length of the sweep', 's', { exclusiveMinimum: 0, maximum: 120 })),
  sweepFromHz: Type.Optional(hertz('begin of the sweep')),
  sweepToHz: Type.Optional(hertz('end of the sweep')),
  levelDbfs: Type.Optional(number('level of the sweep', 'dBFS', { minimum: -120, maximum: 0 })),
  pointsPerOctave: Type.Optional(Type.Integer({ title: 'points to an octave', minimum: 1, maximum: 192 })),
});
export const SweepAnswer = Type.Object({
  channels: Type.Array(
    Type.Object({
      name: Type.String(),
      arrivalSecond: Type.Optional(figure),
      frequenciesHz: Type.Optional(Type.Array(figure)),
      levelDb: Type.Optional(Type.Array(figure)),
      signalToNoiseDb: Type.Optional(figure),
      driftPpm: Type.Optional(figure),
      reason: Type.Optional(Type.String()),
    }),
  ),
});
