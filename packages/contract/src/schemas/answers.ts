import { ASKS, type Action } from '@yield/core';
import { Type, type Static, type TSchema } from 'typebox';
import { TraceAnswer } from './calculations.ts';
import { boundedData, strict } from './fields.ts';
import { GEAR_KINDS } from './gear.ts';
import { OPERATION_KINDS, OwnerSheetSchema } from './handover.ts';
import type { Same } from './same.ts';
import { ChainSchema, CONDITIONS_SCHEMAS, SaveShopSchema, SettingsSchema, StepMarkSchema } from './records.ts';

/** What the HTTP interface answers, but for the calculations. Nothing that came in is checked by these: the tests hold every answer to them. */

const id = Type.String({ format: 'uuid' });
const time = Type.String({ format: 'date-time' });
const count = Type.Integer({ minimum: 0 });
const optionalText = Type.Optional(Type.String());

export const HealthAnswer = strict({ status: Type.Literal('ok') });
export const DemoAnswer = strict({ added: count });

const ProvenanceAnswer = strict({
  kind: Type.Enum(['unsigned', 'here', 'elsewhere', 'altered']),
  key: optionalText,
  fingerprint: optionalText,
  name: optionalText,
  what: Type.Optional(Type.Array(Type.String())),
});

const headFields = { id, name: Type.String(), vehicle: Type.String(), version: count, updatedAt: time };
export const TuneHeadAnswer = strict(headFields);
export const DeletedTunesAnswer = Type.Array(strict({ ...headFields, putAwayAt: time }));

const Status = Type.Enum(['open', 'done', 'stale', 'out-of-tolerance', 'stop', 'skipped']);
const SummaryRow = strict({ stepId: Type.String(), title: Type.String(), status: Status, words: Type.String() });
const Summary = strict({
  counts: Type.Record(Type.String(), count),
  total: count,
  next: Type.Optional(SummaryRow),
  attention: Type.Array(SummaryRow),
  corners: Type.Optional(
    Type.Array(strict({ place: Type.String(), amplifier: optionalText, what: Type.String(), offPercent: Type.Number() })),
  ),
  fault: optionalText,
});
export const TuneListAnswer = Type.Array(strict({ ...headFields, summary: Summary, isPending: Type.Optional(Type.Literal(true)) }));

const ChainAnswerFields = { version: count, body: ChainSchema };
export const ChainAnswer = strict(ChainAnswerFields);
const SettledTune = strict({ ...headFields, settings: SettingsSchema });

const voidable = { storedAt: Type.Optional(time), chainVersion: Type.Optional(count), voidedReason: optionalText };
const SavedReadingAnswer = strict({
  id,
  stepId: Type.String(),
  kind: Type.String(),
  value: Type.Number(),
  resolution: Type.Number(),
  conditions: Type.Union(Object.values(CONDITIONS_SCHEMAS)),
  takenAt: time,
  ...voidable,
});
export const TraceInfoAnswer = strict({
  id,
  stepId: Type.String(),
  fileName: Type.String(),
  channelIndex: count,
  analysis: TraceAnswer,
  conditions: Type.Union([CONDITIONS_SCHEMAS.line, CONDITIONS_SCHEMAS.load, CONDITIONS_SCHEMAS.air]),
  takenAt: time,
  ...voidable,
  sha256: Type.String({ pattern: '^[0-9a-f]{64}$' }),
  byteLength: count,
  analysisVersion: count,
  fullScaleVolt: Type.Optional(Type.Number()),
  probe: Type.Optional(Type.Number()),
});
export const SavedMarkAnswer = strict({ ...StepMarkSchema.properties, version: count, chainVersion: Type.Optional(count) });

const records = {
  readings: Type.Array(SavedReadingAnswer),
  traces: Type.Array(TraceInfoAnswer),
  marks: Type.Array(SavedMarkAnswer),
};
export const TuneAnswer = strict({
  ...headFields,
  origin: Type.Optional(strict({ at: time, provenance: ProvenanceAnswer })),
  changes: count,
  settings: SettingsSchema,
  chain: ChainAnswer,
  ...records,
});
/** What an edit made of the chain, or of the tune's name, vehicle and settings. */
export const EditAnswer = Type.Union([ChainAnswer, SettledTune]);
export const ChangesAnswer = strict({
  changes: count,
  whole: Type.Optional(Type.Literal(true)),
  head: Type.Optional(SettledTune),
  chain: Type.Optional(ChainAnswer),
  readings: Type.Optional(records.readings),
  traces: Type.Optional(records.traces),
  marks: Type.Optional(records.marks),
});
export const HistoryAnswer = Type.Array(
  strict({
    id,
    kind: Type.Enum([...OPERATION_KINDS]),
    subject: optionalText,
    body: boundedData('what was changed'),
    chainVersion: count,
    change: count,
    at: time,
    clientAt: Type.Optional(time),
    who: optionalText,
  }),
);
export const SavedReadingOutcome = strict({ outcome: Type.Enum(['stored', 'already there']), takenAt: time });
export const PlaceAnswer = strict({ before: count, waiting: count });

