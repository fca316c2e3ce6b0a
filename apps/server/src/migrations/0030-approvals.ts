import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What is allowed for a time, overrides that take two people, holds that go to the next in line; what was moved as it was,
 * and what the screen showed.
 */
export class Approvals1765700000030 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    const json = (name: string) =>
      `${name} longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(${name}))`;
    await runner.query(`CREATE TABLE standing_approval (
      id uuid NOT NULL,
      version int NOT NULL,
      latest tinyint NOT NULL,
      \`change\` varchar(20) NOT NULL,
      person varchar(254) NOT NULL,
      channel varchar(20) NOT NULL,
      ${json('rules')},
      ${json('destinations')},
      since datetime(3) NOT NULL,
      until datetime(3) NOT NULL,
      content char(64) NULL,
      usedBy uuid NULL,
      incidentNumber int NOT NULL,
      approvers tinyint NOT NULL,
      words text NOT NULL,
      \`by\` varchar(120) NOT NULL,
      at datetime(3) NOT NULL,
      PRIMARY KEY (id, version),
      KEY standing_approval_person (person, latest, until),
      KEY standing_approval_incident (incidentNumber)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE routed_response (
      id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY,
      incidentNumber int NOT NULL,
      rule varchar(120) NOT NULL,
      ${json('response')},
      at datetime(3) NOT NULL,
      doneAt datetime(3) NULL,
      sent tinyint NOT NULL DEFAULT 0,
      KEY routed_response_waiting (doneAt, id),
      KEY routed_response_incident (incidentNumber)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE kept_original (
      movementId uuid NOT NULL PRIMARY KEY,
      bytes bigint NOT NULL,
      items int NOT NULL,
      sealed longblob NULL,
      CONSTRAINT kept_original_movement FOREIGN KEY (movementId) REFERENCES movement (id)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE kept_pictures (
      movementId uuid NOT NULL PRIMARY KEY,
      ${json('taken')},
      sealed longblob NOT NULL,
      CONSTRAINT kept_pictures_movement FOREIGN KEY (movementId) REFERENCES movement (id)
    ) ENGINE=InnoDB`);
    await runner.query(`ALTER TABLE pending_movement
      ADD COLUMN approvers tinyint NOT NULL DEFAULT 1,
      ADD COLUMN nextDecides varchar(20) NULL,
      ADD COLUMN nextMinutes int NULL`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE pending_movement DROP COLUMN approvers, DROP COLUMN nextDecides, DROP COLUMN nextMinutes',
    );
    for (const table of ['routed_response', 'kept_pictures', 'kept_original', 'standing_approval'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
