import type { SignedSheet, SignSheet, TuneDetail } from '@yield/contract';
import { settledSituation, ownerSheet, runOf, type OwnerSheet } from '@yield/core';
import type { DataSource } from 'typeorm';
import { faulty, notFound, staleSave } from '../problem.ts';
import { changeTune, NOBODY, type Actor } from './history.ts';
import { headOf } from './rows.ts';
import { TuneEntity } from '../database/entities.ts';

/** The sheet of a tune as it stands, unsigned. */
export function sheetOf({ name, vehicle, chain, settings, ...records }: TuneDetail, madeAt: string): OwnerSheet {
  const now = settledSituation(chain.body, settings, records);
  return ownerSheet(now, runOf(now), { job: name, vehicle, madeAt });
}

interface Row extends Omit<SignedSheet, 'signedAt'> {
  signedAt: Date;
}

const COLUMNS = `"id", "issue", "signed_by" AS "signedBy", "signed_at" AS "signedAt", "left_open" AS "leftOpen",
  "chain_version" AS "chainVersion", "changes", "sheet"`;

const signedOf = ({ signedAt, ...row }: Row): SignedSheet => ({ ...row, signedAt: signedAt.toISOString() });

/** The sheets of a tune that were signed, the first one first. */
export async function signedSheets(dataSource: Pick<DataSource, 'query'>, tuneId: string): Promise<SignedSheet[]> {
  const rows = await dataSource.query<Row[]>(`SELECT ${COLUMNS} FROM "signed_sheet" WHERE "tune_id" = $1 ORDER BY "issue"`, [tuneId]);
  return rows.map(signedOf);
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
    const [added] = await manager.query<Row[]>(
      `INSERT INTO "signed_sheet" ("id", "tune_id", "issue", "signed_by", "left_open", "sheet", "chain_version", "changes", "signed_at")
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) ON CONFLICT DO NOTHING RETURNING ${COLUMNS}`,
      [id, tune.id, issue, signature.by, signature.leftOpen, JSON.stringify({ ...sheet, signature }), chainVersion, seen, at],
    );
    if (added === undefined) throw faulty([{ pointer: '/id', message: 'another sheet is stored under this id' }]);
    return {
      result: signedOf(added),
      operation: { kind: 'signed', subject: id, body: { issue, by: signature.by, leftOpen: signature.leftOpen } },
    };
  });
}
