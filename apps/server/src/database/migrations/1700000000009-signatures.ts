import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Sheets are signed by the installation's key; keys of others have names. What was signed before has no signature, and says so.
 *
 * Large captures come in piece by piece. What is on its way is not worth a log: after a crash of the database it is gone.
 */
export class Signatures1700000000009 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "signed_sheet" ADD COLUMN "signature" jsonb');
    await runner.query('CREATE TABLE "installation" ("id" integer PRIMARY KEY CHECK ("id" = 1), "private_key" text NOT NULL)');
    await runner.query(`CREATE UNLOGGED TABLE "trace_piece" (
      "upload_id" uuid NOT NULL,
      "n" integer NOT NULL,
      "bytes" bytea NOT NULL,
      "at" timestamp with time zone NOT NULL DEFAULT now(),
      PRIMARY KEY ("upload_id", "n")
    )`);
    await runner.query('ALTER TABLE "trace_piece" ALTER COLUMN "bytes" SET STORAGE EXTERNAL');
    for (const table of ['reading', 'trace'])
      await runner.query(`ALTER TABLE "${table}" ADD COLUMN "device" uuid, ADD COLUMN "device_count" double precision`);
    await runner.query('CREATE TABLE "known_key" ("key" text PRIMARY KEY, "name" text NOT NULL)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "trace_piece"');
    for (const table of ['reading', 'trace']) await runner.query(`ALTER TABLE "${table}" DROP COLUMN "device", DROP COLUMN "device_count"`);
    await runner.query('DROP TABLE "known_key"');
    await runner.query('DROP TABLE "installation"');
    await runner.query('ALTER TABLE "signed_sheet" DROP COLUMN "signature"');
  }
}
