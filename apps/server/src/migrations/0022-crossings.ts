import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Drafts about automations (services, workspaces, sets), and the automations themselves. */
export class Crossings1765000000022 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE crossing_part (
      id varchar(120) NOT NULL PRIMARY KEY,
      kind varchar(20) NOT NULL,
      definition json NOT NULL,
      version int NOT NULL,
      updatedAt datetime(3) NOT NULL,
      updatedBy varchar(120) NOT NULL,
      KEY crossing_part_kind (kind)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE automation (
      id varchar(120) NOT NULL PRIMARY KEY,
      kind varchar(12) NOT NULL,
      name varchar(120) NOT NULL,
      owner varchar(254) NOT NULL,
      workspace varchar(120) NOT NULL,
      definition json NOT NULL,
      isOn tinyint NOT NULL,
      version int NOT NULL,
      madeAt datetime(3) NOT NULL,
      handedInBy varchar(120) NOT NULL,
      KEY automation_name (name),
      KEY automation_owner (owner)
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['automation', 'crossing_part']) await runner.query(`DROP TABLE ${name}`);
  }
}
