import type { OwnerSheet, Provenance } from '@yield/sheet';
import { Type, type Static } from 'typebox';
import type { Same } from './same.ts';
import { boundedData, instant, MAX_BROUGHT_COUNT, MAX_VERSION, name, strict, text, uuid } from './fields.ts';
import {
  ChainSchema,
  CONDITIONS_SCHEMAS,
  NewReadingSchema,
  SettingsSchema,
  StepMarkSchema,
  TraceUploadQuery,
  type OperationKind,
} from './records.ts';

const count = (title: string, minimum: number) => Type.Integer({ title, minimum, maximum: MAX_VERSION });
/** A count that an archive tells. */
const brought = (title: string, minimum: number) => Type.Integer({ title, minimum, maximum: MAX_BROUGHT_COUNT });
/** Sheets tell findings in whole sentences. */
const words = (title: string) => Type.String({ title, maxLength: 8000 });

const figure = (title: string) => Type.Number({ title });
const figures = (title: string) => Type.Array(figure(title), { title, maxItems: 400 });

export const OwnerSheetSchema = strict({
  job: words('job'),
  vehicle: words('vehicle'),
  madeAt: instant,
  isWhole: Type.Boolean({ title: 'finished' }),
  isPractice: Type.Optional(Type.Literal(true, { title: 'for practice' })),
  origin: Type.Optional(words('where it comes from')),
  signature: Type.Optional(strict({ issue: count('issue', 1), by: name('name'), at: instant, leftOpen: text('what is left open') })),
  system: strict({
    source: words('source'),
    settings: words('settings of the source'),
    processor: words('processor'),
    levels: Type.Array(strict({ name: words('output'), set: words('level') }), { title: 'levels', maxItems: 64 }),
  }),
  volumes: Type.Array(
    strict({
      name: words('settings case'),
      step: Type.Optional(Type.Number({ title: 'volume' })),
      of: Type.Number({ title: 'highest volume' }),
      isAssumed: Type.Boolean({ title: 'assumed' }),
    }),
    { title: 'volumes', maxItems: 64 },
  ),
  leaveAlone: Type.Array(strict({ what: words('what'), why: words('why') }), { title: 'leave alone', maxItems: 200 }),
  channels: Type.Array(
    strict({
      name: words('channel'),
      amplifier: words('amplifier'),
      terminals: words('terminals'),
      load: words('load'),
      drivers: words('drivers'),
      set: words('set to'),
      delivered: words('delivers'),
      before: words('delivered before'),
      filters: words('filters'),
      polarity: words('polarity'),
      delay: words('delay'),
      equaliser: words('equaliser'),
      wiring: Type.Optional(
        strict({
          terminals: words('terminals'),
          drivers: Type.Array(strict({ letter: words('letter'), name: words('driver') }), { title: 'drivers', maxItems: 64 }),
          coils: Type.Array(strict({ name: words('coil'), driver: words('driver'), ohm: figure('impedance') }), {
            title: 'coils',
            maxItems: 256,
          }),
          wires: Type.Array(
            strict({ from: words('from'), to: words('to'), kind: Type.Enum(['feed', 'series', 'parallel'], { title: 'kind of wire' }) }),
            { title: 'wires', maxItems: 1024 },
          ),
        }),
      ),
      clean: Type.Enum(['clean under load', 'not proved'], { title: 'proof' }),
    }),
    { title: 'channels', maxItems: 64 },
  ),
  open: Type.Array(words('open'), { title: 'still open', maxItems: 2000 }),
  responses: Type.Optional(
    Type.Array(
      strict({
        name: words('channel'),
        fromHz: figure('from'),
        toHz: figure('to'),
        offDb: figure('off'),
        beforeDb: Type.Optional(figure('off before')),
        hertz: figures('frequencies'),
        now: figures('levels'),
        wanted: figures('wanted levels'),
        before: Type.Optional(figures('levels before')),
      }),
      { title: 'responses', maxItems: 64 },
    ),
  ),
  readings: Type.Optional(
    Type.Array(strict({ step: words('step'), value: words('value'), at: instant, conditions: words('conditions') }), {
      title: 'readings',
      maxItems: 100_000,
    }),
  ),
});

