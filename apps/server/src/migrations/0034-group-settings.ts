import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What machines may cost is said for whole groups, and every change of a group begins as a draft. */
export class GroupSettings1766100000034 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE watch_group ADD COLUMN cost json NULL');
    await runner.query(
      "ALTER TABLE watch_change ADD COLUMN cost json NULL, ADD COLUMN writtenBy varchar(120) NOT NULL DEFAULT ''",
    );
    await runner.query('UPDATE watch_change SET writtenBy = actor');
    await runner.query('ALTER TABLE watch_change MODIFY COLUMN writtenBy varchar(120) NOT NULL');
    await runner.query(`CREATE TABLE watch_draft (
      groupName varchar(60) NOT NULL PRIMARY KEY,
      id uuid NOT NULL,
      folders json NOT NULL,
      person varchar(254) NOT NULL,
      cost json NULL,
      at datetime(3) NOT NULL,
      actor varchar(120) NOT NULL
    ) ENGINE=InnoDB`);
    await runner.query('ALTER TABLE reader MODIFY COLUMN cost json NULL');
    // A machine without limits of its own keeps to those of its group from now on.
    await runner.query(`UPDATE reader SET cost = NULL WHERE COALESCE(JSON_VALUE(cost, '$.processor'),
      JSON_VALUE(cost, '$.bytesPerSecond'), JSON_VALUE(cost, '$.itemsPerSecond'),
      JSON_VALUE(cost, '$.hours.from'), JSON_VALUE(cost, '$.batteryAbove')) IS NULL`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("UPDATE reader SET cost = '{}' WHERE cost IS NULL");
    await runner.query('ALTER TABLE reader MODIFY COLUMN cost json NOT NULL');
    await runner.query('DROP TABLE watch_draft');
    await runner.query('ALTER TABLE watch_change DROP COLUMN cost, DROP COLUMN writtenBy');
    await runner.query('ALTER TABLE watch_group DROP COLUMN cost');
  }
}