const Grade = Type.Enum(['good', 'attention', 'stop', 'stale', 'note']);
const fields = Type.Record(Type.String(), Type.Unknown());
/** The moves are a language of their own, told in docs/actions.md: `kind` says which, and what else it carries. */
const ActionAnswer = Type.Union([
  strict({ kind: Type.Literal('read'), reading: Type.String(), unit: Type.String() }),
  strict({ kind: Type.Literal('capture'), judged: Type.Enum(['tone', 'sweep', 'pulse']) }),
  strict({ kind: Type.Literal('tick'), checks: Type.Array(Type.String()), basis: optionalText, basisWords: optionalText }),
  strict({
    kind: Type.Enum(['turn-gain', 'turn-input', 'turn-output']),
    byDb: Type.Number(),
    to: Type.Optional(Type.Number()),
    unit: Type.Optional(Type.Literal('V')),
  }),
  strict({ kind: Type.Literal('align'), addSecond: Type.Record(Type.String(), Type.Number()), reverse: Type.Array(Type.String()) }),
  strict({
    kind: Type.Literal('set-volume'),
    to: Type.Number(),
    unit: Type.Literal('step'),
    source: Type.Record(Type.String(), Type.Union([Type.Number(), Type.String()])),
  }),
  strict({ kind: Type.Literal('set-filter'), channelId: Type.String(), channel: fields }),
  strict({ kind: Type.Literal('rewire'), channelId: Type.String(), channel: Type.Optional(fields) }),
  strict({ kind: Type.Literal('take-winding'), channelId: Type.String(), channel: fields }),
  strict({ kind: Type.Literal('describe'), what: Type.Enum([...ASKS]) }),
  strict({ kind: Type.Literal('void'), of: Type.Enum(['reading', 'capture']), id: Type.String() }),
  strict({ kind: Type.Literal('go'), to: Type.String() }),
]);
/** An action of the core that the schema lacks, or the other way round, does not compile. */
export const ACTIONS_MATCH_CORE: Same<Action, Static<typeof ActionAnswer>> = true;
const figureKinds = [Type.Number(), Type.String(), Type.Boolean()];
/** Code and figures are what a program goes by; text and next are those figures in words, left out with `words=off`. */
const FindingAnswer = strict({
  code: Type.String(),
  grade: Grade,
  figures: Type.Record(Type.String(), Type.Union([...figureKinds, Type.Array(Type.Union(figureKinds))])),
  text: optionalText,
  next: optionalText,
  action: Type.Optional(ActionAnswer),
});
const CheckAnswer = strict({ id: Type.String(), words: Type.String(), how: optionalText });
export const RunAnswer = strict({
  steps: Type.Array(
    strict({
      id: Type.String(),
      kind: Type.String(),
      stage: Type.String(),
      title: Type.String(),
      status: Status,
      plays: Type.Enum(['nothing', 'line', 'load', 'air']),
      isLocked: Type.Boolean(),
      isOptional: Type.Boolean(),
      takes: Type.Array(Type.Object({ type: Type.Enum(['reading', 'capture']), at: Type.String() })),
      target: Type.Optional(strict({ value: Type.Number(), unit: Type.Enum(['V', 'ohm']) })),
      conditions: Type.Optional(Type.Union(Object.values(CONDITIONS_SCHEMAS))),
      checks: Type.Optional(Type.Array(CheckAnswer)),
      caution: optionalText,
      findings: Type.Array(FindingAnswer),
      action: Type.Optional(ActionAnswer),
    }),
  ),
});

export const SignedSheetAnswer = strict({
  id,
  issue: count,
  signedBy: Type.String(),
  signedAt: time,
  leftOpen: Type.String(),
  chainVersion: count,
  changes: count,
  sheet: OwnerSheetSchema,
  provenance: ProvenanceAnswer,
});
export const SignedSheetsAnswer = Type.Array(SignedSheetAnswer);
export const BroughtInAnswer = Type.Array(
  strict({
    id,
    name: Type.String(),
    outcome: Type.Enum(['restored', 'copied', 'already here']),
    provenance: Type.Optional(ProvenanceAnswer),
  }),
);

const KeyAnswer = strict({ key: Type.String(), fingerprint: Type.String(), name: optionalText });
export const KeysAnswer = strict({ own: KeyAnswer, known: Type.Array(KeyAnswer) });
export const ShopAnswer = SaveShopSchema;
export const GearRowAnswer: TSchema = strict({
  id: Type.String(),
  kind: Type.Enum([...GEAR_KINDS]),
  name: Type.String(),
  version: count,
  body: boundedData('gear'),
  tunes: Type.Array(Type.String()),
  figures: Type.Array(
    strict({
      tuneId: id,
      tune: Type.String(),
      what: Type.String(),
      value: Type.Number(),
      unit: Type.Enum(['V', 'ohm', 'step', '%']),
      loadOhm: Type.Optional(Type.Number()),
    }),
  ),
});
export const GearAnswer = Type.Array(GearRowAnswer);