/** Signs the sheet as it stands. The client makes the id; sent twice, it is signed once. */
export const SignSheetSchema = strict({
  id: uuid,
  /** the count of the tune's changes that whoever signs has seen */
  seen: count('changes', 1),
  signedBy: name('name'),
  leftOpen: text('what is left open, and why'),
});
export type SignSheet = Static<typeof SignSheetSchema>;

/** A sheet that was signed: it stays as it was. */
export interface SignedSheet {
  id: string;
  issue: number;
  signedBy: string;
  signedAt: string;
  leftOpen: string;
  /** the chain's revision, and the count of the tune's changes, that it was signed on */
  chainVersion: number;
  changes: number;
  sheet: OwnerSheet;
  /** whose signature it is, and whether it is as it was signed */
  provenance: Provenance;
}

const optionalInstant = Type.Optional(instant);
const chainVersion = Type.Optional(brought('revision of the chain', 1));
const voiding = { voidedAt: optionalInstant, voidedReason: Type.Optional(text('reason')) };

export const OPERATION_KINDS = [
  'created',
  'copied',
  'brought-in',
  'chain',
  'tune',
  'reading',
  'capture',
  'mark',
  'void',
  'counted-again',
  'judged-anew',
  'signed',
  'put-away',
  'brought-back',
] as const satisfies readonly OperationKind[];

/** A signature over hashes: Ed25519, the public key as 32 bytes in base64url. */
export const SignatureSchema = strict({
  key: Type.String({ title: 'key', pattern: '^[A-Za-z0-9_-]{43}$' }),
  parts: Type.Record(Type.String({ maxLength: 80 }), Type.String({ maxLength: 64 }), { title: 'what is signed', maxProperties: 32 }),
  value: Type.String({ title: 'signature', maxLength: 100 }),
});
/** A name for the key of another installation; an empty one takes it away. */
export const NameKeySchema = strict({ key: SignatureSchema.properties.key, name: Type.String({ title: 'name', maxLength: 200 }) });
export type NameKey = Static<typeof NameKeySchema>;

/** A key of an installation. */
export interface KeyInfo {
  key: string;
  /** as people compare it */
  fingerprint: string;
  name?: string;
}
export interface KnownKeys {
  own: KeyInfo;
  known: KeyInfo[];
}

/** The version of the files of an export; raised whenever an older one is to be read in another way. */
export const EXPORT_VERSION = 1;

