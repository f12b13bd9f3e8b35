import type { TSchema } from 'typebox';
import * as calc from './schemas/calculations.ts';
import * as gear from './schemas/gear.ts';
import * as handover from './schemas/handover.ts';
import * as records from './schemas/records.ts';

/** One call of the HTTP interface, as server, documentation and validators share it. */
export interface Operation {
  id: string;
  method: 'get' | 'post' | 'put' | 'delete';
  /** with {parameters} in braces, below /api/v1 */
  path: string;
  summary: string;
  query?: TSchema;
  /** JSON body */
  body?: TSchema;
  /** raw bodies that are taken as well, or instead */
  rawTypes?: readonly string[];
  answer?: TSchema;
}

export const RAW_CAPTURE_TYPES = ['text/csv', 'text/plain', 'audio/wav', 'audio/x-wav', 'audio/wave', 'application/octet-stream'] as const;

const operations = {
  health: { method: 'get', path: '/health', summary: 'Is the server up, and does it reach its database' },
  hookup: {
    method: 'post',
    path: '/calc/hookup',
    summary: 'What each amplifier channel sees',
    body: calc.HookupRequest,
    answer: calc.HookupAnswer,
  },
  loadNetwork: {
    method: 'post',
    path: '/calc/load-network',
    summary: 'What a given wiring presents',
    body: calc.LoadNetworkRequest,
    answer: calc.LoadNetworkAnswer,
  },
  loadOptions: {
    method: 'post',
    path: '/calc/load-options',
    summary: 'Every sensible way to wire these drivers',
    body: calc.LoadOptionsRequest,
    answer: calc.LoadOptionsAnswer,
  },
  meterDiagnosis: {
    method: 'post',
    path: '/calc/meter-diagnosis',
    summary: 'Does the ohmmeter agree, and if not, what is likely wrong',
    body: calc.MeterDiagnosisRequest,
    answer: calc.MeterDiagnosisAnswer,
  },
  spl: {
    method: 'post',
    path: '/calc/spl',
    summary: 'Sound pressure from sensitivity, power, drivers and distance',
    body: calc.SplRequest,
    answer: calc.SplAnswer,
  },
  targetVoltage: {
    method: 'post',
    path: '/calc/target-voltage',
    summary: 'What the meter should read',
    body: calc.TargetVoltageRequest,
    answer: calc.TargetVoltageAnswer,
  },
  deliveredPower: {
    method: 'post',
    path: '/calc/delivered-power',
    summary: 'What reaches the load',
    body: calc.DeliveredPowerRequest,
    answer: calc.DeliveredPowerAnswer,
  },
  sag: { method: 'post', path: '/calc/sag', summary: 'Loaded against unloaded', body: calc.SagRequest, answer: calc.SagAnswer },
  sourceCeiling: {
    method: 'post',
    path: '/calc/source-ceiling',
    summary: 'How far the volume may go',
    body: calc.SourceCeilingRequest,
    answer: calc.SourceCeilingAnswer,
  },
  crossoverResponse: {
    method: 'post',
    path: '/calc/crossover-response',
    summary: 'What filters in a row do at given frequencies',
    body: calc.CrossoverResponseRequest,
    answer: calc.CrossoverResponseAnswer,
  },
  crossoverFit: {
    method: 'post',
    path: '/calc/crossover-fit',
    summary: 'The corner and slope that a filter really has',
    body: calc.CrossoverFitRequest,
    answer: calc.CrossoverFitAnswer,
  },
  capacitor: {
    method: 'post',
    path: '/calc/capacitor',
    summary: 'A series capacitor for a tweeter',
    body: calc.CapacitorRequest,
    answer: calc.CapacitorAnswer,
  },
  powerLimit: {
    method: 'post',
    path: '/calc/power-limit',
    summary: 'What a channel may be set to, and what holds it there',
    body: calc.PowerLimitRequest,
    answer: calc.PowerLimitAnswer,
  },
  overdrive: {
    method: 'post',
    path: '/calc/overdrive',
    summary: 'What clipping does to a sine',
    body: calc.OverdriveRequest,
    answer: calc.OverdriveAnswer,
  },
  impedance: {
    method: 'post',
    path: '/calc/impedance',
    summary: 'What a driver presents, in the open or in its enclosure',
    body: calc.ImpedanceRequest,
    answer: calc.ImpedanceAnswer,
  },
  relativePhase: {
    method: 'post',
    path: '/calc/relative-phase',
    summary: 'Phase between two sources from three levels',
    body: calc.RelativePhaseRequest,
    answer: calc.RelativePhaseAnswer,
  },
  delay: {
    method: 'post',
    path: '/calc/delay',
    summary: 'Delays that let all drivers arrive together',
    body: calc.DelayRequest,
    answer: calc.DelayAnswer,
  },
  crossoverSum: {
    method: 'post',
    path: '/calc/crossover-sum',
    summary: 'Two or more ways together',
    body: calc.CrossoverSumRequest,
    answer: calc.CrossoverSumAnswer,
  },
  polarityByEar: {
    method: 'post',
    path: '/calc/polarity-by-ear',
    summary: 'Which driver is reversed, from comparisons by ear',
    body: calc.PolarityByEarRequest,
    answer: calc.PolarityByEarAnswer,
  },
  responseAverage: {
    method: 'post',
    path: '/calc/response-average',
    summary: 'Several microphone positions as one curve',
    body: calc.ResponseAverageRequest,
    answer: calc.ResponseAverageAnswer,
  },
  equaliserResponse: {
    method: 'post',
    path: '/calc/equaliser-response',
    summary: 'What the filters of an equaliser do together',
    body: calc.EqualiserResponseRequest,
    answer: calc.EqualiserResponseAnswer,
  },
  equaliserFit: {
    method: 'post',
    path: '/calc/equaliser-fit',
    summary: 'Filters that bring a response to a target',
    body: calc.EqualiserFitRequest,
    answer: calc.EqualiserFitAnswer,
  },
  pulse: {
    method: 'post',
    path: '/calc/pulse',
    summary: 'Polarity of a driver from a recorded pulse',
    query: calc.PulseQuery,
    rawTypes: RAW_CAPTURE_TYPES,
    answer: calc.PulseAnswer,
  },
  sweepResponse: {
    method: 'post',
    path: '/calc/sweep-response',
    summary: 'From a recorded sweep to a response',
    query: calc.SweepQuery,
    rawTypes: RAW_CAPTURE_TYPES,
    answer: calc.SweepAnswer,
  },
  trace: {
    method: 'post',
    path: '/calc/trace',
    summary: 'What a scope or sound-card capture shows',
    query: calc.TraceQuery,
    body: calc.TraceJsonRequest,
    rawTypes: RAW_CAPTURE_TYPES,
    answer: calc.TraceAnswer,
  },
  listTunes: {
    method: 'get',
    path: '/tunes',
    summary:
      'Tunes, with what is next and what needs attention; X-Total-Count says how many there are in all, X-Pending-Count how many of these are still being worked out',
    query: records.TuneListQuery,
  },
  listArchive: { method: 'get', path: '/tunes/archive', summary: 'Tunes that were put away' },
  copyTune: {
    method: 'post',
    path: '/tunes/{tuneId}/copy',
    summary: 'A new tune with the same chain and settings, nothing measured',
    body: records.NewTuneSchema,
  },
  readShop: { method: 'get', path: '/shop', summary: 'The shop’s house rules and meter: what a new tune begins with' },
  saveShop: { method: 'put', path: '/shop', summary: 'Change the shop’s house rules and meter', body: records.SaveShopSchema },
  listGear: {
    method: 'get',
    path: '/gear',
    summary: 'The gear of the shop: its library, what stands in tunes, and what was measured on it',
  },
  saveGear: {
    method: 'put',
    path: '/gear/{gearId}',
    summary: 'Put gear into the library, or change it there; no tune changes',
    body: gear.SaveGearSchema,
  },
  removeGear: { method: 'delete', path: '/gear/{gearId}', summary: 'Take gear out of the library; no tune changes' },
  createTune: { method: 'post', path: '/tunes', summary: 'A new tune with an empty chain', body: records.NewTuneSchema },
  readTune: { method: 'get', path: '/tunes/{tuneId}', summary: 'A tune with its chain, readings, traces and marks' },
  readRun: {
    method: 'get',
    path: '/tunes/{tuneId}/run',
    summary: 'The steps of a tune in their order, where each stands, and its next move',
  },
  readSheet: {
    method: 'get',
    path: '/tunes/{tuneId}/sheet.pdf',
    summary: 'The owner’s sheet as a PDF: on A4, on Letter, or as a card for the glovebox',
    query: records.SheetQuery,
  },
  listSheets: { method: 'get', path: '/tunes/{tuneId}/sheets', summary: 'The sheets of a tune that were signed, each as it was then' },
  signSheet: {
    method: 'post',
    path: '/tunes/{tuneId}/sheets',
    summary: 'Sign the sheet as it stands; sent twice, it is signed once',
    body: handover.SignSheetSchema,
  },
  exportTune: {
    method: 'get',
    path: '/tunes/{tuneId}/export.zip',
    summary: 'The whole tune as a ZIP: JSON with its schema, captures as they came, readings and curves as CSV, drawing, signed sheets',
  },
  exportAll: { method: 'get', path: '/export.zip', summary: 'All tunes as one ZIP, as exportTune has them' },
  bringIn: {
    method: 'post',
    path: '/import',
    summary: 'Bring in the tunes of such a ZIP: what is here already stays, another state of it comes as a copy',
    rawTypes: ['application/zip'],
  },
  readChanges: {
    method: 'get',
    path: '/tunes/{tuneId}/changes',
    summary: 'How often anything of a tune was changed; with since, what was changed after that count',
    query: records.ChangesQuery,
  },
  saveTune: { method: 'put', path: '/tunes/{tuneId}', summary: 'Change name, vehicle, house rules or meter', body: records.SaveTuneSchema },
  deleteTune: { method: 'delete', path: '/tunes/{tuneId}', summary: 'Put a tune away; it can be restored' },
  restoreTune: { method: 'post', path: '/tunes/{tuneId}/restore', summary: 'Bring a tune back that was put away' },
  editTune: {
    method: 'put',
    path: '/tunes/{tuneId}/edits/{editId}',
    summary:
      'Change single fields of the chain, or of name, vehicle and settings; sent twice it is done once, and edits of different fields merge',
    body: records.EditSchema,
  },
  readHistory: {
    method: 'get',
    path: '/tunes/{tuneId}/history',
    summary: 'Every accepted change of a tune, the newest first',
    query: records.HistoryQuery,
  },
  readRevision: { method: 'get', path: '/tunes/{tuneId}/chain/{version}', summary: 'The chain as it was at a revision' },
  tuneEvents: {
    method: 'get',
    path: '/tunes/{tuneId}/events',
    summary: 'Server-sent events: each change of the tune, and which devices look at it',
    query: records.EventsQuery,
  },
  saveChain: { method: 'put', path: '/tunes/{tuneId}/chain', summary: 'Change the chain', body: records.SaveChainSchema },
  saveReading: {
    method: 'put',
    path: '/tunes/{tuneId}/readings/{readingId}',
    summary: 'Store a reading; sending it twice stores it once',
    body: records.NewReadingSchema,
  },
  voidReading: {
    method: 'post',
    path: '/tunes/{tuneId}/readings/{readingId}/void',
    summary: 'Void a reading with a reason',
    body: records.VoidSchema,
  },
  restoreReading: {
    method: 'post',
    path: '/tunes/{tuneId}/readings/{readingId}/restore',
    summary: 'Count a voided reading again',
  },
  saveMark: {
    method: 'put',
    path: '/tunes/{tuneId}/marks/{stepId}',
    summary: 'Tick checks of a step, or skip it with a reason',
    body: records.SaveMarkSchema,
  },
  saveTrace: {
    method: 'put',
    path: '/tunes/{tuneId}/traces/{traceId}',
    summary: 'Store a capture as it is and analyse it',
    query: records.TraceUploadQuery,
    rawTypes: RAW_CAPTURE_TYPES,
  },
  voidTrace: {
    method: 'post',
    path: '/tunes/{tuneId}/traces/{traceId}/void',
    summary: 'Void a capture with a reason',
    body: records.VoidSchema,
  },
  restoreTrace: { method: 'post', path: '/tunes/{tuneId}/traces/{traceId}/restore', summary: 'Count a voided capture again' },
  readTracePlace: {
    method: 'get',
    path: '/tunes/{tuneId}/traces/{traceId}/place',
    summary: 'How many large captures wait before this one, which is being sent; 404 of one that does not wait',
  },
  readTraceFile: { method: 'get', path: '/tunes/{tuneId}/traces/{traceId}/file', summary: 'The original bytes of a capture' },
  listKeys: { method: 'get', path: '/keys', summary: 'The key that this installation signs with, and the names of others’ keys' },
  nameKey: {
    method: 'put',
    path: '/keys',
    summary: 'Name the key of another installation; an empty name takes it away',
    body: handover.NameKeySchema,
  },
  loadDemo: { method: 'post', path: '/demo', summary: 'Load the demo tunes that are not there' },
} satisfies Record<string, Omit<Operation, 'id'>>;

export type OperationId = keyof typeof operations;

export const OPERATIONS: readonly (Operation & { id: OperationId })[] = Object.entries(operations).map(([id, operation]) => ({
  id: id as OperationId,
  ...operation,
}));
