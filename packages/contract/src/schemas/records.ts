import {
  INPUT_NAMES,
  OUTPUT_NAMES,
  readingIntakes,
  SOURCE_CONTROLS,
  stepIdPattern,
  type AirConditions,
  type At,
  type Chain,
  type Conditions,
  type HouseRules,
  type LineConditions,
  type LoadConditions,
  type Meter,
  type OhmConditions,
  type Reading,
  type RunSummary,
  type SourceControl,
  type SourceInput,
  type SourceOutput,
  type StepMark,
  type TraceRecord,
  type TuneSettings,
} from '@yield/core';
import { type Provenance } from '@yield/sheet';
import { Type, type Static, type TSchema } from 'typebox';
import type { Same } from './same.ts';
import { DriverModelSchema, EnclosureSchema, FilterFields, HookupMode } from './calculations.ts';
import {
  hertz,
  instant,
  MAX_VERSION,
  name,
  networkField,
  number,
  ohm,
  percent,
  strict,
  text,
  uuid,
  version,
  volt,
  watt,
} from './fields.ts';

const key = Type.String({ title: 'id', minLength: 1, maxLength: 64, pattern: '^[A-Za-z0-9-]+$', format: 'own-key' });
const volumeStep = (title: string): ReturnType<typeof Type.Integer> => Type.Integer({ title, minimum: 1, maximum: 1000 });

export const DialSchema = strict({
  id: key,
  name: name('dial'),
  kind: FilterFields.kind,
  family: FilterFields.family,
  order: FilterFields.order,
  stops: Type.Enum(['clicks', 'marks'], { title: 'stops' }),
  table: Type.Array(strict({ label: name('stop'), cornerHz: hertz('corner') }), { title: 'table', minItems: 2, maxItems: 200 }),
  multipliers: Type.Array(number('multiplier', '', { exclusiveMinimum: 0, maximum: 1000 }), {
    title: 'multipliers',
    minItems: 1,
    maxItems: 6,
    uniqueItems: true,
  }),
});
const dials = Type.Optional(Type.Array(DialSchema, { title: 'dials', maxItems: 12 }));

const SourceInputSchema = Type.Enum(Object.keys(INPUT_NAMES) as SourceInput[], { title: 'input of the source' });
const SourceOutputSchema = Type.Enum(Object.keys(OUTPUT_NAMES) as SourceOutput[], { title: 'output of the source' });
const CONTROL_IDS = SOURCE_CONTROLS.map(({ id }) => id);

export const SourceSchema = strict({
  id: Type.Optional(key),
  name: name('source'),
  volumeSteps: volumeStep('highest volume step'),
  workingVolume: volumeStep('working volume'),
  volumeBasis: Type.Enum(['measured', 'assumed'], { title: 'basis of the working volume' }),
  outputVolt: Type.Optional(volt('output voltage')),
  ceilingVolt: Type.Optional(volt('clean ceiling')),
  isFactory: Type.Optional(Type.Boolean({ title: 'factory unit' })),
  inputs: Type.Optional(Type.Array(SourceInputSchema, { title: 'inputs in use', maxItems: 4, uniqueItems: true })),
  controls: Type.Optional(
    Type.Array(Type.Enum(CONTROL_IDS, { title: 'control' }), { title: 'controls', maxItems: CONTROL_IDS.length, uniqueItems: true }),
  ),
  outputs: Type.Optional(Type.Array(SourceOutputSchema, { title: 'outputs in use', maxItems: 4, uniqueItems: true })),
  cases: Type.Optional(
    Type.Array(
      strict({
        id: key,
        name: name('settings case'),
        used: Type.Boolean({ title: 'used' }),
        subNotches: Type.Optional(Type.Integer({ title: 'notches of sub level', minimum: 1, maximum: 100 })),
        bassRaised: Type.Optional(Type.Boolean({ title: 'bass raised' })),
      }),
      { title: 'settings cases', maxItems: 12 },
    ),
  ),
  preampClaimVolt: Type.Optional(volt('claimed preamp voltage')),
  speakerLoadOhm: Type.Optional(ohm('load on the speaker outputs')),
  ownControl: Type.Optional(name('control of its own')),
  dials,
});
const inOrOut = { id: key, name: name('name') };
export const ProcessorSchema = strict({
  id: Type.Optional(key),
  name: name('processor'),
  inputs: Type.Array(strict({ ...inOrOut, output: SourceOutputSchema }), { title: 'inputs', minItems: 1, maxItems: 16 }),
  outputs: Type.Array(strict(inOrOut), { title: 'outputs', minItems: 1, maxItems: 32 }),
  outputVolt: volt('wanted output voltage'),
  mostOutputVolt: Type.Optional(volt('highest clean output voltage')),
  hasClipLight: Type.Boolean({ title: 'clip light' }),
  dials,
});
const ratingRows = (title: string) =>
  Type.Array(strict({ mode: HookupMode, loadOhm: ohm('load'), powerWatt: watt('rated power') }), { title, maxItems: 20 });

