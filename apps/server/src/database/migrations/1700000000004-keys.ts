import type { MigrationInterface, QueryRunner } from 'typeorm';
import { markOfNow, type FormerChain, type FormerMark } from './formerBasis.ts';

/**
 * Conditions say where they hold and know gear by its id; ticks stand for keys and no longer for sentences; each tune keeps a
 * summary, and counts its changes so that one knows whether the summary is still of now.
 *
 * What was read with gear of another name than the chain's gets the id "former": it was stale, and it stays so.
 */
export class Keys1700000000004 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "tune" ADD "changes" integer NOT NULL DEFAULT 1');
    await runner.query('ALTER TABLE "tune" ADD "summary" jsonb');
    await runner.query('ALTER TABLE "tune" ADD "summary_of" text');
    await runner.query('ALTER TABLE "mark" ADD "basis_words" text');
    // The list reads what is there, newest first.
    await runner.query('CREATE INDEX "tune_listed" ON "tune" ("updated_at" DESC, "name") WHERE "deleted_at" IS NULL');
    for (const table of ['reading', 'trace']) {
      await runner.query(`UPDATE "${table}" r SET "conditions" = r."conditions" || ${AT[table]} || ${GEAR}
        FROM "chain" c WHERE c."tune_id" = r."tune_id"`);
    }
    await this.marks(runner);
  }

  /** Ticks that were made for what is there now get its key; others keep a sentence that is no key of anything. */
  private async marks(runner: QueryRunner): Promise<void> {
    const rows = (await runner.query(
      `SELECT m."tune_id", m."step_id", m."basis", c."body" AS "chain", t."settings",
        (SELECT jsonb_object_agg(f."step_id", jsonb_build_object('checks', f."checks", 'values', f."values"))
         FROM "mark" f WHERE f."tune_id" = m."tune_id" AND f."step_id" LIKE 'flat:%') AS "flat"
       FROM "mark" m JOIN "chain" c ON c."tune_id" = m."tune_id" JOIN "tune" t ON t."id" = m."tune_id"
       WHERE m."basis" IS NOT NULL`,
    )) as (FormerMark & { tune_id: string; chain: FormerChain })[];
    for (const row of rows) {
      await runner.query('UPDATE "mark" SET "basis" = $1, "basis_words" = $2 WHERE "tune_id" = $3 AND "step_id" = $4', [
        markOfNow(row, row.chain),
        row.basis,
        row.tune_id,
        row.step_id,
      ]);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP INDEX "tune_listed"');
    await runner.query('UPDATE "mark" SET "basis" = "basis_words"');
    await runner.query('ALTER TABLE "mark" DROP COLUMN "basis_words"');
    for (const column of ['summary_of', 'summary', 'changes']) await runner.query(`ALTER TABLE "tune" DROP COLUMN "${column}"`);
    for (const table of ['reading', 'trace'])
      await runner.query(`UPDATE "${table}" SET "conditions" = "conditions" - 'at' - 'sourceId' - 'amplifierId' - 'processorId'`);
  }
}

const AT: Record<string, string> = {
  reading: `jsonb_build_object('at', CASE
    WHEN r."kind" IN ('coil-resistance', 'whole-resistance') THEN 'ohm'
    WHEN r."kind" IN ('source-voltage', 'output-voltage') THEN 'line' ELSE 'load' END)`,
  trace: `jsonb_build_object('at', CASE WHEN r."conditions" ? 'load' THEN 'load' ELSE 'line' END)`,
};

/** The amplifier of that name; of several the one of the step's own channel. */
const AMPLIFIER = `(SELECT a->>'id' FROM jsonb_array_elements(c."body"->'amplifiers') a
  WHERE a->>'name' = r."conditions"->>'amplifierName'
  ORDER BY EXISTS (SELECT 1 FROM jsonb_array_elements(c."body"->'channels') h
    WHERE h->>'amplifierId' = a->>'id' AND (h->>'id' = split_part(r."step_id", ':', 2)
      OR EXISTS (SELECT 1 FROM jsonb_array_elements(coalesce(h->'filters', '[]')) f WHERE f->>'id' = split_part(r."step_id", ':', 2)))) DESC
  LIMIT 1)`;

const GEAR = `jsonb_strip_nulls(jsonb_build_object(
  'sourceId', CASE WHEN r."conditions" ? 'sourceName' THEN
    CASE WHEN r."conditions"->>'sourceName' = c."body"->'source'->>'name' THEN 'source' ELSE 'former' END END,
  'processorId', CASE WHEN r."conditions" ? 'processorName' THEN
    CASE WHEN r."conditions"->>'processorName' = c."body"->'processor'->>'name' THEN 'processor' ELSE 'former' END END,
  'amplifierId', CASE WHEN r."conditions" ? 'amplifierName' THEN coalesce(${AMPLIFIER}, 'former') END))`;
