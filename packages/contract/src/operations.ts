import { Type, type TSchema } from 'typebox';
import * as answers from './schemas/answers.ts';
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
  /** what it answers when it is done, by status; 200 where nothing else is said */
  answers: Answers;
}

/** A JSON answer by its schema, a file by its kind, or nothing at all. */
export type Answer = TSchema | { file: string } | 'nothing';
export type Answers = Readonly<Partial<Record<200 | 201 | 204, Answer>>>;

export const RAW_CAPTURE_TYPES = ['text/csv', 'text/plain', 'audio/wav', 'audio/x-wav', 'audio/wave', 'application/octet-stream'] as const;

const operations = {
  health: {
    method: 'get',
    path: '/health',
    summary: 'Is the server up, and does it reach its database',
    answers: { 200: answers.HealthAnswer },
  },
  hookup: {
    method: 'post',
    path: '/calc/hookup',
    summary: 'What each amplifier channel sees',
    body: calc.HookupRequest,
    answers: { 200: calc.HookupAnswer },
  },
  loadNetwork: {
    method: 'post',
    path: '/calc/load-network',
    summary: 'What a given wiring presents',
    body: calc.LoadNetworkRequest,
    answers: { 200: calc.LoadNetworkAnswer },
  },
  loadOptions: {
    method: 'post',
    path: '/calc/load-options',
    summary: 'Every sensible way to wire these drivers',
    body: calc.LoadOptionsRequest,
    answers: { 200: calc.LoadOptionsAnswer },
  },
  meterDiagnosis: {
    method: 'post',
    path: '/calc/meter-diagnosis',
    summary: 'Does the ohmmeter agree, and if not, what is likely wrong',
    body: calc.MeterDiagnosisRequest,
    answers: { 200: calc.MeterDiagnosisAnswer },
  },
  spl: {
    method: 'post',
    path: '/calc/spl',
    summary: 'Sound pressure from sensitivity, power, drivers and distance',
    body: calc.SplRequest,
    answers: { 200: calc.SplAnswer },
  },
  targetVoltage: {
    method: 'post',
    path: '/calc/target-voltage',
    summary: 'What the meter should read',
    body: calc.TargetVoltageRequest,
    answers: { 200: calc.TargetVoltageAnswer },
  },
  deliveredPower: {
    method: 'post',
    path: '/calc/delivered-power',
    summary: 'What reaches the load',
    body: calc.DeliveredPowerRequest,
    answers: { 200: calc.DeliveredPowerAnswer },
  },
  sag: { method: 'post', path: '/calc/sag', summary: 'Loaded against unloaded', body: calc.SagRequest, answers: { 200: calc.SagAnswer } },
  sourceCeiling: {
    method: 'post',
    path: '/calc/source-ceiling',
    summary: 'How far the volume may go',
    body: calc.SourceCeilingRequest,
    answers: { 200: calc.SourceCeilingAnswer },
  },
  crossoverResponse: {
    method: 'post',
    path: '/calc/crossover-response',
    summary: 'What filters in a row do at given frequencies',
    body: calc.CrossoverResponseRequest,
    answers: { 200: calc.CrossoverResponseAnswer },
  },
  crossoverFit: {
    method: 'post',
    path: '/calc/crossover-fit',
    summary: 'The corner and slope that a filter really has',
    body: calc.CrossoverFitRequest,
    answers: { 200: calc.CrossoverFitAnswer },
  },
  capacitor: {
    method: 'post',
    path: '/calc/capacitor',
    summary: 'A series capacitor for a tweeter',
    body: calc.CapacitorRequest,
    answers: { 200: calc.CapacitorAnswer },
  },
  powerLimit: {
    method: 'post',
    path: '/calc/power-limit',
    summary: 'What a channel may be set to, and what limits it',
    body: calc.PowerLimitRequest,
    answers: { 200: calc.PowerLimitAnswer },
  },
  overdrive: {
    method: 'post',
    path: '/calc/overdrive',
    summary: 'What clipping does to a sine',
    body: calc.OverdriveRequest,
    answers: { 200: calc.OverdriveAnswer },
  },
  impedance: {
    method: 'post',
    path: '/calc/impedance',
    summary: 'What a driver presents, in the open or in its enclosure',
    body: calc.ImpedanceRequest,
    answers: { 200: calc.ImpedanceAnswer },
  },
  relativePhase: {
    method: 'post',
    path: '/calc/relative-phase',
    summary: 'Phase between two sources from three levels',
    body: calc.RelativePhaseRequest,
    answers: { 200: calc.RelativePhaseAnswer },
  },
  delay: {
    method: 'post',
    path: '/calc/delay',
    summary: 'Delays that let all drivers arrive together',
    body: calc.DelayRequest,
    answers: { 200: calc.DelayAnswer },
  },
  crossoverSum: {
    method: 'post',
    path: '/calc/crossover-sum',
    summary: 'Two or more ways together',
    body: calc.CrossoverSumRequest,
    answers: { 200: calc.CrossoverSumAnswer },
  },
  polarityByEar: {
    method: 'post',
    path: '/calc/polarity-by-ear',
    summary: 'Which driver is reversed, from comparisons by ear',
    body: calc.PolarityByEarRequest,
    answers: { 200: calc.PolarityByEarAnswer },
  },
  responseAverage: {
    method: 'post',
    path: '/calc/response-average',
    summary: 'Several microphone positions as one curve',
    body: calc.ResponseAverageRequest,
    answers: { 200: calc.ResponseAverageAnswer },
  },
  equaliserResponse: {
    method: 'post',
    path: '/calc/equaliser-response',
    summary: 'What the filters of an equaliser do together',
    body: calc.EqualiserResponseRequest,
    answers: { 200: calc.EqualiserResponseAnswer },
  },
  equaliserFit: {
    method: 'post',
    path: '/calc/equaliser-fit',
    summary: 'Filters that bring a response to a target',
    body: calc.EqualiserFitRequest,
    answers: { 200: calc.EqualiserFitAnswer },
  },
  pulse: {
    method: 'post',
    path: '/calc/pulse',
    summary: 'Polarity of a driver from a recorded pulse',
    query: calc.PulseQuery,
    rawTypes: RAW_CAPTURE_TYPES,
    answers: { 200: calc.PulseAnswer },
  },
  sweepResponse: {
    method: 'post',
    path: '/calc/sweep-response',
    summary: 'From a recorded sweep to a response',
    query: calc.SweepQuery,
    rawTypes: RAW_CAPTURE_TYPES,
    answers: { 200: calc.SweepAnswer },
  },
  trace: {
    method: 'post',
    path: '/calc/trace',
    summary: 'What a scope or sound-card capture shows',
    query: calc.TraceQuery,
    body: calc.TraceJsonRequest,
    rawTypes: RAW_CAPTURE_TYPES,
    answers: { 200: calc.TraceAnswer },
  },
  listTunes: {
    method: 'get',
    path: '/tunes',
    summary:
      'Tunes, with what is next and what needs attention; X-Total-Count says how many there are in all, X-Pending-Count how many of these are still being worked out',
    query: records.TuneListQuery,
    answers: { 200: answers.TuneListAnswer },
  },
  listArchive: { method: 'get', path: '/tunes/archive', summary: 'Tunes that were put away', answers: { 200: answers.DeletedTunesAnswer } },
  copyTune: {
    method: 'post',
    path: '/tunes/{tuneId}/copy',
    summary: 'A new tune with the same chain and settings, nothing measured',
    body: records.NewTuneSchema,
    answers: { 201: answers.TuneAnswer },
  },
  readShop: {
    method: 'get',
    path: '/shop',
    summary: 'The shop’s house rules and meter: what a new tune begins with',
    answers: { 200: answers.ShopAnswer },
  },
  saveShop: {
    method: 'put',
    path: '/shop',
    summary: 'Change the shop’s house rules and meter',
    body: records.SaveShopSchema,
    answers: { 200: answers.ShopAnswer },
  },
  listGear: {
    method: 'get',
    path: '/gear',
    summary: 'The gear of the shop: its library, the gear in tunes, and what was measured on it',
    answers: { 200: answers.GearAnswer },
  },
  saveGear: {
    method: 'put',
    path: '/gear/{gearId}',
    summary: 'Put gear into the library, or change it there; no tune changes',
    body: gear.SaveGearSchema,
    answers: { 200: answers.GearRowAnswer },
  },
  removeGear: {
    method: 'delete',
    path: '/gear/{gearId}',
    summary: 'Take gear out of the library; no tune changes',
    answers: { 204: 'nothing' },
  },
  createTune: {
    method: 'post',
    path: '/tunes',
    summary: 'A new tune with an empty chain',
    body: records.NewTuneSchema,
    answers: { 201: answers.TuneAnswer },
  },
  readTune: {
    method: 'get',
    path: '/tunes/{tuneId}',
    summary: 'A tune with its chain, readings, traces and marks',
    answers: { 200: answers.TuneAnswer },
  },
  readRun: {
    method: 'get',
    path: '/tunes/{tuneId}/run',
    summary: 'The steps of a tune in order, with the status and next move of each',
    query: records.RunQuery,
    answers: { 200: answers.RunAnswer },
  },
  readSheet: {
    method: 'get',
    path: '/tunes/{tuneId}/sheet.pdf',
    summary: 'The owner’s sheet as a PDF: on A4, on Letter, or as a card for the glovebox',
    query: records.SheetQuery,
    answers: { 200: { file: 'application/pdf' } },
  },
  listSheets: {
    method: 'get',
    path: '/tunes/{tuneId}/sheets',
    summary: 'The sheets of a tune that were signed, each as it was then',
    answers: { 200: answers.SignedSheetsAnswer },
  },
  signSheet: {
    method: 'post',
    path: '/tunes/{tuneId}/sheets',
    summary: 'Sign the current sheet; sent twice, it is signed once',
    body: handover.SignSheetSchema,
    answers: { 201: answers.SignedSheetAnswer },
  },
  exportTune: {
    method: 'get',
    path: '/tunes/{tuneId}/export.zip',
    summary: 'The whole tune as a ZIP: JSON with its schema, captures as they came, readings and curves as CSV, drawing, signed sheets',
    answers: { 200: { file: 'application/zip' } },
  },
  exportAll: {
    method: 'get',
    path: '/export.zip',
    summary: 'All tunes as one ZIP, as exportTune has them',
    answers: { 200: { file: 'application/zip' } },
  },
  bringIn: {
    method: 'post',
    path: '/import',
    summary: 'Bring in the tunes of such a ZIP: what is here already stays, another state of it comes as a copy',
    rawTypes: ['application/zip'],
    answers: { 200: answers.BroughtInAnswer },
  },
  readChanges: {
    method: 'get',
    path: '/tunes/{tuneId}/changes',
    summary: 'How often anything of a tune was changed; with since, what was changed after that count',
    query: records.ChangesQuery,
    answers: { 200: answers.ChangesAnswer },
  },
  saveTune: {
    method: 'put',
    path: '/tunes/{tuneId}',
    summary: 'Change name, vehicle, house rules or meter',
    body: records.SaveTuneSchema,
    answers: { 200: answers.TuneHeadAnswer },
  },
  deleteTune: { method: 'delete', path: '/tunes/{tuneId}', summary: 'Put a tune away; it can be restored', answers: { 204: 'nothing' } },
  restoreTune: {
    method: 'post',
    path: '/tunes/{tuneId}/restore',
    summary: 'Bring a tune back that was put away',
    answers: { 204: 'nothing' },
  },
  editTune: {
    method: 'put',
    path: '/tunes/{tuneId}/edits/{editId}',
    summary:
      'Change single fields of the chain, or of name, vehicle and settings; sent twice it is done once, and edits of different fields merge',
    body: records.EditSchema,
    answers: { 200: answers.EditAnswer },
  },
  readHistory: {
    method: 'get',
    path: '/tunes/{tuneId}/history',
    summary: 'Every accepted change of a tune, the newest first',
    query: records.HistoryQuery,
    answers: { 200: answers.HistoryAnswer },
  },
  readRevision: {
    method: 'get',
    path: '/tunes/{tuneId}/chain/{version}',
    summary: 'The chain as it was at a revision',
    answers: { 200: answers.ChainAnswer },
  },
  tuneEvents: {
    method: 'get',
    path: '/tunes/{tuneId}/events',
    summary: 'Server-sent events: each change of the tune, and which devices look at it',
    query: records.EventsQuery,
    answers: { 200: { file: 'text/event-stream' } },
  },
  saveChain: {
    method: 'put',
    path: '/tunes/{tuneId}/chain',
    summary: 'Change the chain',
    body: records.SaveChainSchema,
    answers: { 200: answers.ChainAnswer },
  },
  saveReading: {
    method: 'put',
    path: '/tunes/{tuneId}/readings/{readingId}',
    summary: 'Store a reading; sending it twice stores it once',
    body: records.NewReadingSchema,
    answers: { 200: answers.SavedReadingOutcome, 201: answers.SavedReadingOutcome },
  },
  voidReading: {
    method: 'post',
    path: '/tunes/{tuneId}/readings/{readingId}/void',
    summary: 'Void a reading with a reason',
    body: records.VoidSchema,
    answers: { 204: 'nothing' },
  },
  restoreReading: {
    method: 'post',
    path: '/tunes/{tuneId}/readings/{readingId}/restore',
    summary: 'Count a voided reading again',
    answers: { 204: 'nothing' },
  },
  saveMark: {
    method: 'put',
    path: '/tunes/{tuneId}/marks/{stepId}',
    summary: 'Tick checks of a step, or skip it with a reason',
    body: records.SaveMarkSchema,
    answers: { 200: answers.SavedMarkAnswer },
  },
  saveTrace: {
    method: 'put',
    path: '/tunes/{tuneId}/traces/{traceId}',
    summary: 'Store a capture as it is and analyse it',
    query: records.TraceUploadQuery,
    rawTypes: RAW_CAPTURE_TYPES,
    answers: { 200: answers.TraceInfoAnswer, 201: answers.TraceInfoAnswer },
  },
  voidTrace: {
    method: 'post',
    path: '/tunes/{tuneId}/traces/{traceId}/void',
    summary: 'Void a capture with a reason',
    body: records.VoidSchema,
    answers: { 204: 'nothing' },
  },
  restoreTrace: {
    method: 'post',
    path: '/tunes/{tuneId}/traces/{traceId}/restore',
    summary: 'Count a voided capture again',
    answers: { 204: 'nothing' },
  },
  readTracePlace: {
    method: 'get',
    path: '/tunes/{tuneId}/traces/{traceId}/place',
    summary: 'How many large captures wait before this one, which is being sent; 404 of one that does not wait',
    answers: { 200: answers.PlaceAnswer },
  },
  readTraceFile: {
    method: 'get',
    path: '/tunes/{tuneId}/traces/{traceId}/file',
    summary: 'The original bytes of a capture',
    answers: { 200: { file: 'application/octet-stream' } },
  },
  listKeys: {
    method: 'get',
    path: '/keys',
    summary: 'The key that this installation signs with, and the names of others’ keys',
    answers: { 200: answers.KeysAnswer },
  },
  nameKey: {
    method: 'put',
    path: '/keys',
    summary: 'Name the key of another installation; an empty name takes it away',
    body: handover.NameKeySchema,
    answers: { 200: answers.KeysAnswer },
  },
  openApi: { method: 'get', path: '/openapi.json', summary: 'This document', answers: { 200: Type.Object({}) } },
  loadDemo: { method: 'post', path: '/demo', summary: 'Load the demo tunes that are not there', answers: { 200: answers.DemoAnswer } },
} satisfies Record<string, Omit<Operation, 'id'>>;

export type OperationId = keyof typeof operations;

export const OPERATIONS: readonly (Operation & { id: OperationId })[] = Object.entries(operations).map(([id, operation]) => ({
  id: id as OperationId,
  ...operation,
}));
