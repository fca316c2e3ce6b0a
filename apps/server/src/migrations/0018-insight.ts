import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Changes that were made to prevent false positives, with what they promised. */
export class Insight1764600000018 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
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
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE prevention');
  }
}