export const AmplifierSchema = strict({
  id: key,
  name: name('amplifier'),
  ratings: ratingRows('rated power'),
  minimumStereoOhm: Type.Optional(ohm('lowest stereo load')),
  minimumBridgedOhm: Type.Optional(ohm('lowest bridged load')),
  minimumMonoOhm: Type.Optional(ohm('lowest mono load')),
  inputMinVolt: Type.Optional(volt('most sensitive input voltage')),
  inputMaxVolt: Type.Optional(volt('least sensitive input voltage')),
  fuseAmpere: Type.Optional(number('fuses', 'A', { exclusiveMinimum: 0, maximum: 1000 })),
  sheetRatings: Type.Optional(ratingRows('power by its test sheet')),
  ratedAtVolt: Type.Optional(volt('supply voltage of its ratings')),
  isRegulated: Type.Optional(Type.Boolean({ title: 'regulated supply' })),
  terminalPairs: Type.Optional(Type.Enum([1, 2], { title: 'pairs of terminals' })),
  channelCount: Type.Optional(Type.Integer({ title: 'channels', minimum: 1, maximum: 16 })),
  isInSource: Type.Optional(Type.Boolean({ title: 'built into the source' })),
  dials,
});
export const DriverSchema = strict({
  id: key,
  name: name('driver'),
  coils: Type.Enum([1, 2, 4], { title: 'coils' }),
  coilOhm: ohm('coil impedance'),
  coilDcOhm: Type.Optional(ohm('resistance of each coil')),
  ratedPowerWatt: watt('rated power'),
  sensitivityDb: Type.Optional(number('sensitivity', 'dB', { minimum: 0, maximum: 200 })),
  role: Type.Optional(Type.Enum(['tweeter', 'midrange', 'woofer', 'full-range', 'subwoofer'], { title: 'role' })),
  usableFromHz: Type.Optional(hertz('begin of its range')),
  usableToHz: Type.Optional(hertz('end of its range')),
  recommended: Type.Optional(
    Type.Array(
      strict({
        order: FilterFields.order,
        fromHz: hertz('lowest recommended corner'),
        toHz: Type.Optional(hertz('highest recommended corner')),
      }),
      { title: 'recommended filters', maxItems: 8 },
    ),
  ),
  tuningHz: Type.Optional(hertz('tuning of its enclosure')),
  inductanceHenry: Type.Optional(number('inductance of the coil', 'H', { exclusiveMinimum: 0, maximum: 1 })),
});
const terminal = Type.String({ title: 'terminal', pattern: '^[A-Za-z][A-Za-z0-9_]{0,31}[+-]$' });
export const WiringSchema = strict({
  network: networkField,
  joins: Type.Optional(Type.Array(Type.Tuple([terminal, terminal]), { title: 'wires', maxItems: 200 })),
  seriesResistorOhm: Type.Optional(ohm('series resistor')),
  seriesResistorRatedWatt: Type.Optional(watt('rating of the series resistor')),
});
/** Points of a curve, straight between them. */
export const curvePoints = (title: string) =>
  Type.Array(strict({ hertz: hertz('frequency'), db: number('level', 'dB', { minimum: -200, maximum: 200 }) }), {
    title,
    minItems: 2,
    maxItems: 2000,
  });
