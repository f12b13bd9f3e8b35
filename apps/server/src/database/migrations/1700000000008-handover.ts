import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Sheets that were signed stay as they were; gear that a shop keeps is a library of its own. */
export class Handover1700000000008 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "signed_sheet" (
      "id" uuid PRIMARY KEY,
      "tune_id" uuid NOT NULL,
      "issue" integer NOT NULL,
      "signed_by" text NOT NULL,
      "left_open" text NOT NULL,
      "sheet" jsonb NOT NULL,
      "chain_version" integer NOT NULL,
      "changes" integer NOT NULL,
      "signed_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      CONSTRAINT "signed_sheet_tune_fk" FOREIGN KEY ("tune_id") REFERENCES "tune" ("id"),
      CONSTRAINT "signed_sheet_issue" UNIQUE ("tune_id", "issue")
    )`);
    await runner.query(
      'CREATE TRIGGER "signed_sheet_only_added" BEFORE UPDATE OR DELETE ON "signed_sheet" FOR EACH ROW EXECUTE FUNCTION "only_added"()',
    );
    await runner.query(`CREATE TABLE "gear" (
      "id" uuid PRIMARY KEY,
      "kind" text NOT NULL,
      "name" text NOT NULL,
      "body" jsonb NOT NULL,
      "version" integer NOT NULL DEFAULT 1,
      "updated_at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      CONSTRAINT "gear_name" UNIQUE ("kind", "name")
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "gear"');
    await runner.query('DROP TABLE "signed_sheet"');
  }
}