/** tune.json of an export: everything that is stored of one tune, but the bytes of its captures. Times are ISO 8601. */
export const TuneFileSchema = strict({
  format: Type.Literal('yield-tune'),
  version: Type.Literal(EXPORT_VERSION),
  id: uuid,
  name: name('name'),
  vehicle: text('vehicle'),
  settings: SettingsSchema,
  createdAt: instant,
  updatedAt: instant,
  changes: brought('changes', 1),
  headVersion: brought('version', 1),
  chain: strict({ version: brought('revision', 1), body: ChainSchema }),
  revisions: Type.Array(strict({ version: brought('revision', 1), body: boundedData('revision') }), {
    title: 'revisions of the chain',
    maxItems: 20_000,
  }),
  readings: Type.Array(
    strict({
      id: uuid,
      stepId: NewReadingSchema.properties.stepId,
      kind: Type.String({ title: 'kind', maxLength: 64 }),
      value: NewReadingSchema.properties.value,
      resolution: NewReadingSchema.properties.resolution,
      conditions: Type.Union(Object.values(CONDITIONS_SCHEMAS), { title: 'conditions' }),
      takenAt: instant,
      clientAt: optionalInstant,
      storedAt: instant,
      ...voiding,
      chainVersion,
    }),
    { title: 'readings', maxItems: 200_000 },
  ),
  captures: Type.Array(
    strict({
      id: uuid,
      stepId: NewReadingSchema.properties.stepId,
      fileName: name('file name'),
      contentType: Type.String({ title: 'kind of file', maxLength: 100 }),
      path: Type.String({ title: 'place in the archive', maxLength: 400 }),
      sha256: Type.String({ title: 'SHA-256', pattern: '^[0-9a-f]{64}$' }),
      byteLength: Type.Integer({ title: 'bytes', minimum: 0, maximum: 1_000_000_000 }),
      channelIndex: Type.Integer({ title: 'channel', minimum: 0, maximum: 31 }),
      fullScaleVolt: TraceUploadQuery.properties.fullScaleVolt,
      probe: TraceUploadQuery.properties.probe,
      conditions: Type.Union([CONDITIONS_SCHEMAS.line, CONDITIONS_SCHEMAS.load, CONDITIONS_SCHEMAS.air], { title: 'conditions' }),
      takenAt: instant,
      clientAt: optionalInstant,
      storedAt: instant,
      ...voiding,
      chainVersion,
    }),
    { title: 'captures', maxItems: 20_000 },
  ),
  marks: Type.Array(strict({ ...StepMarkSchema.properties, version: brought('version', 1), chainVersion }), {
    title: 'ticks',
    maxItems: 20_000,
  }),
  operations: Type.Array(
    strict({
      id: uuid,
      kind: Type.Enum([...OPERATION_KINDS], { title: 'kind of change' }),
      subject: Type.Optional(text('subject')),
      body: boundedData('what was changed'),
      chainVersion: brought('revision of the chain', 1),
      change: brought('change', 1),
      at: instant,
      clientAt: optionalInstant,
      who: Type.Optional(text('who')),
    }),
    { title: 'history', maxItems: 500_000 },
  ),
  sheets: Type.Array(
    strict({
      id: uuid,
      issue: brought('issue', 1),
      signedBy: name('name'),
      signedAt: instant,
      leftOpen: text('what is left open'),
      chainVersion: brought('revision of the chain', 1),
      changes: brought('changes', 1),
      sheet: OwnerSheetSchema,
      signature: Type.Optional(SignatureSchema),
    }),
    { title: 'signed sheets', maxItems: 2000 },
  ),
});
export type TuneFile = Static<typeof TuneFileSchema>;

/** manifest.json of an export: which tunes it holds, and every file with its hash. */
export const ManifestSchema = strict({
  format: Type.Literal('yield-export'),
  version: Type.Literal(EXPORT_VERSION),
  tunes: Type.Array(strict({ id: uuid, name: name('name'), folder: Type.String({ title: 'folder', maxLength: 100 }) }), {
    title: 'tunes',
    minItems: 1,
    maxItems: 5000,
  }),
  files: Type.Array(
    strict({
      path: Type.String({ title: 'place', minLength: 1, maxLength: 400 }),
      sha256: Type.String({ title: 'SHA-256', pattern: '^[0-9a-f]{64}$' }),
      byteLength: Type.Integer({ title: 'bytes', minimum: 0, maximum: 1_000_000_000 }),
    }),
    { title: 'files', maxItems: 100_000 },
  ),
});
export type Manifest = Static<typeof ManifestSchema>;

/** What became of each tune of an archive that was brought in. */
export interface BroughtIn {
  id: string;
  name: string;
  /** restored: it was not here; copied: another state of it is here, and stays; already here: nothing was done */
  outcome: 'restored' | 'copied' | 'already here';
  /** who signed the archive, and whether it is as it was signed; left out where nothing was done */
  provenance?: Provenance;
}

export const SHEET_MATCHES_CORE: Same<Static<typeof OwnerSheetSchema>, OwnerSheet> = true;
