import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Users and groups that SCIM clients tell of, and what machines are grouped by. */
export class Scim1765500000028 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE scim_resource (
      id uuid NOT NULL PRIMARY KEY,
      kind varchar(10) NOT NULL,
      name varchar(254) NOT NULL,
      externalId varchar(254) NULL,
      attributes longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(attributes)),
      version int NOT NULL,
      createdAt datetime(3) NOT NULL,
      changedAt datetime(3) NOT NULL,
      UNIQUE KEY scim_resource_name (kind, name),
      KEY scim_resource_external (kind, externalId)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE scim_member (
      groupId uuid NOT NULL,
      memberId uuid NOT NULL,
      PRIMARY KEY (groupId, memberId),
      KEY scim_member_of (memberId)
    ) ENGINE=InnoDB`);
    await runner.query(`ALTER TABLE machine
      ADD COLUMN listed longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '[]' CHECK (json_valid(listed)),
      ADD COLUMN serial varchar(120) NOT NULL DEFAULT '',
      ADD COLUMN addresses longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '[]' CHECK (json_valid(addresses))`);
    await runner.query('UPDATE machine SET listed = `groups`');
    await runner.query(`CREATE TABLE machine_group (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(120) NOT NULL,
      about varchar(300) NOT NULL,
      networks longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(networks)),
      serials longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(serials)),
      names longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(names)),
      UNIQUE KEY machine_group_name (name)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE scim_setting (
      id int NOT NULL PRIMARY KEY,
      reviewed tinyint NOT NULL,
      lastAt datetime(3) NULL,
      lastOutcome varchar(500) NULL,
      waits tinyint NOT NULL DEFAULT 0
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['scim_setting', 'scim_member', 'scim_resource', 'machine_group'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query('ALTER TABLE machine DROP COLUMN listed, DROP COLUMN serial, DROP COLUMN addresses');
  }
}