const ChannelImpedanceSchema = Type.Union(
  [
    strict({
      kind: Type.Literal('table'),
      rows: Type.Array(
        strict({
          frequencyHz: hertz('frequency'),
          ohm: ohm('impedance'),
          phaseDeg: Type.Optional(number('phase', '°', { minimum: -90, maximum: 90 })),
        }),
        { title: 'rows', minItems: 3, maxItems: 2000 },
      ),
    }),
    strict({ kind: Type.Literal('model'), driver: DriverModelSchema, enclosure: Type.Optional(EnclosureSchema) }),
  ],
  { title: 'impedance' },
);
export const ChannelSchema = strict({
  id: key,
  name: name('channel'),
  amplifierId: key,
  mode: HookupMode,
  terminals: name('terminals'),
  band: Type.Enum(['bass', 'full-range'], { title: 'band' }),
  loadOhm: ohm('load'),
  drivers: Type.Array(DriverSchema, { title: 'drivers', maxItems: 16 }),
  wiring: Type.Optional(WiringSchema),
  processorOutputId: Type.Optional(key),
  filters: Type.Optional(
    Type.Array(
      strict({
        id: key,
        place: Type.Enum(['source', 'processor', 'amplifier'], { title: 'place' }),
        ...FilterFields,
        dial: Type.Optional(
          strict({
            id: key,
            click: Type.Integer({ title: 'click', minimum: 0, maximum: 199 }),
            multiplier: number('multiplier', '', { exclusiveMinimum: 0, maximum: 1000 }),
          }),
        ),
        isProved: Type.Optional(Type.Boolean({ title: 'to be proved' })),
      }),
      { title: 'filters', maxItems: 12 },
    ),
  ),
  passive: Type.Optional(
    Type.Array(
      strict({
        id: key,
        driverId: key,
        kind: FilterFields.kind,
        capacitanceFarad: Type.Optional(number('capacitance', 'F', { exclusiveMinimum: 0, maximum: 1 })),
        inductanceHenry: Type.Optional(number('inductance', 'H', { exclusiveMinimum: 0, maximum: 10 })),
        isReversed: Type.Optional(Type.Boolean({ title: 'reversed' })),
        printed: Type.Optional(strict({ cornerHz: hertz('printed corner'), order: Type.Enum([1, 2], { title: 'order' }) })),
        isUnknown: Type.Optional(Type.Boolean({ title: 'value unknown' })),
      }),
      { title: 'passive parts', maxItems: 32 },
    ),
  ),
  isReversed: Type.Optional(Type.Boolean({ title: 'reversed' })),
  toneHz: Type.Optional(hertz('tone')),
  toneLevelDbfs: Type.Optional(number('recorded level of its tone', 'dBFS', { minimum: -60, maximum: 0 })),
  powerBasis: Type.Optional(Type.Enum(['plate', 'sheet', 'fuse'], { title: 'what its power is told from' })),
  wishWatt: Type.Optional(watt('wished power')),
  headroomDb: Type.Optional(number('headroom', 'dB', { minimum: 0, maximum: 40 })),
  overlapDb: Type.Optional(number('gain overlap', 'dB', { minimum: 0, maximum: 20 })),
  blendDb: Type.Optional(number('set down against the others', 'dB', { minimum: 0, maximum: 40 })),
  remoteAt: Type.Optional(text('remote knob’s everyday position')),
  pairedWith: Type.Optional(key),
  differsFromPair: Type.Optional(Type.Boolean({ title: 'meant to differ from its pair' })),
  impedance: Type.Optional(ChannelImpedanceSchema),
  equaliser: Type.Optional(
    Type.Array(
      strict({
        kind: Type.Enum(['peak', 'low-shelf', 'high-shelf'], { title: 'kind of band' }),
        frequencyHz: number('frequency', 'Hz', { minimum: 5, maximum: 22_000 }),
        gainDb: number('gain', 'dB', { minimum: -40, maximum: 20 }),
        q: number('Q', '', { minimum: 0.05, maximum: 100 }),
      }),
      { title: 'equaliser', maxItems: 64 },
    ),
  ),
  responseTarget: Type.Optional(
    strict({
      fromHz: Type.Optional(hertz('evened out from')),
      toHz: Type.Optional(hertz('evened out to')),
      tiltDb: Type.Optional(number('tilt an octave', 'dB', { minimum: -6, maximum: 6 })),
      shelfDb: Type.Optional(number('bass shelf', 'dB', { minimum: -20, maximum: 20 })),
      shelfHz: Type.Optional(hertz('corner of the shelf')),
      levelDb: Type.Optional(number('level of the target', 'dB', { minimum: -20, maximum: 20 })),
      points: Type.Optional(curvePoints('points of the target')),
    }),
  ),
  dummyOhm: Type.Optional(ohm('dummy load')),
  dummyWatt: Type.Optional(watt('rating of the dummy load')),
});
/** Metres from the front left corner, seen from above. */
const place = strict({
  x: number('to the right', 'm', { minimum: -2, maximum: 22 }),
  y: number('to the rear', 'm', { minimum: -2, maximum: 22 }),
});
const HeardEntrySchema = strict({
  id: uuid,
  at: instant,
  passage: name('passage'),
  outcome: Type.Enum(['fine', 'wrong', 'changed', 'blind'], { title: 'outcome' }),
  words: Type.Optional(text('what was heard')),
  setting: key,
  change: Type.Optional(strict({ channelId: key, before: text('before'), after: text('after') })),
  blind: Type.Optional(
    strict({
      first: name('first setting'),
      second: name('second setting'),
      right: Type.Integer({ title: 'right answers', minimum: 0, maximum: 1000 }),
      trials: Type.Integer({ title: 'trials', minimum: 1, maximum: 1000 }),
    }),
  ),
});
export const EqualiserAtHandSchema = Type.Union([
  strict({
    kind: Type.Literal('parametric'),
    bands: Type.Integer({ title: 'bands', minimum: 1, maximum: 32 }),
    minQ: Type.Optional(number('lowest Q', '', { exclusiveMinimum: 0, maximum: 100 })),
    maxQ: Type.Optional(number('highest Q', '', { exclusiveMinimum: 0, maximum: 100 })),
    frequencyStepHz: Type.Optional(number('step of frequency', 'Hz', { exclusiveMinimum: 0, maximum: 1000 })),
    qStep: Type.Optional(number('step of Q', '', { exclusiveMinimum: 0, maximum: 10 })),
  }),
  strict({
    kind: Type.Literal('graphic'),
    centresHz: Type.Array(hertz('centre'), { title: 'centres', minItems: 1, maxItems: 32 }),
    q: number('Q', '', { minimum: 0.05, maximum: 100 }),
  }),
  strict({ kind: Type.Literal('none') }),
]);
export const ChainSchema = strict({
  source: SourceSchema,
  processor: Type.Optional(ProcessorSchema),
  amplifiers: Type.Array(AmplifierSchema, { title: 'amplifiers', maxItems: 8 }),
  channels: Type.Array(ChannelSchema, { title: 'channels', maxItems: 32 }),
  equaliserAtHand: Type.Optional(EqualiserAtHandSchema),
  heard: Type.Optional(Type.Array(HeardEntrySchema, { title: 'listening log', maxItems: 500 })),
  listening: Type.Optional(
    strict({
      distancesMetre: Type.Optional(
        Type.Record(Type.String({ maxLength: 64 }), number('distance', 'm', { exclusiveMinimum: 0, maximum: 15 }), {
          title: 'distances',
          maxProperties: 32,
        }),
      ),
      seat: Type.Optional(Type.Enum(['driver', 'middle', 'both'], { title: 'listening place' })),
      passengerMetre: Type.Optional(
        Type.Record(Type.String({ maxLength: 64 }), number('distance to the passenger', 'm', { exclusiveMinimum: 0, maximum: 15 }), {
          title: 'distances to the passenger',
          maxProperties: 32,
        }),
      ),
      trimSecond: Type.Optional(
        Type.Record(Type.String({ maxLength: 64 }), number('delay found at a crossover', 's', { minimum: -1, maximum: 1 }), {
          title: 'delays found at crossovers',
          maxProperties: 32,
        }),
      ),
      delaysFrom: Type.Optional(Type.Enum(['tape', 'sweep'], { title: 'what delays are told from' })),
      temperatureCelsius: Type.Optional(number('temperature', '°C', { minimum: -40, maximum: 70 })),
      stepSecond: Type.Optional(number('step of the delays', 's', { exclusiveMinimum: 0, maximum: 0.01 })),
      longestSecond: Type.Optional(number('longest delay', 's', { exclusiveMinimum: 0, maximum: 1 })),
      plan: Type.Optional(
        strict({
          widthMetre: Type.Optional(number('width', 'm', { minimum: 0.5, maximum: 4 })),
          lengthMetre: Type.Optional(number('length', 'm', { minimum: 1, maximum: 20 })),
          isRightHandDrive: Type.Optional(Type.Boolean({ title: 'right-hand drive' })),
          head: Type.Optional(place),
          places: Type.Optional(Type.Record(Type.String({ maxLength: 64 }), place, { title: 'places', maxProperties: 32 })),
          microphones: Type.Optional(
            Type.Record(Type.String({ maxLength: 200 }), place, { title: 'places of the microphone', maxProperties: 64 }),
          ),
        }),
      ),
    }),
  ),
});

