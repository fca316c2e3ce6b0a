import type { MigrationInterface, QueryRunner } from 'typeorm';

/** An index for counting what one account did lately in all histories. */
export class Unmaskings1764000000013 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE incident_history ADD INDEX history_kind (kind, actor, at)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE incident_history DROP INDEX history_kind');
  }
}
