import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Runs of flows, what assistants are asked and answer, the zone in which somebody works, and their passkeys. */
export class AutomationsAtWork1765600000029 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE flow_run (
      id uuid NOT NULL PRIMARY KEY,
      automationId varchar(120) NOT NULL,
      player uuid NOT NULL,
      startedAt datetime(3) NOT NULL,
      endedAt datetime(3) NULL,
      state varchar(20) NOT NULL,
      steps longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(steps)),
      stepsInAll int NOT NULL,
      carried longblob NULL,
      KEY flow_run_automation (automationId, startedAt),
      KEY flow_run_state (state)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE assistant_talk (
      id uuid NOT NULL PRIMARY KEY,
      automationId varchar(120) NOT NULL,
      person varchar(254) NOT NULL,
      at datetime(3) NOT NULL,
      question longblob NOT NULL,
      answer longblob NULL,
      questionSubmission uuid NOT NULL,
      answerSubmission uuid NULL,
      questionState varchar(20) NOT NULL,
      answerState varchar(20) NULL,
      reported tinyint NOT NULL,
      KEY assistant_talk_person (person, automationId, at),
      KEY assistant_talk_question (questionSubmission),
      KEY assistant_talk_answer (answerSubmission)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE person_passkey (
      id uuid NOT NULL PRIMARY KEY,
      personAddress varchar(254) NOT NULL,
      credentialHash char(64) NOT NULL,
      credentialId varchar(1400) NOT NULL,
      publicKey blob NOT NULL,
      counter bigint NOT NULL DEFAULT 0,
      createdAt datetime(3) NOT NULL,
      UNIQUE KEY person_passkey_credential (credentialHash),
      KEY person_passkey_person (personAddress)
    ) ENGINE=InnoDB`);
    await runner.query("ALTER TABLE person ADD COLUMN zone varchar(60) NOT NULL DEFAULT ''");
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE person DROP COLUMN zone');
    for (const table of ['person_passkey', 'assistant_talk', 'flow_run'])
      await runner.query(`DROP TABLE ${table}`);
  }
}
