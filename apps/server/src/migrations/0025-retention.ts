import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How long things are kept, and what is kept in any case. */
export class Retention1765200000025 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE kept_for (
      kind varchar(20) NOT NULL PRIMARY KEY,
      days int NULL,
      sweptAt datetime(3) NULL,
      deleted int NOT NULL DEFAULT 0
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE legal_hold (
      id uuid NOT NULL PRIMARY KEY,
      kind varchar(20) NOT NULL,
      subject varchar(254) NOT NULL,
      reason varchar(500) NOT NULL,
      since datetime(3) NOT NULL,
      startedBy varchar(254) NOT NULL,
      endedAt datetime(3) NULL,
      endedBy varchar(254) NULL,
      endReason varchar(500) NULL,
      KEY legal_hold_kind (kind, endedAt)
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE legal_hold');
    await runner.query('DROP TABLE kept_for');
  }
}
