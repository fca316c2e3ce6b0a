import type { DeepPartial, EntityManager, EntityTarget, ObjectLiteral } from 'typeorm';

/**
 * Inserts rows and reads nothing back. The usual insert asks the database again for columns that have a default, which for
 * rows that are never looked at is a second query each. Gives the number that the database gave the first row.
 */
export async function insertOnly<Entity extends ObjectLiteral>(
  manager: EntityManager,
  target: EntityTarget<Entity>,
  rows: readonly DeepPartial<Entity>[],
): Promise<number> {
  if (rows.length === 0) return 0;
  const result = await manager
    .createQueryBuilder()
    .insert()
    .into(target)
    .values([...rows] as never)
    .updateEntity(false)
    .execute();
  return Number((result.raw as { insertId?: number }).insertId ?? 0);
}
