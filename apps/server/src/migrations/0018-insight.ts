import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Changes that were made to prevent false positives, with what they promised; what could be better, and since
 * when; how well each day was guarded; reports and their runs.
 */
export class Insight1764600000018 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    // Counts of a period are read from the index alone.
    await runner.query(
      'ALTER TABLE incident DROP INDEX incident_at, ADD INDEX incident_at (at, test, outcome)',
    );
    await runner.query('ALTER TABLE movement DROP INDEX movement_at, ADD INDEX movement_at (at, test)');
    await runner.query(`CREATE TABLE prevention (
      id uuid NOT NULL PRIMARY KEY,
      at datetime(3) NOT NULL,
      actor varchar(120) NOT NULL,
      incidentNumber int NULL,
      ruleId varchar(60) NOT NULL,
      definition json NOT NULL,
      effect json NOT NULL,
      KEY prevention_rule (ruleId, at)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE improvement (
      id varchar(120) NOT NULL PRIMARY KEY,
      since datetime(3) NOT NULL,
      goneAt datetime(3) NULL,
      KEY improvement_gone (goneAt)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE guard_day (
      day date NOT NULL PRIMARY KEY,
      kinds int NOT NULL,
      guarded int NOT NULL,
      possible int NOT NULL,
      people int NOT NULL,
      machines int NOT NULL
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE report (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(120) NOT NULL,
      owner uuid NOT NULL,
      ownerName varchar(120) NOT NULL,
      definition json NOT NULL,
      active tinyint NOT NULL,
      nextAt datetime(3) NULL,
      version int NOT NULL,
      KEY report_due (active, nextAt)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE report_run (
      id uuid NOT NULL PRIMARY KEY,
      reportId uuid NOT NULL,
      plannedAt datetime(3) NOT NULL,
      at datetime(3) NOT NULL,
      fromAt datetime(3) NOT NULL,
      toAt datetime(3) NOT NULL,
      missed int NOT NULL,
      content json NOT NULL,
      mails json NOT NULL,
      KEY report_run_report (reportId, at),
      CONSTRAINT report_run_report_row FOREIGN KEY (reportId) REFERENCES report (id)
        ON DELETE CASCADE ON UPDATE RESTRICT
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE movement DROP INDEX movement_at, ADD INDEX movement_at (at)');
    await runner.query('ALTER TABLE incident DROP INDEX incident_at, ADD INDEX incident_at (at)');
    await runner.query('DROP TABLE guard_day');
    await runner.query('DROP TABLE report_run');
    await runner.query('DROP TABLE report');
    await runner.query('DROP TABLE improvement');
    await runner.query('DROP TABLE prevention');
  }
}
