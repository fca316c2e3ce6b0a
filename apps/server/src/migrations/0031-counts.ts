import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * What changed about movements and incidents, written down by the database itself within the transaction that changes them:
 * from it the columns that counts are made from are kept up. Matches and most traits come with their incident and never change
 * afterwards; replies and overrides come later.
 */
export class Counts1765800000031 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE counted_change (
      seq bigint NOT NULL AUTO_INCREMENT PRIMARY KEY,
      movementId uuid NOT NULL,
      at datetime NOT NULL DEFAULT current_timestamp()
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE counted_state (
      id tinyint NOT NULL PRIMARY KEY,
      prunedTo bigint NOT NULL DEFAULT 0,
      rebuilt int NOT NULL DEFAULT 0
    ) ENGINE=InnoDB`);
    await runner.query('INSERT INTO counted_state (id) VALUES (1)');
    const trigger = (name: string, when: string, body: string) =>
      runner.query(`CREATE TRIGGER ${name} ${when} FOR EACH ROW ${body}`);
    const noteOf = (column: string) => `INSERT INTO counted_change (movementId) VALUES (${column})`;
    await trigger('counted_movement_new', 'AFTER INSERT ON movement', noteOf('NEW.id'));
    // What waits for an answer changes often in ways that nothing counts.
    const counted = ['test', 'answer', 'personAddress', 'department', 'manager', 'machine', 'at', 'channel'];
    await trigger(
      'counted_movement_changed',
      'AFTER UPDATE ON movement',
      `IF ${counted.map((name) => `NOT (NEW.${name} <=> OLD.${name})`).join(' OR ')} THEN ${noteOf('NEW.id')}; END IF`,
    );
    await trigger('counted_movement_gone', 'AFTER DELETE ON movement', noteOf('OLD.id'));
    await trigger('counted_incident_new', 'AFTER INSERT ON incident', noteOf('NEW.movementId'));
    await trigger('counted_incident_changed', 'AFTER UPDATE ON incident', noteOf('NEW.movementId'));
    await trigger('counted_incident_gone', 'AFTER DELETE ON incident', noteOf('OLD.movementId'));
    await trigger('counted_match_changed', 'AFTER UPDATE ON rule_match', noteOf('NEW.movementId'));
    await trigger('counted_match_gone', 'AFTER DELETE ON rule_match', noteOf('OLD.movementId'));
    await trigger(
      'counted_trait_new',
      'AFTER INSERT ON movement_trait',
      `IF NEW.field IN ('reply', 'override') THEN ${noteOf('NEW.movementId')}; END IF`,
    );
    await trigger('counted_trait_changed', 'AFTER UPDATE ON movement_trait', noteOf('NEW.movementId'));
    await trigger('counted_trait_gone', 'AFTER DELETE ON movement_trait', noteOf('OLD.movementId'));
  }

  async down(runner: QueryRunner): Promise<void> {
    const made = ['movement_new', 'movement_changed', 'movement_gone', 'incident_new', 'incident_changed'];
    made.push('incident_gone', 'match_changed', 'match_gone', 'trait_new', 'trait_changed', 'trait_gone');
    for (const name of made) await runner.query(`DROP TRIGGER counted_${name}`);
    await runner.query('DROP TABLE counted_state');
    await runner.query('DROP TABLE counted_change');
  }
}
