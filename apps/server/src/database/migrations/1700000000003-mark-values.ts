import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a ticked control stands at. */
export class MarkValues1700000000003 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "mark" ADD "values" jsonb');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE "mark" DROP COLUMN "values"');
  }
}
