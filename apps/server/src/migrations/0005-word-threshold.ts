import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the words of a list must come to together, null where each stands for itself; and whether they count inside words. */
export class WordThreshold1764000000005 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE own_pattern ADD COLUMN threshold double NULL AFTER words');
    await runner.query(
      'ALTER TABLE own_pattern ADD COLUMN inside tinyint NOT NULL DEFAULT 0 AFTER threshold',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE own_pattern DROP COLUMN inside');
    await runner.query('ALTER TABLE own_pattern DROP COLUMN threshold');
  }
}
