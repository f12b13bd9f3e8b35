import { createHash } from 'node:crypto';
import {
  EXPORT_VERSION,
  ManifestSchema,
  NEW_READING_SCHEMAS,
  TuneFileSchema,
  type BroughtIn,
  SignatureSchema,
  type Manifest,
  type OperationKind,
  type TuneFile,
} from '@yield/contract';
import { validateBody } from '@yield/contract/validate';
import {
  ANALYSIS_VERSION,
  captureIntake,
  chainFaults,
  CoreError,
  takesReading,
  type CaptureSpec,
  type Fault,
  type TraceAnalysis,
} from '@yield/core';
import { type Provenance } from '@yield/sheet';
import { IsNull, Not, type DataSource, type EntityManager } from 'typeorm';
import { TraceEntity, TuneEntity } from '../database/entities.ts';
import { keysOf, provenanceOf } from '../signing/keys.ts';
import type { Signature } from '../signing/signature.ts';
import { tuneParts } from '../signing/signedParts.ts';
import { record, type Actor } from '../store/history.ts';
import type { TSchema } from 'typebox';
import { openZip, refusedZip, type ZipEntry } from './readZip.ts';
import { readTuneFile, tuneFileText } from './tuneFile.ts';

const JSON_BYTES = 64_000_000;
const MAX_ENTRIES = 50_000;
const TOTAL_BYTES = 4_000_000_000;
const MAX_FAULTS = 20;

export interface ImportParts {
  dataSource: DataSource;
  /** judges a capture from its bytes; @throws {CoreError} */
  analyse: (bytes: Buffer, capture: CaptureSpec) => TraceAnalysis;
  /** largest capture, in bytes */
  traceLimitBytes: number;
}

/**
 * Brings in the tunes of an archive, all of them or none.
 *
 * A tune that is not here comes as it was. One that is here in the same state stays, and nothing is done; of one that is here in another
 * state the archive's becomes a copy, always under the same new id, so that bringing it in twice does no harm. Nothing of an archive is
 * believed: files are held against their hashes, records against their schemas, and every capture is judged anew from its bytes.
 *
 * @throws {CoreError} for anything that is wrong, with the file and the place in it; then nothing was changed
 */
export async function importZip(file: string, parts: ImportParts, actor: Actor): Promise<BroughtIn[]> {
  const { dataSource, traceLimitBytes } = parts;
  const limits = { entries: MAX_ENTRIES, fileBytes: Math.max(traceLimitBytes, JSON_BYTES), totalBytes: TOTAL_BYTES };
  const { entries, close } = await openZip(file, limits);
  try {
    const manifest = await manifestOf(entries);
    const hashes = new Map(manifest.files.map(({ path, sha256 }) => [path, sha256]));
    const outcomes: BroughtIn[] = [];
    const here: { id: string; name: string }[] = [];
    // Judged one after the other before anything is written: a transaction that waits for workers would hold up everybody.
    const ready: { tune: TuneFile; analyses: TraceAnalysis[]; provenance: Provenance }[] = [];
    const keys = keysOf(dataSource);
    const [{ key }, names] = await Promise.all([keys.signer(), keys.names()]);
    for (const { id, name, folder } of manifest.tunes) {
      const path = `${folder}tune.json`;
      const text = await bytesOf(entries, hashes, path);
      const tune = tuneIn(text, path);
      if (tune.id !== id) throw refusedZip(`${path}: it is of another tune than the manifest says.`);
      const known = await knownAs(dataSource, tune, text);
      if (known !== undefined) here.push({ id: known, name });
      else {
        const signature = await signatureIn(entries, hashes, `${folder}signature.json`);
        const provenance = provenanceOf(signature, () => tuneParts(tune), key, names);
        ready.push({ tune, provenance, analyses: await analysesOf(tune, entries, hashes, parts) });
      }
    }
    await dataSource.transaction(async (manager) => {
      for (const { id, name } of here)
        outcomes.push({ id, name, outcome: (await broughtBack(manager, id, actor)) ? 'restored' : 'already here' });
      for (const { tune, analyses, provenance } of ready) {
        const isFree = !(await isTaken(manager, tune));
        const stored = isFree ? tune : copyOf(tune);
        await insert(manager, stored, analyses, (index) => bytesOf(entries, hashes, tune.captures[index]!.path));
        const outcome = isFree ? 'restored' : 'copied';
        await record(manager, stored.id, { kind: 'brought-in', subject: tune.id, body: { name: tune.name, outcome, provenance } }, actor);
        outcomes.push({ id: stored.id, name: tune.name, outcome, provenance });
      }
    });
    return outcomes;
  } finally {
    close();
  }
}