export const HouseRulesSchema = strict({
  bassToneHz: hertz('bass tone'),
  otherToneHz: hertz('other tone'),
  lineToneHz: Type.Optional(hertz('line tone')),
  toneLevelDbfs: number('recorded level of the tone', 'dBFS', { minimum: -60, maximum: 0 }),
  overlapDb: number('gain overlap', 'dB', { minimum: 0, maximum: 20 }),
  headroomDb: number('headroom', 'dB', { minimum: 0, maximum: 20 }),
  gainBy: Type.Optional(Type.Enum(['meter', 'scope'], { title: 'what decides a gain' })),
  onsetMarginDb: Type.Optional(number('margin below the first flattening', 'dB', { minimum: 0, maximum: 6 })),
  limitThdPercent: percent('distortion limit'),
  toleranceDb: number('tolerance', 'dB', { exclusiveMinimum: 0, maximum: 6 }),
  loadWhileSetting: Type.Enum(['off', 'on'], { title: 'load while setting' }),
  plannedLoad: Type.Optional(Type.Enum(['nominal', 'lowest', 'tone'], { title: 'load that powers are reckoned with' })),
  outputsWith: Type.Optional(Type.Enum(['full-scale', 'tone'], { title: 'what the outputs’ voltage is of' })),
  assumedVolumePercent: Type.Optional(number('assumed volume', '%', { minimum: 10, maximum: 100 })),
  cornerTolerancePercent: Type.Optional(number('tolerance of a corner', '%', { exclusiveMinimum: 0, maximum: 50 })),
});
export const MeterSchema = strict({
  percent: number('meter accuracy', '%', { minimum: 0, maximum: 20 }),
  digits: Type.Integer({ title: 'meter accuracy in digits', minimum: 0, maximum: 100 }),
  counts: Type.Optional(Type.Integer({ title: 'highest count of the meter', minimum: 99, maximum: 10_000_000 })),
  finestVolt: Type.Optional(volt('smallest step of the meter')),
  highestHz: hertz('highest frequency of the meter'),
  lowestHz: Type.Optional(hertz('lowest frequency of the meter')),
  trueRms: Type.Boolean({ title: 'true RMS' }),
  leadOhm: Type.Optional(number('lead resistance', 'ohm', { minimum: 0, maximum: 1000 })),
  ohmPercent: Type.Optional(number('accuracy on the ohms range', '%', { minimum: 0, maximum: 20 })),
  ohmDigitsOhm: Type.Optional(number('accuracy on the ohms range', 'ohm', { minimum: 0, maximum: 1000 })),
});
export const SettingsSchema = strict({
  rules: HouseRulesSchema,
  meter: MeterSchema,
  houseCurve: Type.Optional(curvePoints('house curve')),
  microphone: Type.Optional(strict({ calibration: Type.Optional(curvePoints('calibration of the microphone')) })),
  isPractice: Type.Optional(Type.Boolean({ title: 'for practice' })),
});

