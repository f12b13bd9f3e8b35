import type { MigrationInterface, QueryRunner } from 'typeorm';

const TUNE_FOREIGN_KEY = (table: string): string =>
  `CONSTRAINT "${table}_tune_fk" FOREIGN KEY ("tune_id") REFERENCES "tune"("id") ON DELETE CASCADE ON UPDATE NO ACTION`;

/** Tunes, chains, readings, traces and marks. */
export class Foundations1700000000001 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "tune" (
      "id" uuid NOT NULL,
      "name" text NOT NULL,
      "vehicle" text NOT NULL,
      "settings" jsonb NOT NULL,
      "version" integer NOT NULL,
      "created_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      "updated_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      "deleted_at" timestamp(3) with time zone,
      CONSTRAINT "tune_pk" PRIMARY KEY ("id"))`);
    await runner.query(`CREATE TABLE "chain" (
      "tune_id" uuid NOT NULL,
      "body" jsonb NOT NULL,
      "version" integer NOT NULL,
      CONSTRAINT "chain_pk" PRIMARY KEY ("tune_id"),
      ${TUNE_FOREIGN_KEY('chain')})`);
    await runner.query(`CREATE TABLE "reading" (
      "id" uuid NOT NULL,
      "tune_id" uuid NOT NULL,
      "step_id" text NOT NULL,
      "kind" text NOT NULL,
      "value" double precision NOT NULL,
      "resolution" double precision NOT NULL,
      "conditions" jsonb NOT NULL,
      "taken_at" timestamp(3) with time zone NOT NULL,
      "stored_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      "voided_at" timestamp(3) with time zone,
      "voided_reason" text,
      CONSTRAINT "reading_pk" PRIMARY KEY ("id"),
      ${TUNE_FOREIGN_KEY('reading')})`);
    await runner.query(`CREATE INDEX "reading_tune" ON "reading" ("tune_id", "taken_at")`);
    await runner.query(`CREATE TABLE "trace" (
      "id" uuid NOT NULL,
      "tune_id" uuid NOT NULL,
      "step_id" text NOT NULL,
      "file_name" text NOT NULL,
      "content_type" text NOT NULL,
      "bytes" bytea NOT NULL,
      "byte_length" integer NOT NULL,
      "sha256" text NOT NULL,
      "channel_index" integer NOT NULL,
      "full_scale_volt" double precision,
      "probe" double precision,
      "analysis" jsonb NOT NULL,
      "analysis_version" integer NOT NULL,
      "conditions" jsonb NOT NULL,
      "taken_at" timestamp(3) with time zone NOT NULL,
      "stored_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      "voided_at" timestamp(3) with time zone,
      "voided_reason" text,
      CONSTRAINT "trace_pk" PRIMARY KEY ("id"),
      ${TUNE_FOREIGN_KEY('trace')})`);
    await runner.query(`CREATE INDEX "trace_tune" ON "trace" ("tune_id", "taken_at")`);
    // Captures hardly shrink, and an uncompressed column can be read in slices.
    await runner.query(`ALTER TABLE "trace" ALTER COLUMN "bytes" SET STORAGE EXTERNAL`);
    await runner.query(`CREATE TABLE "mark" (
      "tune_id" uuid NOT NULL,
      "step_id" text NOT NULL,
      "checks" jsonb NOT NULL,
      "skipped_reason" text,
      "version" integer NOT NULL,
      CONSTRAINT "mark_pk" PRIMARY KEY ("tune_id", "step_id"),
      ${TUNE_FOREIGN_KEY('mark')})`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['mark', 'trace', 'reading', 'chain', 'tune']) await runner.query(`DROP TABLE "${table}"`);
  }
}
