import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Tables of the first loop. Times are UTC with milliseconds. */
export class FirstLight1764000000001 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`DROP TABLE \`${table}\``);
  }
}

const TABLES = [
  'mail_attachment',
  'mail_message',
  'incident_history',
  'evidence',
  'rule_match',
  'incident',
  'movement',
  'revision',
  'policy_draft',
  'own_pattern',
  'partner',
  'person',
  'organisation',
  'session',
  'account',
];

const STATEMENTS = [
  `CREATE TABLE account (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL, email varchar(254) NOT NULL UNIQUE,
    passwordHash varchar(200) NOT NULL, permissions json NOT NULL)`,
  `CREATE TABLE session (tokenHash char(64) NOT NULL PRIMARY KEY, accountId uuid NOT NULL, csrfToken char(64) NOT NULL,
    expiresAt datetime(3) NOT NULL, KEY session_expires (expiresAt),
    CONSTRAINT session_account FOREIGN KEY (accountId) REFERENCES account (id) ON DELETE CASCADE)`,
  `CREATE TABLE organisation (id int NOT NULL PRIMARY KEY, name varchar(120) NOT NULL, domains json NOT NULL)`,
  `CREATE TABLE person (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL, address varchar(254) NOT NULL UNIQUE,
    department varchar(120) NOT NULL, port varchar(120) NOT NULL, title varchar(120) NOT NULL, \`groups\` json NOT NULL)`,
  `CREATE TABLE partner (address varchar(254) NOT NULL PRIMARY KEY, name varchar(120) NOT NULL, organisation varchar(120) NOT NULL)`,
  `CREATE TABLE own_pattern (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL UNIQUE, about text NOT NULL,
    words longtext NOT NULL, version int NOT NULL, updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL)`,
  `CREATE TABLE policy_draft (id uuid NOT NULL PRIMARY KEY, position int NOT NULL, definition json NOT NULL, version int NOT NULL,
    updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL)`,
  `CREATE TABLE revision (number int NOT NULL AUTO_INCREMENT PRIMARY KEY, name varchar(120) NOT NULL, reason text NOT NULL,
    document longtext NOT NULL, publishedAt datetime(3) NOT NULL, publishedBy varchar(120) NOT NULL)`,
  `CREATE TABLE movement (id uuid NOT NULL PRIMARY KEY, channel varchar(20) NOT NULL, at datetime(3) NOT NULL,
    personAddress varchar(254) NOT NULL, personName varchar(120) NOT NULL, department varchar(120) NOT NULL,
    recipients json NOT NULL, revision int NULL, answer varchar(20) NULL,
    KEY movement_at (at), KEY movement_person (personAddress, at), KEY movement_department (department))`,
  `CREATE TABLE incident (number int NOT NULL AUTO_INCREMENT PRIMARY KEY, movementId uuid NOT NULL UNIQUE, at datetime(3) NOT NULL,
    status varchar(20) NOT NULL, outcome varchar(20) NULL, lookedFor boolean NULL, allRight boolean NULL, cause varchar(20) NULL,
    severity varchar(20) NOT NULL, urgency int NOT NULL, urgencyParts json NOT NULL, counts json NOT NULL,
    unreadableParts int NOT NULL, matches int NOT NULL, verdict longtext NOT NULL, assignee varchar(120) NULL, version int NOT NULL,
    KEY incident_queue (status, urgency, at), KEY incident_at (at),
    CONSTRAINT incident_movement FOREIGN KEY (movementId) REFERENCES movement (id))`,
  `CREATE TABLE rule_match (id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY, movementId uuid NOT NULL, incidentNumber int NOT NULL,
    policyId uuid NOT NULL, ruleId uuid NOT NULL, answer varchar(20) NOT NULL, severity varchar(20) NOT NULL,
    KEY match_incident (incidentNumber), KEY match_policy (policyId, ruleId),
    CONSTRAINT match_incident_row FOREIGN KEY (incidentNumber) REFERENCES incident (number),
    CONSTRAINT match_movement_row FOREIGN KEY (movementId) REFERENCES movement (id))`,
  `CREATE TABLE evidence (movementId uuid NOT NULL PRIMARY KEY, sealed longblob NOT NULL,
    CONSTRAINT evidence_movement FOREIGN KEY (movementId) REFERENCES movement (id))`,
  `CREATE TABLE incident_history (id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY, incidentNumber int NOT NULL, at datetime(3) NOT NULL,
    actor varchar(120) NOT NULL, kind varchar(20) NOT NULL, act json NULL, text text NULL,
    KEY history_incident (incidentNumber, id),
    CONSTRAINT history_incident_row FOREIGN KEY (incidentNumber) REFERENCES incident (number))`,
  `CREATE TABLE mail_message (id uuid NOT NULL PRIMARY KEY, ownerId uuid NOT NULL, folder varchar(20) NOT NULL, at datetime(3) NOT NULL,
    sender varchar(254) NOT NULL, recipients json NOT NULL, sealed longblob NOT NULL, notice json NULL,
    KEY mail_owner (ownerId, at))`,
  `CREATE TABLE mail_attachment (id uuid NOT NULL PRIMARY KEY, messageId uuid NOT NULL, name varchar(255) NOT NULL, size int NOT NULL,
    sealed longblob NOT NULL, KEY attachment_message (messageId),
    CONSTRAINT attachment_message_row FOREIGN KEY (messageId) REFERENCES mail_message (id) ON DELETE CASCADE)`,
];