const setting = Type.Optional(Type.String({ title: 'setting', maxLength: 40 }));
const at = <A extends At>(value: A) => Type.Literal(value, { title: 'where it was measured' });
const simulated = Type.Optional(Type.Literal(true, { title: 'read off the simulated bench' }));
const playedFields = {
  isSimulated: simulated,
  toneHz: hertz('tone'),
  toneLevelDbfs: number('recorded level of the tone', 'dBFS', { minimum: -120, maximum: 0 }),
  sourceId: key,
  sourceName: name('source'),
  sourceVolume: Type.Integer({ title: 'source volume', minimum: 0, maximum: 1000 }),
  sourceInput: Type.Optional(SourceInputSchema),
  sourceSettings: Type.Optional(
    Type.Object(Object.fromEntries(CONTROL_IDS.map((id) => [id, setting])) as Record<SourceControl, typeof setting>, {
      title: 'settings of the source',
      additionalProperties: false,
    }),
  ),
};
const provedSetting = Type.Optional(strict({ ...FilterFields, series: Type.Integer({ title: 'series', minimum: 1, maximum: 1000 }) }));
const sweepConditions = Type.Optional(
  strict({
    fromHertz: hertz('start of the sweep'),
    toHertz: hertz('end of the sweep'),
    seconds: number('length of the sweep', 's', { exclusiveMinimum: 0, maximum: 120 }),
    labels: Type.Array(name('what a channel hangs on'), { title: 'channels', minItems: 1, maxItems: 16 }),
  }),
);
export const LoadConditionsSchema = strict({
  at: at('load'),
  ...playedFields,
  load: Type.Enum(['on', 'off'], { title: 'load' }),
  loadOhm: ohm('load'),
  network: Type.Optional(WiringSchema.properties.network),
  mode: HookupMode,
  amplifierId: key,
  amplifierName: name('amplifier'),
  targetVolt: Type.Optional(volt('target')),
  supplyVolt: Type.Optional(volt('supply voltage')),
  fedVolt: Type.Optional(volt('voltage of the processor’s output')),
  filters: Type.Optional(
    strict({
      words: Type.String({ title: 'filters', maxLength: 2000 }),
      setDb: number('loss of the filters as set', 'dB', { minimum: -10_000, maximum: 0 }),
      provedDb: Type.Optional(number('loss of the filters as measured', 'dB', { minimum: -10_000, maximum: 0 })),
    }),
  ),
  filter: provedSetting,
});
export const LineConditionsSchema = strict({
  at: at('line'),
  ...playedFields,
  caseId: Type.Optional(key),
  eye: Type.Optional(Type.Enum(['clean', 'fuzzy', 'clipped'], { title: 'verdict by eye' })),
  processorId: Type.Optional(key),
  processorName: Type.Optional(name('processor')),
  targetVolt: Type.Optional(volt('target')),
  sweep: sweepConditions,
  filter: provedSetting,
});
export const AirConditionsSchema = strict({
  at: at('air'),
  ...playedFields,
  position: name('position'),
  channelId: Type.Optional(key),
  channelFilters: Type.Optional(Type.String({ title: 'filters of the channel', maxLength: 1000 })),
  sweep: sweepConditions,
  curve: Type.Optional(Type.Literal(true)),
  pulse: Type.Optional(Type.Literal(true)),
  meeting: Type.Optional(
    strict({
      delaySecond: number('delay against each other', 's', { minimum: -1, maximum: 1 }),
      isReversed: Type.Boolean({ title: 'reversed against each other' }),
      filters: Type.String({ title: 'filters', maxLength: 2000 }),
    }),
  ),
});
export const OhmConditionsSchema = strict({
  at: at('ohm'),
  isSimulated: simulated,
  nominalOhm: ohm('nominal impedance'),
  leadOhm: number('lead resistance', 'ohm', { minimum: 0, maximum: 1000 }),
  meterPercent: number('meter accuracy', '%', { minimum: 0, maximum: 50 }),
  meterDigitsOhm: number('meter accuracy in ohms', 'ohm', { minimum: 0, maximum: 1000 }),
  driverId: Type.Optional(key),
  coil: Type.Optional(Type.Integer({ title: 'coil', minimum: 1, maximum: 4 })),
  network: Type.Optional(WiringSchema.properties.network),
});
/** What held, by where it was measured. */
export const CONDITIONS_SCHEMAS = {
  ohm: OhmConditionsSchema,
  line: LineConditionsSchema,
  load: LoadConditionsSchema,
  air: AirConditionsSchema,
} satisfies Record<At, TSchema>;

