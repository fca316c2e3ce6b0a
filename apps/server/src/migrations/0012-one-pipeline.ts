import type { MigrationInterface, QueryRunner } from 'typeorm';

/** One pipeline: submissions of every door and stand-in, matches of labels, silent matches beside open ones. */
export class OnePipeline1764000000012 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of [...RENAMED, ...ADDED, ...MAILS_OF_THE_WINDOW]) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const statement of TAKEN_BACK) await runner.query(statement);
  }
}

const RENAMED = [
  'RENAME TABLE attempt TO submission, waiting_movement TO pending_movement, thing TO post',
  `ALTER TABLE submission CHANGE agent submitter varchar(60) NOT NULL,
    ADD INDEX submission_incident (incident), RENAME INDEX attempt_key TO submission_key, RENAME INDEX attempt_movement TO submission_movement`,
  `ALTER TABLE pending_movement RENAME INDEX waiting_state TO pending_state,
    RENAME INDEX waiting_incident TO pending_incident`,
  `ALTER TABLE post CHANGE agent \`window\` varchar(20) NOT NULL, CHANGE attemptId submissionId uuid NOT NULL,
    RENAME INDEX thing_place TO post_place, RENAME INDEX thing_attempt TO post_submission`,
  `ALTER TABLE drive_share CHANGE attemptId submissionId uuid NOT NULL,
    RENAME INDEX share_attempt TO share_submission`,
];

const ADDED = [
  `ALTER TABLE rule_match MODIFY policyId uuid NULL, MODIFY ruleId varchar(60) NULL,
    ADD labelId varchar(60) NULL, ADD effect varchar(20) NULL, ADD silent tinyint NOT NULL DEFAULT 0`,
  `ALTER TABLE incident ADD openSeverity varchar(20) NULL, ADD openUrgency int NULL,
    ADD openUrgencyParts json NULL, ADD openMatches int NULL, ADD openAnswer varchar(20) NULL`,
  'ALTER TABLE channel_setting ADD seconds int NULL',
  'ALTER TABLE drive_file ADD madeAt datetime(3) NULL, ADD labelVersion int NOT NULL DEFAULT 1',
  'UPDATE drive_file SET madeAt = changedAt',
  'ALTER TABLE drive_file MODIFY madeAt datetime(3) NOT NULL',
  'ALTER TABLE drive_share ADD grantedVersion int NULL',
  'ALTER TABLE label_run ADD snapshot json NULL',
  'ALTER TABLE document ADD createdAt datetime(3) NULL',
  'UPDATE document SET createdAt = updatedAt',
  'ALTER TABLE document MODIFY createdAt datetime(3) NOT NULL',
  `ALTER TABLE post_mail ADD encrypted tinyint NOT NULL DEFAULT 0, ADD noPassingOn tinyint NOT NULL DEFAULT 0,
    ADD shown longblob NULL`,
  `CREATE TABLE installation (name varchar(40) NOT NULL, value varchar(200) NOT NULL, at datetime(3) NOT NULL,
    PRIMARY KEY (name)) ENGINE=InnoDB`,
  'ALTER TABLE mail_attachment MODIFY sealed longblob NULL, ADD fileId uuid NULL, ADD INDEX attachment_file (fileId)',
  'ALTER TABLE gateway_mail ADD copy longblob NULL',
  'CREATE TABLE mail_file (id uuid NOT NULL, sealed longblob NOT NULL, PRIMARY KEY (id)) ENGINE=InnoDB',
  `CREATE TABLE document_share (id uuid NOT NULL, documentId uuid NOT NULL, address varchar(254) NOT NULL,
    \`by\` uuid NOT NULL, state varchar(20) NOT NULL, grantedVersion int NULL, notice json NULL, submissionId uuid NOT NULL,
    reported tinyint NOT NULL, PRIMARY KEY (id), UNIQUE INDEX document_share_once (documentId, address),
    INDEX document_share_submission (submissionId), CONSTRAINT document_share_row FOREIGN KEY (documentId)
    REFERENCES document (id) ON DELETE CASCADE ON UPDATE RESTRICT) ENGINE=InnoDB`,
  `CREATE TABLE post_file (id uuid NOT NULL, postId uuid NOT NULL, sealed longblob NOT NULL, PRIMARY KEY (id),
    INDEX post_file_post (postId)) ENGINE=InnoDB`,
  `INSERT INTO installation (name, value, at) SELECT 'demo', 'done', NOW(3) FROM account LIMIT 1`,
];

/** What waits in the mail window, and what was refused there, had no submission of its own. */
const MAILS_OF_THE_WINDOW = [
  `INSERT INTO submission (id, submitter, \`key\`, digest, channel, person, movementId, incident, answer, state,
      treatments, label, recipients, notice, at)
    SELECT m.id, 'mail-window', CONCAT('earlier ', m.id), REPEAT('0', 64), 'mail', m.sender, i.movementId, i.number,
      v.answer, IF(m.folder = 'waiting', 'waiting', 'refused'), COALESCE(m.treatments, '[]'), NULL, '[]', m.notice, m.at
    FROM mail_message m
      JOIN incident i ON i.number = CAST(JSON_VALUE(m.notice, '$.incident') AS INT)
      JOIN movement v ON v.id = i.movementId
      LEFT JOIN submission s ON s.id = m.id
    WHERE m.folder IN ('waiting', 'drafts') AND m.notice IS NOT NULL AND s.id IS NULL`,
];

const TAKEN_BACK = [
  'DROP TABLE document_share',
  'DROP TABLE post_file',
  'DROP TABLE mail_file',
  'ALTER TABLE gateway_mail DROP copy',
  'DELETE FROM mail_attachment WHERE sealed IS NULL',
  'ALTER TABLE mail_attachment DROP INDEX attachment_file, DROP fileId, MODIFY sealed longblob NOT NULL',
  'DROP TABLE installation',
  'ALTER TABLE post_mail DROP encrypted, DROP noPassingOn, DROP shown',
  'ALTER TABLE document DROP createdAt',
  'ALTER TABLE label_run DROP snapshot',
  'ALTER TABLE drive_file DROP madeAt, DROP labelVersion',
  'ALTER TABLE channel_setting DROP seconds',
  'ALTER TABLE incident DROP openSeverity, DROP openUrgency, DROP openUrgencyParts, DROP openMatches, DROP openAnswer',
  'DELETE FROM rule_match WHERE ruleId IS NULL',
  `ALTER TABLE rule_match MODIFY policyId uuid NOT NULL, MODIFY ruleId varchar(60) NOT NULL, DROP labelId, DROP effect,
    DROP silent`,
  `ALTER TABLE drive_share CHANGE submissionId attemptId uuid NOT NULL, DROP grantedVersion,
    RENAME INDEX share_submission TO share_attempt`,
  `ALTER TABLE post CHANGE \`window\` agent varchar(20) NOT NULL, CHANGE submissionId attemptId uuid NOT NULL,
    RENAME INDEX post_place TO thing_place, RENAME INDEX post_submission TO thing_attempt`,
  `ALTER TABLE pending_movement RENAME INDEX pending_state TO waiting_state,
    RENAME INDEX pending_incident TO waiting_incident`,
  `ALTER TABLE submission CHANGE submitter agent varchar(60) NOT NULL, DROP INDEX submission_incident, RENAME INDEX submission_key TO attempt_key,
    RENAME INDEX submission_movement TO attempt_movement`,
  'RENAME TABLE submission TO attempt, pending_movement TO waiting_movement, post TO thing',
];
