import type { MigrationInterface, QueryRunner } from 'typeorm';

/** For whom an agent may submit, and how far back. Agents of earlier versions keep no limits. */
export class AgentLimits1764000000014 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE agent ADD people json NULL, ADD hoursBack int NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE agent DROP people, DROP hoursBack');
  }
}
