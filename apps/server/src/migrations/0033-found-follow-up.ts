import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES = [
  `CREATE TABLE discovery_fetch (
    id uuid NOT NULL PRIMARY KEY,
    itemId uuid NOT NULL,
    accountId uuid NOT NULL,
    actor varchar(120) NOT NULL,
    reason varchar(300) NOT NULL,
    at datetime(3) NOT NULL,
    state varchar(10) NOT NULL,
    problem varchar(60) NULL,
    bytes bigint NULL,
    digest char(64) NULL,
    endedAt datetime(3) NULL,
    sealed longblob NULL,
    KEY discovery_fetch_item (itemId, at),
    KEY discovery_fetch_account (accountId, at),
    KEY discovery_fetch_state (state, endedAt),
    CONSTRAINT discovery_fetch_item_row FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_clean_up (
    id uuid NOT NULL PRIMARY KEY,
    placeId uuid NOT NULL,
    owner varchar(254) NOT NULL,
    actor varchar(120) NOT NULL,
    at datetime(3) NOT NULL,
    dueOn date NOT NULL,
    note varchar(2000) NOT NULL,
    endedAt datetime(3) NULL,
    KEY discovery_clean_up_place_at (placeId, at),
    CONSTRAINT discovery_clean_up_place FOREIGN KEY (placeId) REFERENCES discovery_place (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_clean_up_item (
    cleanUpId uuid NOT NULL,
    itemId uuid NOT NULL,
    PRIMARY KEY (cleanUpId, itemId),
    KEY discovery_clean_up_of_item (itemId),
    CONSTRAINT discovery_clean_up_row FOREIGN KEY (cleanUpId) REFERENCES discovery_clean_up (id)
      ON DELETE CASCADE ON UPDATE RESTRICT,
    CONSTRAINT discovery_clean_up_item_row FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_looked_for (
    digest char(64) NOT NULL PRIMARY KEY,
    facts longtext NOT NULL
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_query (
    id uuid NOT NULL PRIMARY KEY,
    accountId uuid NOT NULL,
    owner varchar(120) NOT NULL,
    name varchar(80) NOT NULL,
    line text NOT NULL,
    sorted varchar(20) NOT NULL,
    grouped json NOT NULL,
    shared tinyint NOT NULL,
    KEY discovery_query_account (accountId)
  ) ENGINE=InnoDB`,
];

/** What people do about what was found: items fetched whole, requests to clean up, questions under a name; and what readers tell of themselves. */
export class FoundFollowUp1766000000033 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
    await runner.query('ALTER TABLE discovery_act ADD COLUMN toPlaceId uuid NULL');
    await runner.query(
      'ALTER TABLE reader ADD COLUMN told json NULL, ADD COLUMN holdsRecords tinyint NOT NULL DEFAULT 0',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE discovery_act DROP COLUMN toPlaceId');
    await runner.query('ALTER TABLE reader DROP COLUMN holdsRecords, DROP COLUMN told');
    for (const name of [
      ...[
        'discovery_query',
        'discovery_looked_for',
        'discovery_clean_up_item',
        'discovery_clean_up',
        'discovery_fetch',
      ],
    ])
      await runner.query(`DROP TABLE ${name}`);
  }
}
