import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Data keys of movements, and verdicts that are sealed with them; and the audit trail in a database of its own, where the
 * server's account may add entries and neither change nor delete any.
 */
export class KeysAndTrail1765400000027 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE data_key (
      scope varchar(36) NOT NULL PRIMARY KEY,
      wrapped varbinary(60) NOT NULL,
      master char(16) NOT NULL,
      KEY data_key_master (master)
    ) ENGINE=InnoDB`);
    // What stands in the clear is sealed at the next start, which has the key; the old column stays empty after it.
    await runner.query('ALTER TABLE incident MODIFY COLUMN verdict longtext NULL');
    await runner.query('ALTER TABLE incident ADD COLUMN sealedVerdict longblob NULL');
    const trail = await trailDatabase(runner);
    await runner.query(
      `INSERT INTO ${trail}.trail_entry (number, at, actor, action, target, facts, previous, hash)
       SELECT number, at, actor, action, target, facts, previous, hash FROM trail_entry
       WHERE number > (SELECT COALESCE(MAX(number), 0) FROM ${trail}.trail_entry)`,
    );
    await runner.query('DROP TABLE trail_entry');
    // With the rights of whoever asks, so that the view gives nobody more than they have.
    await runner.query(
      `CREATE SQL SECURITY INVOKER VIEW trail_entry AS
       SELECT number, at, actor, action, target, facts, previous, hash FROM ${trail}.trail_entry`,
    );
    await runner.query(
      `CREATE SQL SECURITY INVOKER VIEW trail_segment AS
       SELECT number, hash, signature, firstAt, lastAt, removedAt FROM ${trail}.trail_segment`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    // Entries stay where they are, too: nothing of the server's may remove them.
    await runner.query(`CREATE TABLE copied_entry LIKE ${await trailDatabase(runner)}.trail_entry`);
    await runner.query('INSERT INTO copied_entry SELECT * FROM trail_entry');
    await runner.query('DROP VIEW trail_segment, trail_entry');
    await runner.query('RENAME TABLE copied_entry TO trail_entry');
    await runner.query('ALTER TABLE incident DROP COLUMN sealedVerdict');
    await runner.query('DROP TABLE data_key');
  }
}

/** Made by whoever made the database: the server's account may not. */
async function trailDatabase(runner: QueryRunner): Promise<string> {
  const rows = (await runner.query('SELECT DATABASE() AS own')) as { own: string }[];
  return `\`trail_of_${rows[0]?.own ?? ''}\``;
}
