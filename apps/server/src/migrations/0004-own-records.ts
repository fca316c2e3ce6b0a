import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Own records: what they are, and their keyed hashes in pieces. The key that made the hashes is not in the database. */
export class OwnRecords1764000000004 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE record_source (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL UNIQUE,
      about text NOT NULL, shape json NOT NULL, facts longtext NOT NULL, report json NOT NULL, version int NOT NULL,
      updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL)`);
    await runner.query(`CREATE TABLE record_chunk (source uuid NOT NULL, version int NOT NULL, number int NOT NULL,
      bytes mediumblob NOT NULL, PRIMARY KEY (source, version, number))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE record_chunk');
    await runner.query('DROP TABLE record_source');
  }
}
