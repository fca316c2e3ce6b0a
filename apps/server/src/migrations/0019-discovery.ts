import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES = [
  `CREATE TABLE reader_code (
    digest char(64) NOT NULL PRIMARY KEY,
    groupName varchar(60) NOT NULL,
    endsAt datetime(3) NOT NULL,
    createdBy varchar(120) NOT NULL
  ) ENGINE=InnoDB`,
  `CREATE TABLE reader (
    id uuid NOT NULL PRIMARY KEY,
    name varchar(120) NOT NULL,
    groupName varchar(60) NOT NULL,
    platform varchar(120) NOT NULL,
    version varchar(40) NOT NULL,
    signingKey varchar(64) NOT NULL,
    sealingKey varchar(64) NOT NULL,
    keyEndsAt datetime(3) NOT NULL,
    enrolledAt datetime(3) NOT NULL,
    enrolledBy varchar(120) NOT NULL,
    lastSeen datetime(3) NULL,
    revision int NULL,
    rights json NOT NULL,
    notLookedFor json NOT NULL,
    trouble varchar(300) NULL,
    cost json NOT NULL,
    used json NULL,
    withdrawnAt datetime(3) NULL,
    KEY reader_group (groupName)
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_place (
    id uuid NOT NULL PRIMARY KEY,
    name varchar(120) NOT NULL,
    store varchar(20) NOT NULL,
    address json NOT NULL,
    secret longblob NULL,
    groupName varchar(60) NOT NULL,
    owner varchar(254) NOT NULL,
    reach varchar(20) NOT NULL,
    unmanaged tinyint NOT NULL,
    labelId varchar(36) NULL,
    unwanted json NOT NULL,
    directoryPlaceId uuid NULL,
    version int NOT NULL,
    checked json NOT NULL,
    readAt datetime(3) NULL,
    UNIQUE KEY discovery_place_name (name)
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_job (
    id uuid NOT NULL PRIMARY KEY,
    name varchar(120) NOT NULL,
    definition json NOT NULL,
    active tinyint NOT NULL,
    nextAt datetime(3) NULL,
    version int NOT NULL,
    KEY discovery_job_due (active, nextAt)
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_run (
    id uuid NOT NULL PRIMARY KEY,
    jobId uuid NOT NULL,
    definition json NOT NULL,
    state varchar(10) NOT NULL,
    startedAt datetime(3) NOT NULL,
    endedAt datetime(3) NULL,
    startedBy varchar(120) NOT NULL,
    revision int NULL,
    lookedFor char(64) NOT NULL,
    figures json NOT NULL,
    KEY discovery_run_job (jobId, startedAt),
    KEY discovery_run_state (state),
    CONSTRAINT discovery_run_job_row FOREIGN KEY (jobId) REFERENCES discovery_job (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_part (
    id uuid NOT NULL PRIMARY KEY,
    runId uuid NULL,
    placeId uuid NOT NULL,
    groupName varchar(60) NOT NULL,
    kind varchar(10) NOT NULL,
    rank int NOT NULL,
    state varchar(10) NOT NULL,
    readerId uuid NULL,
    leaseUntil datetime(3) NULL,
    taken int NOT NULL,
    content json NOT NULL,
    problem varchar(20) NULL,
    createdAt datetime(3) NOT NULL,
    endedAt datetime(3) NULL,
    KEY discovery_part_next (groupName, state, rank, createdAt),
    KEY discovery_part_run (runId, state),
    KEY discovery_part_place (placeId)
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_item (
    id uuid NOT NULL PRIMARY KEY,
    placeId uuid NOT NULL,
    path varchar(2000) NOT NULL,
    pathDigest char(64) NOT NULL,
    ending varchar(20) NOT NULL,
    bytes bigint NOT NULL,
    changedAt datetime(3) NULL,
    marker varchar(200) NOT NULL,
    owner varchar(254) NOT NULL,
    state varchar(12) NOT NULL,
    reason varchar(40) NULL,
    digest char(64) NULL,
    labelId varchar(36) NULL,
    labelRank int NULL,
    suggested varchar(36) NULL,
    reach varchar(20) NOT NULL,
    reachRead varchar(20) NOT NULL,
    isSensitive tinyint NOT NULL,
    misplaced tinyint NOT NULL,
    quarantined tinyint NOT NULL,
    found json NOT NULL,
    total int NOT NULL,
    certainty int NOT NULL,
    holding double NOT NULL,
    readAt datetime(3) NULL,
    revision int NULL,
    readerId uuid NULL,
    lookedFor char(64) NULL,
    seenRun uuid NULL,
    dueRun uuid NULL,
    UNIQUE KEY discovery_item_path (placeId, pathDigest),
    KEY discovery_item_holding (holding, id),
    KEY discovery_item_digest (digest),
    KEY discovery_item_due (dueRun, placeId),
    KEY discovery_item_seen (placeId, seenRun),
    KEY discovery_item_sensitive (isSensitive, holding),
    KEY discovery_item_sums (placeId, state, bytes, isSensitive, misplaced, quarantined, reach, labelRank, holding, changedAt),
    CONSTRAINT discovery_item_place FOREIGN KEY (placeId) REFERENCES discovery_place (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_found (
    itemId uuid NOT NULL,
    pattern varchar(60) NOT NULL,
    count int NOT NULL,
    certainty int NOT NULL,
    PRIMARY KEY (itemId, pattern),
    KEY discovery_found_pattern (pattern, certainty),
    CONSTRAINT discovery_found_item FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_evidence (
    itemId uuid NOT NULL PRIMARY KEY,
    sealed longblob NOT NULL,
    CONSTRAINT discovery_evidence_item FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_change (
    id int NOT NULL AUTO_INCREMENT PRIMARY KEY,
    runId uuid NOT NULL,
    placeId uuid NOT NULL,
    itemId uuid NOT NULL,
    at datetime(3) NOT NULL,
    \`before\` json NULL,
    \`after\` json NULL,
    KEY discovery_change_run (runId, id),
    KEY discovery_change_item (itemId, id),
    KEY discovery_change_place (placeId, at),
    CONSTRAINT discovery_change_item_row FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_act (
    id uuid NOT NULL PRIMARY KEY,
    act varchar(20) NOT NULL,
    labelId varchar(36) NULL,
    at datetime(3) NOT NULL,
    actor varchar(120) NOT NULL,
    reason varchar(300) NOT NULL,
    KEY discovery_act_at (at)
  ) ENGINE=InnoDB`,
  `CREATE TABLE discovery_act_item (
    actId uuid NOT NULL,
    itemId uuid NOT NULL,
    state varchar(10) NOT NULL,
    reason varchar(60) NULL,
    endedAt datetime(3) NULL,
    PRIMARY KEY (actId, itemId),
    KEY discovery_act_of_item (itemId),
    CONSTRAINT discovery_act_row FOREIGN KEY (actId) REFERENCES discovery_act (id)
      ON DELETE CASCADE ON UPDATE RESTRICT,
    CONSTRAINT discovery_act_item_row FOREIGN KEY (itemId) REFERENCES discovery_item (id)
      ON DELETE CASCADE ON UPDATE RESTRICT
  ) ENGINE=InnoDB`,
];

/** Readers, the places they go through, jobs with their runs, and what was found. */
export class Discovery1764700000019 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
    await runner.query(`UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'discovery.read')
      WHERE JSON_CONTAINS(permissions, '"labels.read"')`);
    await runner.query(`UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'discovery.run')
      WHERE JSON_CONTAINS(permissions, '"labels.run"')`);
    await runner.query(`UPDATE account SET permissions = JSON_ARRAY_APPEND(permissions, '$', 'discovery.manage')
      WHERE JSON_CONTAINS(permissions, '"agents.manage"')`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of [
      ...['discovery_act_item', 'discovery_act', 'discovery_change', 'discovery_evidence', 'discovery_found'],
      ...['discovery_item', 'discovery_part', 'discovery_run', 'discovery_job', 'discovery_place'],
      ...['reader', 'reader_code'],
    ])
      await runner.query(`DROP TABLE ${name}`);
  }
}
