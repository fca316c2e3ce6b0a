import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Amounts that movements add to stretches of time, second factors of people, and the trust that a proof gives. */
export class Applications1765000000023 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    // What was moved before counts as having gone on, with no amount that anybody kept.
    await runner.query(`ALTER TABLE movement
      ADD COLUMN bytesMoved bigint NOT NULL DEFAULT 0,
      ADD COLUMN rowsTaken bigint NOT NULL DEFAULT 0,
      ADD COLUMN toOutside tinyint NOT NULL DEFAULT 0,
      ADD COLUMN wentOn tinyint NOT NULL DEFAULT 1`);
    await runner.query(`CREATE TABLE moved_value (
      movementId uuid NOT NULL,
      pattern varchar(120) NOT NULL,
      personAddress varchar(254) NOT NULL,
      at datetime(3) NOT NULL,
      hashes longblob NOT NULL,
      PRIMARY KEY (movementId, pattern),
      KEY moved_value_person (personAddress, pattern, at),
      KEY moved_value_at (at)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE person_factor (
      personAddress varchar(254) NOT NULL PRIMARY KEY,
      secret blob NOT NULL,
      lastStep bigint NULL,
      wrong int NOT NULL DEFAULT 0,
      wrongSince datetime(3) NULL
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE raised_trust (
      id uuid NOT NULL PRIMARY KEY,
      personAddress varchar(254) NOT NULL,
      place varchar(220) NOT NULL,
      incidentNumber int NOT NULL,
      since datetime(3) NOT NULL,
      until datetime(3) NOT NULL,
      endedAt datetime(3) NULL,
      endedBy varchar(120) NULL,
      KEY raised_trust_person (personAddress, until),
      KEY raised_trust_since (since)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE ledger_deed (
      id uuid NOT NULL PRIMARY KEY,
      person varchar(254) NOT NULL,
      deed varchar(20) NOT NULL,
      way varchar(20) NOT NULL,
      at datetime(3) NOT NULL,
      state varchar(20) NOT NULL,
      submissionId uuid NOT NULL,
      facts json NOT NULL,
      result longblob NULL,
      endedAt datetime(3) NULL,
      reported tinyint NOT NULL DEFAULT 0,
      KEY ledger_deed_person (person, at),
      KEY ledger_deed_submission (submissionId)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE ledger_key (
      id uuid NOT NULL PRIMARY KEY,
      person varchar(254) NOT NULL,
      name varchar(120) NOT NULL,
      hash char(64) NOT NULL,
      madeAt datetime(3) NOT NULL,
      endedAt datetime(3) NULL,
      UNIQUE KEY ledger_key_hash (hash)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE ledger_report (
      id varchar(40) NOT NULL PRIMARY KEY,
      label varchar(60) NOT NULL,
      labelName varchar(120) NOT NULL,
      \`rank\` int NOT NULL,
      setBy varchar(254) NOT NULL,
      setAt datetime(3) NOT NULL
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of [
      'ledger_report',
      'ledger_key',
      'ledger_deed',
      'raised_trust',
      'person_factor',
      'moved_value',
    ])
      await runner.query(`DROP TABLE ${name}`);
    await runner.query(
      'ALTER TABLE movement DROP COLUMN bytesMoved, DROP COLUMN rowsTaken, DROP COLUMN toOutside, DROP COLUMN wentOn',
    );
  }
}
