import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the words of a list must come to together; null where each stands for itself. */
export class WordThreshold1764000000005 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE own_pattern ADD COLUMN threshold double NULL AFTER words');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE own_pattern DROP COLUMN threshold');
  }
}
