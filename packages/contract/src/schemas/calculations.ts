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

export const TraceQuery = strict({
  toneHz: Type.Optional(hertz('tone')),
  limitThdPercent: Type.Optional(percent('distortion limit')),
  fullScaleVolt: Type.Optional(volt('full scale')),
  probe: Type.Optional(number('probe factor', '', { exclusiveMinimum: 0, maximum: 1e6 })),
});
export const TraceJsonRequest = strict({ csv: Type.String({ title: 'csv' }) });

const TraceVerdict = Type.Enum(['clean', 'onset', 'clipped', 'distorted', 'over-range', 'unusable']);
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
