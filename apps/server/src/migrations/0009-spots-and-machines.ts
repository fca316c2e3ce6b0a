import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Row<Key extends string> {
  readonly key: Key | number;
  readonly definition: unknown;
}
type Fields = Record<string, unknown>;

/**
 * Machines of the directory. Policies say where they are for, and rules whether they are asked of each recipient; sets
 * have groups of spots. What was written before is for everywhere and asked once.
 */
export class SpotsAndMachines1764000000009 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE machine (
        name varchar(120) NOT NULL, state varchar(20) NOT NULL, \`groups\` json NOT NULL, owner varchar(254) NOT NULL,
        PRIMARY KEY (name)
      ) ENGINE=InnoDB`,
    );
    const drafts = (await runner.query('SELECT id AS `key`, definition FROM policy_draft')) as Row<string>[];
    for (const { key, definition } of drafts)
      await runner.query('UPDATE policy_draft SET definition = ? WHERE id = ?', [
        JSON.stringify(policyWith(parsed(definition))),
        key,
      ]);
    const revisions = (await runner.query(
      'SELECT number AS `key`, document AS definition FROM revision',
    )) as Row<string>[];
    for (const { key, definition } of revisions) {
      const document = parsed(definition);
      const policies = ((document['policies'] ?? []) as Fields[]).map(policyWith);
      await runner.query('UPDATE revision SET document = ? WHERE number = ?', [
        JSON.stringify({ ...document, policies, spots: [] }),
        key,
      ]);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE machine');
  }
}

const parsed = (value: unknown): Fields =>
  typeof value === 'string' ? (JSON.parse(value) as Fields) : (value as Fields);

function policyWith(policy: Fields): Fields {
  const rules = ((policy['rules'] ?? []) as Fields[]).map((rule) => ({ perRecipient: false, ...rule }));
  return { where: { with: [], without: [] }, ...policy, rules };
}
