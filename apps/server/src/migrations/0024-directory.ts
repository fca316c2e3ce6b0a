import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Where people come from, groups told by a condition, those who left, and what changed when. */
export class Directory1765100000024 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE person
      ADD COLUMN listed longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '[]' CHECK (json_valid(listed)),
      ADD COLUMN source varchar(20) NOT NULL DEFAULT 'hand',
      ADD COLUMN sourceKey varchar(200) NULL,
      ADD UNIQUE KEY person_source (source, sourceKey)`);
    await runner.query('UPDATE person SET listed = `groups`');
    await runner.query(`CREATE TABLE people_group (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(120) NOT NULL,
      about varchar(300) NOT NULL,
      \`rows\` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(\`rows\`)),
      UNIQUE KEY people_group_name (name)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE former_person (
      address varchar(254) NOT NULL PRIMARY KEY,
      id uuid NOT NULL,
      sourceKey varchar(200) NULL,
      name varchar(120) NOT NULL,
      department varchar(120) NOT NULL,
      leftAt datetime(3) NOT NULL
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE directory_change (
      id uuid NOT NULL PRIMARY KEY,
      at datetime(3) NOT NULL,
      actor varchar(254) NOT NULL,
      source varchar(20) NOT NULL,
      added int NOT NULL,
      \`changed\` int NOT NULL,
      \`left\` int NOT NULL,
      refused int NOT NULL,
      KEY directory_change_at (at)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE directory_server (
      id int NOT NULL PRIMARY KEY,
      settings longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(settings)),
      password blob NULL,
      lastRead datetime(3) NULL,
      lastOutcome varchar(500) NULL
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['directory_server', 'directory_change', 'former_person', 'people_group'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query(`ALTER TABLE person
      DROP KEY person_source, DROP COLUMN listed, DROP COLUMN source, DROP COLUMN sourceKey`);
  }
}
