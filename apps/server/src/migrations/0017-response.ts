import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Questions to people, web hooks with their deliveries, routing rules and alerts. */
export class Response1764000000017 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE pending_movement
      ADD judgedBy varchar(120) NULL,
      ADD judgedAt datetime(3) NULL,
      ADD judgedReason text NULL`);
    await runner.query(`CREATE TABLE question (
      id uuid NOT NULL PRIMARY KEY,
      incidentNumber int NOT NULL,
      tokenHash char(64) NOT NULL,
      at datetime(3) NOT NULL,
      actor varchar(120) NOT NULL,
      person varchar(254) NOT NULL,
      personName varchar(120) NOT NULL,
      text text NOT NULL,
      deadline datetime(3) NOT NULL,
      state varchar(10) NOT NULL,
      reply text NULL,
      repliedAt datetime(3) NULL,
      UNIQUE INDEX question_token (tokenHash),
      INDEX question_incident (incidentNumber),
      INDEX question_deadline (state, deadline)
    )`);
    await runner.query(`CREATE TABLE web_hook (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(120) NOT NULL,
      url varchar(500) NOT NULL,
      secret blob NOT NULL,
      createdAt datetime(3) NOT NULL,
      createdBy varchar(120) NOT NULL
    )`);
    await runner.query(`CREATE TABLE hook_delivery (
      id uuid NOT NULL PRIMARY KEY,
      hookId uuid NOT NULL,
      incidentNumber int NOT NULL,
      at datetime(3) NOT NULL,
      body mediumtext NOT NULL,
      state varchar(12) NOT NULL,
      attempts int NOT NULL,
      nextAt datetime(3) NULL,
      answer varchar(200) NULL,
      INDEX delivery_next (state, nextAt),
      INDEX delivery_hook (hookId, at),
      CONSTRAINT delivery_hook_row FOREIGN KEY (hookId) REFERENCES web_hook (id) ON DELETE CASCADE
    )`);
    await runner.query(`CREATE TABLE routing_rule (
      id uuid NOT NULL PRIMARY KEY,
      position int NOT NULL,
      owner uuid NULL,
      ownerName varchar(120) NULL,
      rule json NOT NULL,
      version int NOT NULL,
      updatedBy varchar(120) NOT NULL
    )`);
    await runner.query(`CREATE TABLE alert (
      id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY,
      address varchar(254) NOT NULL,
      reason varchar(120) NOT NULL,
      incidentNumber int NOT NULL,
      at datetime(3) NOT NULL,
      sentAt datetime(3) NULL,
      INDEX alert_waiting (sentAt, address),
      INDEX alert_sent (address, sentAt)
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['alert', 'routing_rule', 'hook_delivery', 'web_hook', 'question'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query('ALTER TABLE pending_movement DROP judgedBy, DROP judgedAt, DROP judgedReason');
  }
}