const stepKey = Type.String({ title: 'step', pattern: stepIdPattern() });

const readingFields = {
  stepId: stepKey,
  value: number('reading', '', { minimum: 0, maximum: 1e9 }),
  resolution: number('resolution', '', { exclusiveMinimum: 0, maximum: 1e9 }),
  takenAt: instant,
};
/** A new reading of each kind that some step takes in, under the conditions that its kind asks for. */
export const NEW_READING_SCHEMAS: ReadonlyMap<string, TSchema> = new Map(
  readingIntakes().map(({ kind, at: where }) => [
    kind,
    strict({ ...readingFields, kind: Type.Literal(kind, { title: 'kind of reading' }), conditions: CONDITIONS_SCHEMAS[where] }),
  ]),
);
/** For the documentation, and for what is no kind of reading at all. */
export const NewReadingSchema = strict({
  ...readingFields,
  kind: Type.Enum(
    readingIntakes().map(({ kind }) => kind),
    { title: 'kind of reading' },
  ),
  conditions: Type.Union([OhmConditionsSchema, LineConditionsSchema, LoadConditionsSchema, AirConditionsSchema]),
});
export const VoidSchema = strict({ reason: name('reason') });

const basisText = (title: string) => Type.String({ title, maxLength: 4000 });
export const StepMarkSchema = strict({
  stepId: stepKey,
  version,
  checks: Type.Array(Type.String({ maxLength: 80 }), { title: 'checks', maxItems: 64 }),
  basis: Type.Optional(basisText('basis of the checks')),
  basisWords: Type.Optional(basisText('what the checks stand for')),
  values: Type.Optional(
    Type.Record(Type.String({ maxLength: 64 }), Type.String({ maxLength: 40 }), { title: 'values', maxProperties: 32 }),
  ),
  skippedReason: Type.Optional(name('reason')),
});
/** Version 0 says: there was no mark yet. */
export const SaveMarkSchema = strict({
  version: Type.Integer({ title: 'version', minimum: 0, maximum: MAX_VERSION }),
  checks: StepMarkSchema.properties.checks,
  basis: StepMarkSchema.properties.basis,
  basisWords: StepMarkSchema.properties.basisWords,
  values: StepMarkSchema.properties.values,
  skippedReason: Type.Optional(name('reason')),
});

