import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What groups of machines watch, with every change of it, and what each machine says of its watching. */
export class Watching1764900000021 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE watch_group (
      groupName varchar(60) NOT NULL PRIMARY KEY,
      folders json NOT NULL,
      person varchar(254) NOT NULL,
      version int NOT NULL,
      changedAt datetime(3) NOT NULL,
      changedBy varchar(120) NOT NULL
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE watch_change (
      id uuid NOT NULL PRIMARY KEY,
      groupName varchar(60) NOT NULL,
      version int NOT NULL,
      folders json NOT NULL,
      person varchar(254) NOT NULL,
      at datetime(3) NOT NULL,
      actor varchar(120) NOT NULL,
      KEY watch_change_group (groupName, version)
    ) ENGINE=InnoDB`);
    await runner.query(
      'ALTER TABLE reader ADD COLUMN watching json NULL, ADD COLUMN instance varchar(36) NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE reader DROP COLUMN watching, DROP COLUMN instance');
    for (const name of ['watch_change', 'watch_group']) await runner.query(`DROP TABLE ${name}`);
  }
}
