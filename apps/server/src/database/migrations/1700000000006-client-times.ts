import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the client's own clock said, beside the time by the server's: a reading that is sent again is known by it. */
export class ClientTimes1700000000006 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of ['reading', 'trace'])
      await runner.query(`ALTER TABLE "${table}" ADD COLUMN "client_at" timestamp(3) with time zone`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['reading', 'trace']) await runner.query(`ALTER TABLE "${table}" DROP COLUMN "client_at"`);
  }
}
