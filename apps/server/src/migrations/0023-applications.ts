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
      movementId char(36) NOT NULL,
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
      id char(36) NOT NULL PRIMARY KEY,
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
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['raised_trust', 'person_factor', 'moved_value'])
      await runner.query(`DROP TABLE ${name}`);
    await runner.query(
      'ALTER TABLE movement DROP COLUMN bytesMoved, DROP COLUMN rowsTaken, DROP COLUMN toOutside, DROP COLUMN wentOn',
    );
  }
}
