import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which other system reported a movement and its incident; none for what our rules found. */
export class ReportedFindings1765900000032 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE movement ADD COLUMN origin varchar(100) NULL');
    await runner.query(
      'ALTER TABLE incident ADD COLUMN origin varchar(100) NULL, ADD KEY incident_origin (origin, at)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE incident DROP KEY incident_origin, DROP COLUMN origin');
    await runner.query('ALTER TABLE movement DROP COLUMN origin');
  }
}