async function bytesOf(entries: ReadonlyMap<string, ZipEntry>, hashes: ReadonlyMap<string, string>, path: string): Promise<Buffer> {
  const entry = entries.get(path);
  const sha256 = hashes.get(path);
  if (entry === undefined || sha256 === undefined)
    throw refusedZip(`${path}: it is missing in the ${entry === undefined ? 'archive' : 'manifest'}.`);
  return entry.read(sha256);
}

function parsed(bytes: Buffer, path: string): unknown {
  if (bytes.length > JSON_BYTES) throw refusedZip(`${path}: it is longer than any that Yield writes.`);
  try {
    return JSON.parse(bytes.toString('utf8')) as unknown;
  } catch (error) {
    throw refusedZip(`${path}: it is not valid JSON${error instanceof RangeError ? ': it is nested too deeply' : ''}.`);
  }
}

/** The signature of a tune; undefined of an archive from before they were signed. */
async function signatureIn(
  entries: ReadonlyMap<string, ZipEntry>,
  hashes: ReadonlyMap<string, string>,
  path: string,
): Promise<Signature | undefined> {
  if (!entries.has(path)) return undefined;
  return checked(SignatureSchema, parsed(await bytesOf(entries, hashes, path), path), path) as Signature;
}

async function manifestOf(entries: ReadonlyMap<string, ZipEntry>): Promise<Manifest> {
  const entry = entries.get('manifest.json');
  if (entry === undefined) throw refusedZip('manifest.json is missing: this is no archive of Yield.');
  if (entry.byteLength > JSON_BYTES) throw refusedZip('manifest.json is longer than any that Yield writes.');
  const value = parsed(await entry.read(), 'manifest.json');
  versionCheck(value, 'manifest.json', 'yield-export');
  const manifest = checked(ManifestSchema, value, 'manifest.json') as Manifest;
  const ids = new Set(manifest.tunes.map(({ id }) => id.toLowerCase()));
  if (ids.size !== manifest.tunes.length) throw refusedZip('manifest.json: a tune is named twice.');
  const named = new Set(manifest.files.map(({ path }) => path));
  if (named.size !== manifest.files.length) throw refusedZip('manifest.json: a file is named twice.');
  const foreign = [...entries.keys()].find((path) => path !== 'manifest.json' && !named.has(path));
  if (foreign !== undefined) throw refusedZip(`${foreign.slice(0, 120)}: the manifest does not name this file.`);
  return manifest;
}

/** Said in words, before a schema says that a constant is another one. */
function versionCheck(value: unknown, path: string, format: string): void {
  const { format: own, version } = (typeof value === 'object' && value !== null ? value : {}) as { format?: unknown; version?: unknown };
  if (own !== format) throw refusedZip(`${path}: this was not written by Yield.`);
  if (typeof version !== 'number' || version > EXPORT_VERSION)
    throw refusedZip(
      `${path}: it was written by a newer Yield, in version ${String(version).slice(0, 20)} of its format; this one reads up to ${EXPORT_VERSION}.`,
    );
}

function checked(schema: TSchema, value: unknown, path: string): unknown {
  const result = validateBody(schema, value);
  if (result.kind === 'faulty') throw inFile(path, result.faults);
  return result.value;
}

const inFile = (path: string, faults: readonly Fault[]): CoreError =>
  new CoreError(
    'INPUT_INVALID',
    faults.slice(0, MAX_FAULTS).map(({ pointer, message }) => ({ pointer: `/${path}${pointer}`, message })),
  );

