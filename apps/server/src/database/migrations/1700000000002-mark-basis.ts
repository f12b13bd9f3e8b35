import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the ticks of a step were made for. */
export class MarkBasis1700000000002 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "mark" ADD "basis" text');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "mark" DROP COLUMN "basis"');
  }
}
