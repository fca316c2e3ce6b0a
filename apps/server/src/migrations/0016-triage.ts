import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Columns that movements and incidents are both filtered by. */
const SHARED = `
  ADD activity varchar(20) NULL,
  ADD manager varchar(254) NULL,
  ADD machine varchar(120) NULL,
  ADD managed tinyint NULL,
  ADD network varchar(12) NULL,
  ADD link varchar(20) NULL,
  ADD connection varchar(12) NULL,
  ADD test tinyint NOT NULL DEFAULT 0`;

/** What is known of the way of movements of earlier versions. */
const WAY = `
  activity = JSON_VALUE(way, '$.activity'),
  machine = JSON_VALUE(way, '$.machine.name'),
  managed = CASE JSON_VALUE(way, '$.machine.state') WHEN 'looked-after' THEN 1 WHEN 'strange' THEN 0 END,
  network = JSON_VALUE(way, '$.network'),
  link = JSON_VALUE(way, '$.link'),
  connection = JSON_VALUE(way, '$.connection')`;

/** What the desk filters, orders and groups by, in indexed columns; views, cases, look-alikes and decisions in bulk. */
export class Triage1764000000016 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await this.columns(runner);
    await this.tables(runner);
    await this.fill(runner);
    // Rows of earlier versions are filled: from here on every incident names its person and channel.
    await runner.query(`ALTER TABLE incident
      MODIFY channel varchar(20) NOT NULL, MODIFY personAddress varchar(254) NOT NULL,
      MODIFY personName varchar(120) NOT NULL, MODIFY department varchar(120) NOT NULL`);
  }

  private async columns(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE person ADD manager varchar(254) NULL');
    await runner.query(`ALTER TABLE movement ${SHARED},
      ADD title blob NULL,
      ADD incidentNumber int NULL,
      ADD INDEX movement_incident (incidentNumber),
      ADD INDEX movement_machine (machine, at),
      ADD INDEX movement_channel (channel, at)`);
    await runner.query(`ALTER TABLE incident ${SHARED},
      ADD channel varchar(20) NOT NULL DEFAULT '',
      ADD personAddress varchar(254) NOT NULL DEFAULT '',
      ADD personName varchar(120) NOT NULL DEFAULT '',
      ADD department varchar(120) NOT NULL DEFAULT '',
      ADD answer varchar(20) NULL,
      ADD revision int NULL,
      ADD firstSeverity varchar(20) NULL,
      ADD dueAt datetime(3) NULL,
      ADD nextAgeAt datetime(3) NULL,
      ADD decidedAt datetime(3) NULL,
      ADD caseNumber int NULL,
      ADD caseValues int NOT NULL DEFAULT 0,
      ADD signature varbinary(256) NULL,
      ADD signatureSize int NOT NULL DEFAULT 0,
      ADD alikeKey char(16) NULL,
      ADD INDEX incident_status (status, at),
      ADD INDEX incident_person (personAddress, at),
      ADD INDEX incident_machine (machine, at),
      ADD INDEX incident_severity (status, severity, number),
      ADD INDEX incident_department (department, at),
      ADD INDEX incident_channel (channel, at),
      ADD INDEX incident_case (caseNumber),
      ADD INDEX incident_age (nextAgeAt),
      ADD INDEX incident_due (status, dueAt)`);
  }

  private async tables(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE incident_history
      ADD accountId uuid NULL,
      ADD bulkId uuid NULL,
      ADD INDEX history_bulk (bulkId)`);
    await runner.query(`CREATE TABLE movement_trait (
      id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY,
      movementId uuid NOT NULL,
      incidentNumber int NULL,
      field varchar(16) NOT NULL,
      value varchar(254) NOT NULL,
      silent tinyint NOT NULL DEFAULT 0,
      INDEX trait_value (field, value, incidentNumber, silent),
      INDEX trait_incident (incidentNumber, field, value, silent),
      INDEX trait_movement (movementId, field, value),
      CONSTRAINT trait_movement_row FOREIGN KEY (movementId) REFERENCES movement (id)
    )`);
    await runner.query(`CREATE TABLE known_name (
      kind varchar(10) NOT NULL,
      id varchar(60) NOT NULL,
      name varchar(200) NOT NULL,
      PRIMARY KEY (kind, id)
    )`);
    await runner.query(`CREATE TABLE alike_band (
      hash binary(8) NOT NULL,
      incidentNumber int NOT NULL,
      PRIMARY KEY (hash, incidentNumber),
      INDEX band_incident (incidentNumber)
    )`);
    await runner.query(`CREATE TABLE case_value (
      hash binary(8) NOT NULL,
      incidentNumber int NOT NULL,
      PRIMARY KEY (hash, incidentNumber),
      INDEX value_incident (incidentNumber)
    )`);
    await runner.query(`CREATE TABLE desk_view (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(120) NOT NULL,
      owner uuid NOT NULL,
      ownerName varchar(120) NOT NULL,
      shared tinyint NOT NULL,
      role varchar(20) NULL,
      state json NOT NULL,
      version int NOT NULL,
      INDEX view_owner (owner)
    )`);
    await runner.query(`CREATE TABLE bulk_decision (
      id uuid NOT NULL PRIMARY KEY,
      at datetime(3) NOT NULL,
      actor varchar(120) NOT NULL,
      account varchar(254) NOT NULL,
      act json NOT NULL,
      state varchar(12) NOT NULL,
      total int NOT NULL,
      done int NOT NULL,
      skipped int NOT NULL,
      undone int NOT NULL DEFAULT 0,
      INDEX bulk_at (at)
    )`);
    await runner.query(`CREATE TABLE bulk_decision_item (
      bulkId uuid NOT NULL,
      incidentNumber int NOT NULL,
      state varchar(12) NOT NULL,
      version int NULL,
      earlier json NULL,
      reason varchar(40) NULL,
      PRIMARY KEY (bulkId, incidentNumber),
      CONSTRAINT bulk_item FOREIGN KEY (bulkId) REFERENCES bulk_decision (id) ON DELETE CASCADE
    )`);
    await runner.query(`CREATE TABLE desk_setting (
      id int NOT NULL PRIMARY KEY,
      hours json NOT NULL,
      promises json NOT NULL,
      updatedAt datetime(3) NOT NULL,
      updatedBy varchar(120) NOT NULL
    )`);
  }

  private async fill(runner: QueryRunner): Promise<void> {
    await runner.query(`UPDATE movement SET ${WAY} WHERE way IS NOT NULL`);
    await runner.query(`UPDATE movement m JOIN incident i ON i.movementId = m.id SET
      m.incidentNumber = i.number,
      i.channel = m.channel, i.personAddress = m.personAddress, i.personName = m.personName,
      i.department = m.department, i.answer = m.answer, i.revision = m.revision, i.firstSeverity = i.severity,
      i.activity = m.activity, i.machine = m.machine, i.managed = m.managed, i.network = m.network,
      i.link = m.link, i.connection = m.connection,
      i.openSeverity = COALESCE(i.openSeverity, i.severity), i.openUrgency = COALESCE(i.openUrgency, i.urgency),
      i.openUrgencyParts = COALESCE(i.openUrgencyParts, i.urgencyParts),
      i.openMatches = COALESCE(i.openMatches, i.matches), i.openAnswer = COALESCE(i.openAnswer, m.answer)`);
    await runner.query(`INSERT INTO movement_trait (movementId, incidentNumber, field, value)
      SELECT m.id, m.incidentNumber, 'destination', r.address FROM movement m,
        JSON_TABLE(m.recipients, '$[*]' COLUMNS (address varchar(254) PATH '$.address')) r WHERE r.address IS NOT NULL`);
    await runner.query(`INSERT INTO movement_trait (movementId, incidentNumber, field, value)
      SELECT DISTINCT movementId, incidentNumber, 'domain', SUBSTRING_INDEX(value, '@', -1) FROM movement_trait
      WHERE field = 'destination' AND value LIKE '%@%'`);
    await runner.query(`INSERT INTO movement_trait (movementId, incidentNumber, field, value)
      SELECT i.movementId, i.number, 'pattern', c.pattern FROM incident i,
        JSON_TABLE(i.counts, '$[*]' COLUMNS (pattern varchar(120) PATH '$.pattern')) c WHERE c.pattern IS NOT NULL`);
    for (const [field, column] of [
      ['policy', 'policyId'],
      ['rule', 'ruleId'],
      ['reducedBy', 'cut'],
      ['label', 'labelId'],
    ])
      await runner.query(`INSERT INTO movement_trait (movementId, incidentNumber, field, value, silent)
        SELECT movementId, incidentNumber, '${field}', ${column}, MIN(silent) FROM rule_match
        WHERE ${column} IS NOT NULL GROUP BY movementId, incidentNumber, ${column}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [
      'desk_setting',
      'bulk_decision_item',
      'bulk_decision',
      'desk_view',
      'case_value',
      'alike_band',
      'known_name',
      'movement_trait',
    ])
      await runner.query(`DROP TABLE ${table}`);
    const shared = ['activity', 'manager', 'machine', 'managed', 'network', 'link', 'connection', 'test'];
    const own = [
      ...['channel', 'personAddress', 'personName', 'department', 'answer', 'revision', 'firstSeverity'],
      ...['dueAt', 'nextAgeAt', 'decidedAt', 'caseNumber', 'caseValues', 'signature', 'alikeKey'],
    ];
    const dropped = (columns: readonly string[]) => columns.map((column) => `DROP ${column}`).join(', ');
    for (const index of [
      'status',
      'person',
      'machine',
      'severity',
      'department',
      'channel',
      'case',
      'age',
      'due',
    ])
      await runner.query(`ALTER TABLE incident DROP INDEX incident_${index}`);
    await runner.query(`ALTER TABLE incident ${dropped([...shared, ...own])}`);
    await runner.query(
      'ALTER TABLE movement DROP INDEX movement_incident, DROP INDEX movement_machine, DROP INDEX movement_channel',
    );
    await runner.query(`ALTER TABLE movement ${dropped([...shared, 'title', 'incidentNumber'])}`);
    await runner.query('ALTER TABLE incident_history DROP INDEX history_bulk, DROP accountId, DROP bulkId');
    await runner.query('ALTER TABLE person DROP manager');
  }
}
