import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Weights of ready patterns that analysts chose in place of those that ship. */
export class AdjustedPatterns1764000000002 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE adjusted_pattern (id varchar(80) NOT NULL PRIMARY KEY, weights json NOT NULL,
      version int NOT NULL, updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE adjusted_pattern');
  }
}
