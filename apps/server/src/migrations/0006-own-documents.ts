import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Patterns learnt from sample documents. Texts of samples and what was learnt are sealed. */
export class OwnDocuments1764000000006 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE document_pattern (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL UNIQUE,
      about text NOT NULL, learns varchar(20) NOT NULL, leastShare double NOT NULL, report json NULL,
      version int NOT NULL, updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL)`);
    await runner.query(`CREATE TABLE document_sample (id uuid NOT NULL PRIMARY KEY, pattern uuid NOT NULL,
      name varchar(200) NOT NULL, side varchar(10) NOT NULL, place int NOT NULL, characters int NOT NULL,
      fingerprints int NULL, certainty int NULL, sealed longblob NOT NULL, INDEX pattern (pattern, place))`);
    await runner.query(`CREATE TABLE document_piece (pattern uuid NOT NULL, version int NOT NULL, number int NOT NULL,
      bytes mediumblob NOT NULL, PRIMARY KEY (pattern, version, number))`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['document_piece', 'document_sample', 'document_pattern'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