/** A tune that holds together: every record of a kind that there is, every chain without a fault, no id twice. */
function tuneIn(bytes: Buffer, path: string): TuneFile {
  const value = parsed(bytes, path);
  versionCheck(value, path, 'yield-tune');
  const tune = checked(TuneFileSchema, value, path) as TuneFile;
  const faults: Fault[] = chainFaults(tune.chain.body).map((fault) => ({ ...fault, pointer: `/chain/body${fault.pointer}` }));
  tune.readings.forEach(({ stepId, kind, value: shown, resolution, takenAt, conditions }, i) => {
    const schema = NEW_READING_SCHEMAS.get(kind);
    if (schema === undefined || !takesReading(stepId, kind))
      faults.push({ pointer: `/readings/${i}/kind`, message: `the step ${stepId} takes no reading of this kind` });
    else {
      const fit = validateBody(schema, { stepId, kind, value: shown, resolution, takenAt, conditions });
      if (fit.kind === 'faulty') faults.push(...fit.faults.map((fault) => ({ ...fault, pointer: `/readings/${i}${fault.pointer}` })));
    }
  });
  tune.captures.forEach(({ stepId, conditions, path: place }, i) => {
    const intake = captureIntake(stepId);
    if (intake?.at !== conditions.at) faults.push({ pointer: `/captures/${i}/stepId`, message: 'this step takes no such capture' });
    if (!place.startsWith(`tunes/${tune.id}/captures/`))
      faults.push({ pointer: `/captures/${i}/path`, message: 'a capture lies in the folder of its tune' });
  });
  const twice = (rows: readonly { id: string }[], name: string): void => {
    if (new Set(rows.map(({ id }) => id.toLowerCase())).size !== rows.length)
      faults.push({ pointer: `/${name}`, message: 'an id stands there twice' });
  };
  twice(tune.readings, 'readings');
  twice(tune.captures, 'captures');
  twice(tune.operations, 'operations');
  twice(tune.sheets, 'sheets');
  for (const [rows, name] of [
    [tune.marks.map(({ stepId }) => stepId), 'marks'],
    [tune.operations.map(({ change }) => change), 'operations'],
    [tune.revisions.map(({ version }) => version), 'revisions'],
    [tune.sheets.map(({ issue }) => issue), 'sheets'],
  ] as const)
    if (new Set<string | number>(rows).size !== rows.length)
      faults.push({ pointer: `/${name}`, message: 'two of these are one and the same' });
  if (tune.operations.some(({ change }) => change > tune.changes))
    faults.push({ pointer: '/changes', message: 'the history goes on beyond it' });
  if (faults.length > 0) throw inFile(path, faults);
  return tune;
}

/** What bringing in, putting away and bringing back leave in the history changes nothing of what the tune says. */
const COMINGS_AND_GOINGS: readonly OperationKind[] = ['brought-in', 'put-away', 'brought-back'];

/** A tune as it was when an archive of it was written, where it only came and went since. */
function asWritten(own: TuneFile, archived: TuneFile): TuneFile {
  const since = own.operations.filter(({ change }) => change > archived.changes);
  if (since.some(({ kind }) => !COMINGS_AND_GOINGS.includes(kind))) return own;
  const { changes, updatedAt, headVersion } = archived;
  return { ...own, changes, updatedAt, headVersion, operations: own.operations.filter((operation) => !since.includes(operation)) };
}

/** @returns the id under which this very state is here already, as itself or as a copy that was brought in before */
async function knownAs(dataSource: DataSource, tune: TuneFile, bytes: Buffer): Promise<string | undefined> {
  const isThere = async (id: string): Promise<boolean> =>
    (await dataSource.query<unknown[]>('SELECT 1 FROM "tune" WHERE "id" = $1', [id])).length > 0;
  if (!(await isThere(tune.id))) return undefined;
  const own = await dataSource.transaction('REPEATABLE READ', (manager) => readTuneFile(manager, tune.id, { withPutAway: true }));
  if (tuneFileText(asWritten(own, tune)) === bytes.toString('utf8')) return tune.id;
  const copy = copyId(tune);
  return (await isThere(copy)) ? copy : undefined;
}

/** One that is here but was put away is what somebody asks for. @returns whether it was */
async function broughtBack(manager: EntityManager, id: string, actor: Actor): Promise<boolean> {
  const { affected } = await manager.update(TuneEntity, { id, deletedAt: Not(IsNull()) }, { deletedAt: null });
  if (affected === 0) return false;
  await record(manager, id, { kind: 'brought-back', body: {} }, actor);
  return true;
}

