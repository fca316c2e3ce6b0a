import type { EntityManager } from 'typeorm';
import { seal, unseal } from '../sealing.js';
import { DataKeyEntity } from './data-key.entity.js';
import type { KeyRing } from './key-ring.js';
import { keepKeys, movementKeys } from './movement-keys.js';
import { SEALED_OF_MOVEMENT, type SealedColumn } from './sealed-of-movement.js';

const COLUMNS: readonly SealedColumn[] = Object.values(SEALED_OF_MOVEMENT);

/** Destroys the data keys of movements that are deleted whole. */
export async function destroyKeys(manager: EntityManager, movementIds: readonly string[]): Promise<void> {
  if (movementIds.length > 0) await manager.delete(DataKeyEntity, [...movementIds]);
}

/**
 * Seals what is left of movements with new data keys and destroys the old ones, in the transaction that deleted a part of
 * them: what is gone cannot be opened any more, wherever a copy of its bytes still lies.
 */
export async function renewKeys(
  manager: EntityManager,
  keys: KeyRing,
  movementIds: readonly string[],
): Promise<void> {
  if (movementIds.length === 0) return;
  const keyOf = await movementKeys(manager, keys, movementIds);
  const fresh = new Map(movementIds.map((id) => [id, keys.fresh(id)]));
  const marks = movementIds.map(() => '?').join(', ');
  for (const { table, id, column, place } of COLUMNS) {
    const rows: { id: string; sealed: Buffer }[] = await manager.query(
      `SELECT ${id} AS id, ${column} AS sealed FROM ${table}
       WHERE ${id} IN (${marks}) AND ${column} IS NOT NULL FOR UPDATE`,
      [...movementIds],
    );
    for (const row of rows) {
      const made = fresh.get(row.id);
      if (!made) continue;
      const content = await unseal(keyOf(row.id), place(row.id), row.sealed);
      const sealed = await seal(made.key, place(row.id), content);
      await manager.query(`UPDATE ${table} SET ${column} = ? WHERE ${id} = ?`, [sealed, row.id]);
    }
  }
  await destroyKeys(manager, movementIds);
  await keepKeys(
    manager,
    keys,
    [...fresh.values()].map(({ wrapped }) => wrapped),
  );
}
