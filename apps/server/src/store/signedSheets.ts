import { say } from '@yield/words';
import type { SignedSheet, SignSheet, TuneDetail } from '@yield/contract';
import { runOf, settledSituation } from '@yield/core';
import { originWords, ownerSheet, type OwnerSheet } from '@yield/sheet';
import type { DataSource } from 'typeorm';
import { faulty, notFound, staleSave } from '../problem.ts';
import { changeTune, NOBODY, type Actor } from './history.ts';
import { keysOf, provenanceOf } from '../signing/keys.ts';
import type { Signature } from '../signing/signature.ts';
import { sheetParts, type historyHash } from '../signing/signedParts.ts';
import { told } from '../told.ts';
import { headOf } from './rows.ts';
import { TuneEntity } from '../database/entities.ts';

/** The sheet of a tune as it stands, unsigned. */
export function sheetOf({ name, vehicle, chain, settings, origin, ...records }: TuneDetail, madeAt: string): OwnerSheet {
  const now = settledSituation(chain.body, settings, records);
  return ownerSheet(now, runOf(now), { job: name, vehicle, madeAt, ...(origin === undefined ? {} : { origin: originWords(origin) }) }, say);
}

interface Row extends Omit<SignedSheet, 'signedAt' | 'provenance'> {
  signedAt: Date;
  signature: Signature | null;
}

const COLUMNS = `"id", "issue", "signed_by" AS "signedBy", "signed_at" AS "signedAt", "left_open" AS "leftOpen",
  "chain_version" AS "chainVersion", "changes", "sheet", "signature"`;

type Queries = Pick<DataSource, 'query'>;

/** The record of a tune as signatures see it, oldest first. */
const operationsOf = (database: Queries, tuneId: string): Promise<(OperationRow & { at: string })[]> =>
  database
    .query<OperationRow[]>(
      `SELECT "kind", "body", "chain_version" AS "chainVersion", "change", "at", "client_at" AS "clientAt", "who" FROM "operation"
       WHERE "tune_id" = $1 ORDER BY "change"`,
      [tuneId],
    )
    .then((rows) => rows.map(told));

type OperationRow = Parameters<typeof historyHash>[0][number];

/** The sheets of a tune that were signed, the first one first, each with whose signature it is. */
export async function signedSheets(dataSource: Queries, tuneId: string): Promise<SignedSheet[]> {
  const rows = await dataSource.query<Row[]>(`SELECT ${COLUMNS} FROM "signed_sheet" WHERE "tune_id" = $1 ORDER BY "issue"`, [tuneId]);
  if (rows.length === 0) return [];
  const keys = keysOf(dataSource);
  // One after the other: within a transaction they share one connection.
  const operations = await operationsOf(dataSource, tuneId);
  const { key } = await keys.signer();
  const names = await keys.names();
  return rows.map(({ signature, ...row }) => {
    const signed = { ...row, signedAt: row.signedAt.toISOString() };
    return { ...signed, provenance: provenanceOf(signature, () => sheetParts(signed, operations), key, names) };
  });
}

/** @throws {Problem} 404 where there is no such issue */
export async function signedSheet(dataSource: DataSource, tuneId: string, issue: number): Promise<SignedSheet> {
  const all = await signedSheets(dataSource, tuneId);
  const found = all.find((each) => each.issue === issue);
  if (found === undefined) throw notFound(`Issue ${issue} of this sheet`);
  return found;
}

/**
 * Signs the sheet of a tune as it stands, as the next issue.
 *
 * @param tune - as it is stored now
 * @throws {Problem} 409 where it was changed since whoever signs has seen it; 422 where something is open and nothing is said of it
 */
export function signSheet(
  dataSource: DataSource,
  tune: TuneDetail,
  { id, seen, signedBy, leftOpen }: SignSheet,
  actor: Actor = NOBODY,
): Promise<SignedSheet> {
  return changeTune(dataSource, tune.id, actor, async (manager, chainVersion) => {
    const before = await signedSheets(manager, tune.id);
    const known = before.find((each) => each.id === id);
    if (known !== undefined) return { result: known };
    const row = await manager.findOneByOrFail(TuneEntity, { id: tune.id });
    // What is signed is what was seen: neither the screen's state nor the one worked out here may have been overtaken.
    if (row.changes !== seen || row.changes !== tune.changes) throw staleSave('This tune', headOf(row));
    const at = new Date();
    const sheet = sheetOf(tune, at.toISOString());
    if (!sheet.isWhole && leftOpen.trim() === '')
      throw faulty([{ pointer: '/leftOpen', message: 'something is still open: say what was left, and why' }]);
    const issue = (before.at(-1)?.issue ?? 0) + 1;
    const signature = { issue, by: signedBy.trim(), at: at.toISOString(), leftOpen: leftOpen.trim() };
    const signed = {
      id,
      issue,
      signedBy: signature.by,
      signedAt: signature.at,
      leftOpen: signature.leftOpen,
      chainVersion,
      changes: seen,
      sheet: { ...sheet, signature },
    };
    const parts = sheetParts(signed, await operationsOf(manager, tune.id));
    const signer = await keysOf(dataSource).signer();
    const [added] = await manager.query<Row[]>(
      `INSERT INTO "signed_sheet" ("id", "tune_id", "issue", "signed_by", "left_open", "sheet", "chain_version", "changes", "signed_at", "signature")
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT DO NOTHING RETURNING ${COLUMNS}`,
      [
        id,
        tune.id,
        issue,
        signature.by,
        signature.leftOpen,
        JSON.stringify(signed.sheet),
        chainVersion,
        seen,
        at,
        JSON.stringify(signer.sign(parts)),
      ],
    );
    if (added === undefined) throw faulty([{ pointer: '/id', message: 'another sheet is stored under this id' }]);
    return {
      result: { ...signed, provenance: provenanceOf(added.signature, () => parts, signer.key, new Map()) },
      operation: { kind: 'signed', subject: id, body: { issue, by: signature.by, leftOpen: signature.leftOpen } },
    };
  });
}