async function analysesOf(
  { captures, settings }: TuneFile,
  entries: ReadonlyMap<string, ZipEntry>,
  hashes: ReadonlyMap<string, string>,
  { analyse, traceLimitBytes }: ImportParts,
): Promise<TraceAnalysis[]> {
  const analyses: TraceAnalysis[] = [];
  for (const { path, sha256, byteLength, conditions, channelIndex, fullScaleVolt, probe } of captures) {
    if (byteLength > traceLimitBytes) throw refusedZip(`${path}: this capture is larger than ${Math.round(traceLimitBytes / 1e6)} MB.`);
    if (hashes.get(path) !== sha256) throw refusedZip(`${path}: manifest and tune name different hashes.`);
    const bytes = await bytesOf(entries, hashes, path);
    if (bytes.length !== byteLength) throw refusedZip(`${path}: it has ${bytes.length} bytes, and ${byteLength} are told.`);
    const options = {
      conditions,
      limitThdPercent: settings.rules.limitThdPercent,
      fullScaleVolt: fullScaleVolt ?? null,
      probe: probe ?? null,
    };
    const analysis = judged(path, () => analyse(bytes, options));
    if (channelIndex >= analysis.channels.length) throw refusedZip(`${path}: it has ${analysis.channels.length} channels.`);
    analyses.push(analysis);
  }
  return analyses;
}

function judged(path: string, analyse: () => TraceAnalysis): TraceAnalysis {
  try {
    return analyse();
  } catch (error) {
    if (error instanceof CoreError) throw refusedZip(`${path}: ${error.faults[0]?.message ?? error.message}`);
    throw error;
  }
}

/** Whether the tune, or anything of it, is here already under its id. */
async function isTaken(manager: EntityManager, tune: TuneFile): Promise<boolean> {
  const has = async (table: string, ids: readonly string[]): Promise<boolean> =>
    ids.length > 0 && (await manager.query<unknown[]>(`SELECT 1 FROM "${table}" WHERE "id" = ANY($1::uuid[]) LIMIT 1`, [ids])).length > 0;
  const ids = (rows: readonly { id: string }[]): string[] => rows.map(({ id }) => id);
  return (
    (await has('tune', [tune.id])) ||
    (await has('reading', ids(tune.readings))) ||
    (await has('trace', ids(tune.captures))) ||
    (await has('operation', ids(tune.operations))) ||
    (await has('signed_sheet', ids(tune.sheets)))
  );
}