export const TraceUploadQuery = strict({
  stepId: stepKey,
  fileName: name('file name'),
  takenAt: instant,
  channelIndex: Type.Optional(Type.Integer({ title: 'channel', minimum: 0, maximum: 31 })),
  fullScaleVolt: Type.Optional(volt('full scale')),
  probe: Type.Optional(number('probe factor', '', { exclusiveMinimum: 0, maximum: 1e6 })),
  /** JSON text of the conditions */
  conditions: Type.String({ title: 'conditions', maxLength: 4000 }),
});

/** Which tunes are listed, in which order. */
export const TuneListQuery = strict({
  search: Type.Optional(text('search')),
  sort: Type.Optional(Type.Enum(['changed', 'name', 'open'])),
  limit: Type.Optional(Type.Integer({ title: 'limit', minimum: 1, maximum: 500 })),
  offset: Type.Optional(Type.Integer({ title: 'offset', minimum: 0, maximum: MAX_VERSION })),
});
export type TuneListQuery = Static<typeof TuneListQuery>;

export const NewTuneSchema = strict({ id: uuid, name: name('name'), vehicle: text('vehicle') });
export const SaveTuneSchema = strict({ version, name: name('name'), vehicle: text('vehicle'), settings: SettingsSchema });
/** Version 0 says: nothing was said yet. */
export const SaveShopSchema = strict({
  version: Type.Integer({ title: 'version', minimum: 0, maximum: MAX_VERSION }),
  settings: SettingsSchema,
});
export const SaveChainSchema = strict({ version, chain: ChainSchema });

/** One field of a record that was changed, or one thing that was put in or taken out, with what stood there before. */
const ChangeSchema = strict({
  path: Type.Array(Type.String({ minLength: 1, maxLength: 80 }), { title: 'place', minItems: 1, maxItems: 12 }),
  before: Type.Optional(Type.Unknown()),
  after: Type.Optional(Type.Unknown()),
  at: Type.Optional(Type.Integer({ title: 'place in its list', minimum: 0, maximum: 1000 })),
});
/**
 * An edit as what was changed, on what was seen: of the chain, or of the tune's name, vehicle and settings. The client makes the
 * operation's id; sent twice it is done once.
 */
export const EditSchema = strict({
  kind: Type.Enum(['chain', 'tune'], { title: 'what is edited' }),
  seen: version,
  changes: Type.Array(ChangeSchema, { title: 'changes', minItems: 1, maxItems: 1000 }),
});
export type Edit = Static<typeof EditSchema>;

export const HistoryQuery = strict({
  before: Type.Optional(Type.Integer({ title: 'before', minimum: 1, maximum: MAX_VERSION })),
  limit: Type.Optional(Type.Integer({ title: 'limit', minimum: 1, maximum: 500 })),
});
/** The paper that a sheet is made for; A4 where nothing is said. */
export const SheetQuery = strict({
  paper: Type.Optional(Type.Enum(['a4', 'letter', 'card'], { title: 'paper' })),
  /** a sheet that was signed; the tune as it stands where nothing is said */
  issue: Type.Optional(Type.Integer({ title: 'issue', minimum: 1, maximum: MAX_VERSION })),
});
/** `off` leaves the words of findings out: code and figures say the same. */
export const RunQuery = strict({ words: Type.Optional(Type.Enum(['on', 'off'], { title: 'words' })) });
export const ChangesQuery = strict({ since: Type.Optional(Type.Integer({ title: 'since', minimum: 0, maximum: MAX_VERSION })) });
export const EventsQuery = strict({ device: uuid, who: Type.Optional(text('name of the device')) });

