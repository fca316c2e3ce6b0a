import { type EntityManager, In } from 'typeorm';
import { insertOnly } from '../database/insert-only.js';
import { DataKeyEntity } from './data-key.entity.js';
import type { KeyRing, WrappedKey } from './key-ring.js';

/** Keys of one statement. */
const AT_ONCE = 500;

/**
 * The data keys of movements by their ids: each seals all that is kept of what moved, and goes when that goes. What was
 * recorded before movements had keys of their own is sealed with that of the installation; one whose key was destroyed is
 * given that too, which opens nothing of it.
 */
export async function movementKeys(
  manager: EntityManager,
  keys: KeyRing,
  ids: readonly string[],
): Promise<(movementId: string) => Buffer> {
  const found = new Map<string, Buffer>();
  for (let at = 0; at < ids.length; at += AT_ONCE)
    for (const row of await manager.findBy(DataKeyEntity, { scope: In(ids.slice(at, at + AT_ONCE)) }))
      found.set(row.scope, keys.unwrap(row));
  return (movementId) => found.get(movementId) ?? keys.installation;
}

/** The data key of one movement. */
export async function movementKey(manager: EntityManager, keys: KeyRing, id: string): Promise<Buffer> {
  return (await movementKeys(manager, keys, [id]))(id);
}

/** Keeps fresh keys, in the transaction of what they seal; also those that were made before the master key changed. */
export async function keepKeys(
  manager: EntityManager,
  keys: KeyRing,
  wrapped: readonly WrappedKey[],
): Promise<void> {
  await insertOnly(
    manager,
    DataKeyEntity,
    wrapped.map((key) => ({ ...(key.master === keys.newest ? key : keys.rewrap(key)) })),
  );
}
