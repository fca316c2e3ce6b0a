import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Labels, offers and automatic rules; documents and places that carry them; every change of a label. */
export class Labels1764000000008 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
    // Whoever could do the same with policies can do it with labels.
    await runner.query(
      `UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'labels.read')
        WHERE JSON_CONTAINS(permissions, '"policies.read"')`,
    );
    await runner.query(
      `UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'labels.write', '$', 'labels.sign', '$', 'labels.run')
        WHERE JSON_CONTAINS(permissions, '"policies.publish"')`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE mail_message DROP COLUMN label');
    for (const table of TABLES) await runner.query(`DROP TABLE ${table}`);
  }
}

const TABLES = [
  'label_run_item',
  'label_run',
  'place',
  'document',
  'label_change',
  'label_sign_off',
  'label_history',
  'label_part',
];

const STATEMENTS = [
  `CREATE TABLE label_part (
    id uuid NOT NULL, kind varchar(20) NOT NULL, position int NOT NULL, definition json NOT NULL, version int NOT NULL,
    updatedAt datetime(3) NOT NULL, updatedBy varchar(120) NOT NULL, PRIMARY KEY (id), INDEX label_part_kind (kind, position)
  ) ENGINE=InnoDB`,
  `CREATE TABLE label_history (
    id int NOT NULL AUTO_INCREMENT, partId uuid NOT NULL, at datetime(3) NOT NULL, \`by\` varchar(120) NOT NULL,
    note text NOT NULL, \`before\` json NULL, after json NULL, PRIMARY KEY (id), INDEX label_history_part (partId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE label_sign_off (
    id int NOT NULL AUTO_INCREMENT, fingerprint char(64) NOT NULL, at datetime(3) NOT NULL, \`by\` varchar(120) NOT NULL,
    agrees tinyint NOT NULL, words text NOT NULL, PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE label_change (
    id int NOT NULL AUTO_INCREMENT, at datetime(3) NOT NULL, \`by\` varchar(254) NOT NULL, how varchar(20) NOT NULL,
    shift varchar(10) NOT NULL, carrier varchar(10) NOT NULL, item varchar(500) NOT NULL, itemId varchar(36) NULL,
    runId varchar(36) NULL, \`before\` json NULL, after json NULL, reason text NOT NULL, PRIMARY KEY (id),
    INDEX label_change_at (at), INDEX label_change_item (itemId), INDEX label_change_run (runId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE document (
    id uuid NOT NULL, ownerId uuid NOT NULL, ownerAddress varchar(254) NOT NULL, name varchar(200) NOT NULL,
    sealed longblob NOT NULL, label json NULL, named json NOT NULL, sharedWith json NOT NULL, waiting json NULL,
    version int NOT NULL, updatedAt datetime(3) NOT NULL, PRIMARY KEY (id), INDEX document_owner (ownerId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE place (
    id uuid NOT NULL, name varchar(120) NOT NULL, about varchar(500) NOT NULL, folder varchar(120) NOT NULL,
    owner varchar(254) NOT NULL, sharedOutside json NOT NULL, PRIMARY KEY (id), UNIQUE INDEX place_name (name)
  ) ENGINE=InnoDB`,
  `CREATE TABLE label_run (
    id uuid NOT NULL, does varchar(10) NOT NULL, state varchar(10) NOT NULL, startedAt datetime(3) NOT NULL,
    startedBy varchar(120) NOT NULL, places json NOT NULL, rules json NOT NULL, pace int NULL, total int NOT NULL,
    seen int NOT NULL, seconds double NOT NULL, figures json NOT NULL, PRIMARY KEY (id), INDEX label_run_at (startedAt)
  ) ENGINE=InnoDB`,
  `CREATE TABLE label_run_item (
    id int NOT NULL AUTO_INCREMENT, runId uuid NOT NULL, placeId uuid NOT NULL, path varchar(500) NOT NULL,
    outcome varchar(20) NOT NULL, \`before\` json NULL, labelId varchar(36) NULL, ruleId varchar(36) NULL,
    outranked json NOT NULL, held json NOT NULL, reason varchar(60) NULL, applied tinyint NOT NULL, setAt varchar(30) NULL,
    PRIMARY KEY (id), INDEX label_run_item_run (runId, outcome)
  ) ENGINE=InnoDB`,
  'ALTER TABLE mail_message ADD label json NULL',
];