/** An id that follows from a text: the same every time. @see RFC 9562, UUID version 8 */
function idFrom(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex');
  const variant = ((parseInt(hex[16]!, 16) & 0x3) | 0x8).toString(16);
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-${variant}${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

const copyId = (tune: TuneFile): string => idFrom(tuneFileText(tune));

/** The same tune under ids of its own. */
function copyOf(tune: TuneFile): TuneFile {
  const id = copyId(tune);
  const own = (old: string): string => idFrom(`${id}/${old.toLowerCase()}`);
  const renamed = new Map([...tune.readings, ...tune.captures, ...tune.sheets].map((row) => [row.id, own(row.id)]));
  const alike = <T extends { id: string }>(rows: readonly T[]): T[] => rows.map((row) => ({ ...row, id: own(row.id) }));
  return {
    ...tune,
    id,
    readings: alike(tune.readings),
    captures: alike(tune.captures),
    sheets: alike(tune.sheets),
    operations: alike(tune.operations).map((row) =>
      row.subject === undefined ? row : { ...row, subject: renamed.get(row.subject) ?? row.subject },
    ),
  };
}

/** Rows of one table, by names and types of its columns, however many there are. */
const rowsInto = (
  manager: EntityManager,
  table: string,
  columns: readonly (readonly [name: string, type: string])[],
  rows: readonly object[],
): Promise<unknown> =>
  rows.length === 0
    ? Promise.resolve()
    : manager.query(
        `INSERT INTO "${table}" (${columns.map(([name]) => `"${name}"`).join(', ')})
         SELECT ${columns.map(([name]) => `"${name}"`).join(', ')} FROM jsonb_to_recordset($1::jsonb) AS "rows" (${columns.map(([name, type]) => `"${name}" ${type}`).join(', ')})`,
        [JSON.stringify(rows)],
      );

const TIME = 'timestamptz';

async function insert(
  manager: EntityManager,
  tune: TuneFile,
  analyses: readonly TraceAnalysis[],
  bytesOfCapture: (index: number) => Promise<Buffer>,
): Promise<void> {
  const { id: tune_id } = tune;
  await manager.query(
    `INSERT INTO "tune" ("id", "name", "vehicle", "settings", "version", "created_at", "updated_at", "changes") VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
    [tune_id, tune.name, tune.vehicle, JSON.stringify(tune.settings), tune.headVersion, tune.createdAt, tune.updatedAt, tune.changes],
  );
  await manager.query('INSERT INTO "chain" ("tune_id", "body", "version") VALUES ($1, $2, $3)', [
    tune_id,
    JSON.stringify(tune.chain.body),
    tune.chain.version,
  ]);
  await rowsInto(
    manager,
    'chain_revision',
    [
      ['tune_id', 'uuid'],
      ['version', 'integer'],
      ['body', 'jsonb'],
    ],
    tune.revisions.map((row) => ({ ...row, tune_id })),
  );
  const stored = ({
    takenAt,
    clientAt,
    storedAt,
    voidedAt,
    voidedReason,
    chainVersion,
  }: TuneFile['readings'][number] | TuneFile['captures'][number]) => ({
    taken_at: takenAt,
    client_at: clientAt,
    stored_at: storedAt,
    voided_at: voidedAt,
    voided_reason: voidedReason,
    chain_version: chainVersion,
  });
  await rowsInto(
    manager,
    'reading',
    [
      ['id', 'uuid'],
      ['tune_id', 'uuid'],
      ['step_id', 'text'],
      ['kind', 'text'],
      ['value', 'float8'],
      ['resolution', 'float8'],
      ['conditions', 'jsonb'],
      ['taken_at', TIME],
      ['client_at', TIME],
      ['stored_at', TIME],
      ['voided_at', TIME],
      ['voided_reason', 'text'],
      ['chain_version', 'integer'],
    ],
    tune.readings.map((row) => {
      const { id, stepId: step_id, kind, value, resolution, conditions } = row;
      return { id, tune_id, step_id, kind, value, resolution, conditions, ...stored(row) };
    }),
  );
  await rowsInto(
    manager,
    'mark',
    [
      ['tune_id', 'uuid'],
      ['step_id', 'text'],
      ['version', 'integer'],
      ['checks', 'jsonb'],
      ['basis', 'text'],
      ['basis_words', 'text'],
      ['values', 'jsonb'],
      ['skipped_reason', 'text'],
      ['chain_version', 'integer'],
    ],
    tune.marks.map(({ stepId: step_id, basisWords: basis_words, skippedReason: skipped_reason, chainVersion: chain_version, ...row }) => ({
      ...row,
      tune_id,
      step_id,
      basis_words,
      skipped_reason,
      chain_version,
    })),
  );
  await rowsInto(
    manager,
    'operation',
    [
      ['id', 'uuid'],
      ['tune_id', 'uuid'],
      ['kind', 'text'],
      ['subject', 'text'],
      ['body', 'jsonb'],
      ['chain_version', 'integer'],
      ['change', 'integer'],
      ['at', TIME],
      ['client_at', TIME],
      ['who', 'text'],
    ],
    tune.operations.map(({ chainVersion: chain_version, clientAt: client_at, ...row }) => ({ ...row, tune_id, chain_version, client_at })),
  );
  await rowsInto(
    manager,
    'signed_sheet',
    [
      ['id', 'uuid'],
      ['tune_id', 'uuid'],
      ['issue', 'integer'],
      ['signed_by', 'text'],
      ['signed_at', TIME],
      ['left_open', 'text'],
      ['chain_version', 'integer'],
      ['changes', 'integer'],
      ['sheet', 'jsonb'],
      ['signature', 'jsonb'],
    ],
    tune.sheets.map(({ signedBy: signed_by, signedAt: signed_at, leftOpen: left_open, chainVersion: chain_version, ...row }) => ({
      ...row,
      tune_id,
      signed_by,
      signed_at,
      left_open,
      chain_version,
    })),
  );
  for (const [index, capture] of tune.captures.entries()) {
    const { path: _path, takenAt, clientAt, storedAt, voidedAt, voidedReason, chainVersion, fullScaleVolt, probe, ...row } = capture;
    await manager.insert(TraceEntity, {
      ...row,
      tuneId: tune_id,
      bytes: await bytesOfCapture(index),
      analysis: analyses[index]!,
      analysisVersion: ANALYSIS_VERSION,
      fullScaleVolt: fullScaleVolt ?? null,
      probe: probe ?? null,
      takenAt: new Date(takenAt),
      clientAt: clientAt === undefined ? null : new Date(clientAt),
      storedAt: new Date(storedAt),
      voidedAt: voidedAt === undefined ? null : new Date(voidedAt),
      voidedReason: voidedReason ?? null,
      chainVersion: chainVersion ?? null,
    });
  }
}
