import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Roles, invitations, sessions that can be told apart, and the audit trail. Accounts of earlier versions keep their permissions. */
export class AccountsAndTrail1764000000015 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE account
      ADD roles json NULL,
      ADD seesSilent tinyint NOT NULL DEFAULT 0,
      ADD disabledAt datetime(3) NULL,
      ADD invitedAt datetime(3) NULL,
      ADD lastSignIn datetime(3) NULL,
      ADD factorSecret blob NULL,
      ADD factorSince datetime(3) NULL,
      ADD factorStep int NULL,
      ADD recoveryHashes json NULL`);
    // Sessions that were opened before cannot be told apart: people sign in again.
    await runner.query('DELETE FROM session');
    await runner.query(`ALTER TABLE session
      ADD id uuid NOT NULL,
      ADD createdAt datetime(3) NOT NULL,
      ADD lastSeen datetime(3) NOT NULL,
      ADD agent varchar(200) NOT NULL,
      ADD address varchar(64) NOT NULL,
      ADD UNIQUE INDEX session_id (id)`);
    await runner.query(`CREATE TABLE invitation (
      tokenHash char(64) NOT NULL PRIMARY KEY,
      accountId uuid NOT NULL,
      expiresAt datetime(3) NOT NULL,
      createdBy varchar(254) NOT NULL,
      CONSTRAINT invitation_account FOREIGN KEY (accountId) REFERENCES account (id) ON DELETE CASCADE
    )`);
    await runner.query(`CREATE TABLE trail_entry (
      number int NOT NULL PRIMARY KEY,
      at datetime(3) NOT NULL,
      actor varchar(254) NOT NULL,
      action varchar(80) NOT NULL,
      target varchar(254) NOT NULL,
      facts json NOT NULL,
      previous char(64) NOT NULL,
      hash char(64) NOT NULL,
      INDEX trail_actor (actor, number),
      INDEX trail_action (action, number)
    )`);
    await runner.query(`CREATE TABLE trail_head (
      id int NOT NULL PRIMARY KEY,
      number int NOT NULL,
      hash char(64) NOT NULL,
      signature char(64) NOT NULL
    )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['trail_head', 'trail_entry', 'invitation'])
      await runner.query(`DROP TABLE ${table}`);
    await runner.query(
      'ALTER TABLE session DROP id, DROP createdAt, DROP lastSeen, DROP agent, DROP address',
    );
    await runner.query(
      'ALTER TABLE account DROP roles, DROP seesSilent, DROP disabledAt, DROP invitedAt, DROP lastSignIn, DROP factorSecret, DROP factorSince, DROP factorStep, DROP recoveryHashes',
    );
  }
}
