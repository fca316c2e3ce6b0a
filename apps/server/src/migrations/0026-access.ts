import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Roles of the organisation's own, deputies, service accounts and their keys. */
export class Access1765300000026 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE account ADD COLUMN kind varchar(10) NOT NULL DEFAULT 'person'");
    await runner.query('ALTER TABLE account ADD COLUMN passkeys int NOT NULL DEFAULT 0');
    await runner.query(
      'ALTER TABLE account ADD COLUMN signOnKey char(64) NULL, ADD UNIQUE KEY account_sign_on (signOnKey)',
    );
    await runner.query('ALTER TABLE session ADD COLUMN signOnSession char(64) NULL');
    await runner.query(`CREATE TABLE own_role (
      id uuid NOT NULL PRIMARY KEY,
      name varchar(60) NOT NULL,
      description varchar(300) NOT NULL,
      permissions json NOT NULL,
      limits json NULL,
      needsFactor tinyint NOT NULL DEFAULT 0,
      changedAt datetime(3) NOT NULL,
      changedBy varchar(254) NOT NULL,
      UNIQUE KEY own_role_name (name)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE deputy (
      id uuid NOT NULL PRIMARY KEY,
      absentId uuid NOT NULL,
      deputyId uuid NOT NULL,
      since datetime(3) NOT NULL,
      until datetime(3) NOT NULL,
      KEY deputy_of (deputyId, until),
      CONSTRAINT deputy_absent FOREIGN KEY (absentId) REFERENCES account (id) ON DELETE CASCADE ON UPDATE RESTRICT,
      CONSTRAINT deputy_account FOREIGN KEY (deputyId) REFERENCES account (id) ON DELETE CASCADE ON UPDATE RESTRICT
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE consent (
      kind varchar(20) NOT NULL,
      subject varchar(100) NOT NULL,
      accountId uuid NOT NULL,
      name varchar(120) NOT NULL,
      inPlaceOf varchar(254) NULL,
      at datetime(3) NOT NULL,
      PRIMARY KEY (kind, subject, accountId),
      CONSTRAINT consent_account FOREIGN KEY (accountId) REFERENCES account (id) ON DELETE CASCADE ON UPDATE RESTRICT
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE service_key (
      id uuid NOT NULL PRIMARY KEY,
      accountId uuid NOT NULL,
      tokenHash char(64) NOT NULL,
      begins varchar(16) NOT NULL,
      createdAt datetime(3) NOT NULL,
      createdBy varchar(254) NOT NULL,
      expiresAt datetime(3) NOT NULL,
      lastUsed datetime(3) NULL,
      withdrawnAt datetime(3) NULL,
      UNIQUE KEY service_key_hash (tokenHash),
      CONSTRAINT service_key_account FOREIGN KEY (accountId) REFERENCES account (id) ON DELETE CASCADE ON UPDATE RESTRICT
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE passkey (
      id uuid NOT NULL PRIMARY KEY,
      accountId uuid NOT NULL,
      credentialHash char(64) NOT NULL,
      credentialId varchar(1400) NOT NULL,
      publicKey blob NOT NULL,
      counter bigint NOT NULL DEFAULT 0,
      name varchar(60) NOT NULL,
      createdAt datetime(3) NOT NULL,
      lastUsed datetime(3) NULL,
      UNIQUE KEY passkey_credential (credentialHash),
      CONSTRAINT passkey_account FOREIGN KEY (accountId) REFERENCES account (id) ON DELETE CASCADE ON UPDATE RESTRICT
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE single_sign_on (
      id int NOT NULL PRIMARY KEY,
      enabled tinyint NOT NULL,
      issuer varchar(400) NOT NULL,
      clientId varchar(200) NOT NULL,
      clientSecret blob NULL,
      groupsClaim varchar(100) NOT NULL,
      groupRoles json NOT NULL,
      onlyWay tinyint NOT NULL,
      emergency uuid NULL,
      changedAt datetime(3) NOT NULL,
      changedBy varchar(254) NOT NULL
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE used_challenge (
      challengeHash char(64) NOT NULL PRIMARY KEY,
      expiresAt datetime(3) NOT NULL
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE used_challenge');
    await runner.query('DROP TABLE single_sign_on');
    await runner.query('DROP TABLE passkey');
    await runner.query('DROP TABLE service_key');
    await runner.query('DROP TABLE consent');
    await runner.query('DROP TABLE deputy');
    await runner.query('DROP TABLE own_role');
    await runner.query('ALTER TABLE session DROP COLUMN signOnSession');
    await runner.query('ALTER TABLE account DROP COLUMN signOnKey, DROP COLUMN passkeys');
    await runner.query('ALTER TABLE account DROP COLUMN kind');
  }
}