/** A browser that looks at a tune. */
export interface Device {
  id: string;
  name?: string;
}
/** What a device that follows a tune is told. Without a count of changes it is to ask: events may have been missed. */
export type TuneEvent = { kind: 'changed'; changes?: number } | { kind: 'devices'; devices: Device[] };

/** What is on the record of a tune. */
export type OperationKind =
  | 'created'
  | 'copied'
  | 'brought-in'
  | 'chain'
  | 'tune'
  | 'reading'
  | 'capture'
  | 'mark'
  | 'void'
  | 'counted-again'
  | 'judged-anew'
  | 'signed'
  | 'put-away'
  | 'brought-back';

export interface HistoryRow {
  id: string;
  kind: OperationKind;
  /** the step, the reading or the capture that it is about */
  subject?: string;
  body: Record<string, unknown>;
  /** the chain's revision with it */
  chainVersion: number;
  /** the count of the tune's changes with it */
  change: number;
  /** by the server's clock */
  at: string;
  /** by the client's own */
  clientAt?: string;
  /** the name that the browser gave */
  who?: string;
}

/** What was changed of a tune since a count of its changes. */
export interface TuneChanges {
  changes: number;
  /** the record does not reach back so far: the tune is to be read whole */
  whole?: true;
  head?: TuneHead & { settings: TuneSettings };
  chain?: { version: number; body: Chain };
  readings?: SavedReading[];
  traces?: TraceInfo[];
  marks?: SavedMark[];
}

/** A trace as a tune's answer holds it: all but the original bytes. */
export type TraceInfo = TraceRecord & {
  /** when it was stored, where that is more than an hour from when it was taken */
  storedAt?: string;
  chainVersion?: number;
  sha256: string;
  byteLength: number;
  analysisVersion: number;
  fullScaleVolt?: number;
  probe?: number;
};

export interface SavedMark extends StepMark {
  version: number;
  /** the chain's revision at which it was set; not known of what was set before revisions were kept */
  chainVersion?: number;
}

export interface TuneHead {
  id: string;
  name: string;
  vehicle: string;
  version: number;
  updatedAt: string;
}

export interface ArchivedTune extends TuneHead {
  putAwayAt: string;
}

export interface TuneListRow extends TuneHead {
  summary: RunSummary;
  /** the summary is being worked out: what stands there is of an earlier state, or empty */
  isPending?: true;
}

export interface TuneDetail extends TuneHead {
  /** where it comes from, of a tune that was brought in */
  origin?: { at: string; provenance: Provenance };
  /** how often anything of it was changed */
  changes: number;
  settings: TuneSettings;
  chain: { version: number; body: Chain };
  readings: SavedReading[];
  traces: TraceInfo[];
  marks: SavedMark[];
}

/** A stored reading names the chain's revision that it was taken on; not known of what was stored before revisions were kept. */
export type SavedReading = Reading & {
  chainVersion?: number;
  /** when it was stored, where that is more than an hour from when it was taken */
  storedAt?: string;
};

export type NewReading = Omit<Reading, 'id' | 'voidedReason'>;
export type NewTune = Static<typeof NewTuneSchema>;
export type SaveTune = Static<typeof SaveTuneSchema>;
export type SaveShop = Static<typeof SaveShopSchema>;
export type ShopSettings = SaveShop;
export type SaveChain = Static<typeof SaveChainSchema>;
export type SaveMark = Static<typeof SaveMarkSchema>;
export type TraceUpload = Static<typeof TraceUploadQuery>;

// What the schemas let in must be what the core computes with, field by field: a difference does not compile.
export const SCHEMAS_MATCH_CORE: [
  Same<Static<typeof ChainSchema>, Chain>,
  Same<Static<typeof HouseRulesSchema>, HouseRules>,
  Same<Static<typeof MeterSchema>, Meter>,
  Same<Static<typeof LoadConditionsSchema>, LoadConditions>,
  Same<Static<typeof OhmConditionsSchema>, OhmConditions>,
  Same<Static<typeof LineConditionsSchema>, LineConditions>,
  Same<Static<typeof AirConditionsSchema>, AirConditions>,
  Same<Static<typeof NewReadingSchema>['conditions'], Conditions>,
  Same<Static<typeof SaveMarkSchema>, Omit<StepMark, 'stepId'> & { version: number }>,
] = [true, true, true, true, true, true, true, true, true];
