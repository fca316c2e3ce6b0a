import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Agents and what they hand in; what is stated for each channel; the way of every movement. */
export class Doors1764000000010 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
    await runner.query(
      `UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'agents.manage')
        WHERE JSON_CONTAINS(permissions, '"policies.publish"')`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE movement DROP COLUMN way');
    await runner.query('ALTER TABLE replay DROP COLUMN `over`');
    await runner.query('ALTER TABLE partner DROP COLUMN certificate, DROP COLUMN standInKey');
    await runner.query('ALTER TABLE incident DROP COLUMN reported, DROP COLUMN told');
    await runner.query('ALTER TABLE mail_message DROP COLUMN reported');
    for (const table of [
      'attempt',
      'agent',
      'channel_setting',
      'chat_room',
      'thing',
      'gateway_mail',
      'outgoing_recipient',
      'outgoing_mail',
      'post_mail',
      'drive_share',
      'drive_file',
    ])
      await runner.query(`DROP TABLE ${table}`);
  }
}

const STATEMENTS = [
  `CREATE TABLE agent (
    id uuid NOT NULL, name varchar(120) NOT NULL, keyDigest char(64) NOT NULL, createdAt datetime(3) NOT NULL,
    createdBy varchar(120) NOT NULL, lastSeen datetime(3) NULL, revokedAt datetime(3) NULL, PRIMARY KEY (id),
    UNIQUE INDEX agent_key (keyDigest)
  ) ENGINE=InnoDB`,
  `CREATE TABLE attempt (
    id uuid NOT NULL, agent varchar(60) NOT NULL, \`key\` varchar(100) NOT NULL, digest char(64) NOT NULL,
    channel varchar(20) NOT NULL, person varchar(254) NOT NULL, movementId uuid NOT NULL, incident int NULL,
    answer varchar(20) NULL, state varchar(20) NOT NULL, treatments json NOT NULL, recipients json NOT NULL,
    notice json NULL, at datetime(3) NOT NULL, PRIMARY KEY (id), UNIQUE INDEX attempt_key (agent, \`key\`),
    INDEX attempt_movement (movementId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE channel_setting (
    channel varchar(20) NOT NULL, unfinished varchar(20) NOT NULL, PRIMARY KEY (channel)
  ) ENGINE=InnoDB`,
  `CREATE TABLE chat_room (
    id uuid NOT NULL, name varchar(120) NOT NULL, direct tinyint NOT NULL, members json NOT NULL, PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE thing (
    id uuid NOT NULL, agent varchar(20) NOT NULL, place varchar(60) NOT NULL, author varchar(254) NOT NULL,
    activity varchar(20) NOT NULL, takenFrom varchar(200) NOT NULL,
    at datetime(3) NOT NULL, state varchar(20) NOT NULL, shown longblob NULL, pending longblob NULL,
    edits int NOT NULL, attemptId uuid NOT NULL, reported tinyint NOT NULL, PRIMARY KEY (id),
    INDEX thing_place (agent, place, at), INDEX thing_attempt (attemptId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE gateway_mail (
    id uuid NOT NULL, at datetime(3) NOT NULL, sender varchar(320) NOT NULL, recipients json NOT NULL,
    treatments json NOT NULL, sealed longblob NOT NULL, PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE outgoing_mail (
    id uuid NOT NULL, at datetime(3) NOT NULL, sender varchar(320) NOT NULL, needsTls tinyint NOT NULL,
    needsSmime tinyint NOT NULL, sealed longblob NOT NULL, PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE outgoing_recipient (
    id bigint NOT NULL AUTO_INCREMENT, mailId uuid NOT NULL, address varchar(320) NOT NULL,
    state varchar(20) NOT NULL, reason varchar(300) NOT NULL, tries int NOT NULL, nextAt datetime(3) NOT NULL,
    deliveredAt datetime(3) NULL, PRIMARY KEY (id), INDEX outgoing_due (state, nextAt),
    CONSTRAINT outgoing_recipient_mail FOREIGN KEY (mailId) REFERENCES outgoing_mail (id) ON DELETE CASCADE
      ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE post_mail (
    id bigint NOT NULL AUTO_INCREMENT, at datetime(3) NOT NULL, sender varchar(320) NOT NULL,
    recipient varchar(320) NOT NULL, messageId char(64) NOT NULL, tls varchar(20) NOT NULL, sealed longblob NOT NULL,
    PRIMARY KEY (id), UNIQUE INDEX post_once (messageId, recipient)
  ) ENGINE=InnoDB`,
  `CREATE TABLE drive_file (
    id uuid NOT NULL, folder varchar(300) NOT NULL, name varchar(200) NOT NULL, owner varchar(254) NOT NULL,
    size int NOT NULL, sealed longblob NOT NULL, version int NOT NULL, changedAt datetime(3) NOT NULL,
    restriction json NULL, judgedBy int NOT NULL, PRIMARY KEY (id), INDEX drive_owner (owner),
    UNIQUE INDEX drive_name (folder, name)
  ) ENGINE=InnoDB`,
  `CREATE TABLE drive_share (
    id uuid NOT NULL, fileId uuid NOT NULL, target varchar(254) NOT NULL, address varchar(254) NULL,
    link varchar(20) NULL, token char(43) NULL, \`by\` varchar(254) NOT NULL, at datetime(3) NOT NULL,
    state varchar(20) NOT NULL, until datetime(3) NULL, notice json NULL,
    treatments json NOT NULL, attemptId uuid NOT NULL, reported tinyint NOT NULL,
    PRIMARY KEY (id), INDEX share_file (fileId), INDEX share_address (address), INDEX share_attempt (attemptId),
    UNIQUE INDEX share_once (fileId, target), UNIQUE INDEX share_token (token),
    CONSTRAINT share_file_row FOREIGN KEY (fileId) REFERENCES drive_file (id) ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  'ALTER TABLE partner ADD COLUMN certificate text NULL, ADD COLUMN standInKey blob NULL',
  "ALTER TABLE replay ADD COLUMN `over` varchar(20) NOT NULL DEFAULT 'journal'",
  'ALTER TABLE movement ADD COLUMN way json NULL',
  'ALTER TABLE mail_message ADD COLUMN reported tinyint NOT NULL DEFAULT 0',
  'ALTER TABLE incident ADD COLUMN reported tinyint NOT NULL DEFAULT 0, ADD COLUMN told text NULL',
];
