import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The shop's own house rules and meter, which every new tune begins with. One row, or none until somebody says something. */
export class Shop1700000000005 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "shop" (
      "id" integer NOT NULL DEFAULT 1 CHECK ("id" = 1),
      "settings" jsonb NOT NULL,
      "version" integer NOT NULL,
      CONSTRAINT "shop_pk" PRIMARY KEY ("id")
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "shop"');
  }
}
