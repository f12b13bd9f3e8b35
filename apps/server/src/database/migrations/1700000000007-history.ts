import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Every accepted change of a tune on the record, the chain's revisions, and which revision a reading, a capture or a tick stands on.
 *
 * What was stored before has no record of how it came about: its history begins with the chain as it is now.
 */
export class History1700000000007 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "operation" (
      "id" uuid PRIMARY KEY,
      "seq" bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
      "tune_id" uuid NOT NULL,
      "kind" text NOT NULL,
      "subject" text,
      "body" jsonb NOT NULL,
      "chain_version" integer NOT NULL,
      "change" integer NOT NULL,
      "at" timestamp(3) with time zone NOT NULL DEFAULT now(),
      "client_at" timestamp(3) with time zone,
      "who" text,
      CONSTRAINT "operation_tune_fk" FOREIGN KEY ("tune_id") REFERENCES "tune" ("id")
    )`);
    await runner.query('CREATE UNIQUE INDEX "operation_change" ON "operation" ("tune_id", "change")');
    await runner.query(`CREATE TABLE "chain_revision" (
      "tune_id" uuid NOT NULL,
      "version" integer NOT NULL,
      "body" jsonb NOT NULL,
      PRIMARY KEY ("tune_id", "version"),
      CONSTRAINT "chain_revision_tune_fk" FOREIGN KEY ("tune_id") REFERENCES "tune" ("id")
    )`);
    await runner.query('INSERT INTO "chain_revision" SELECT "tune_id", "version", "body" FROM "chain"');
    for (const table of ['reading', 'trace', 'mark']) await runner.query(`ALTER TABLE "${table}" ADD COLUMN "chain_version" integer`);
    // Append-only, whoever asks.
    await runner.query(`CREATE FUNCTION "only_added"() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN RAISE EXCEPTION '% is only ever added to', TG_TABLE_NAME; END $$`);
    for (const table of ['operation', 'chain_revision'])
      await runner.query(
        `CREATE TRIGGER "${table}_only_added" BEFORE UPDATE OR DELETE ON "${table}" FOR EACH ROW EXECUTE FUNCTION "only_added"()`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['reading', 'trace', 'mark']) await runner.query(`ALTER TABLE "${table}" DROP COLUMN "chain_version"`);
    await runner.query('DROP TABLE "chain_revision"');
    await runner.query('DROP TABLE "operation"');
    await runner.query('DROP FUNCTION "only_added"()');
  }
}
