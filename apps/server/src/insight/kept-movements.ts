import { In } from 'typeorm';
import type { Source } from '../incidents/queue/rows.js';
import { movementKeys } from '../platform/keys/movement-keys.js';
import { JournalEntity } from '../journal/journal.entity.js';

/** Days that are looked back. */
export const LOOK_BACK_DAYS = 90;
/** Rows read from the journal at once, with their texts. */
const READ_AT_ONCE = 200;

/** A movement as the journal keeps it, sealed. */
export interface KeptRow {
  readonly id: string;
  /** Its data key. */
  readonly key: Uint8Array;
  readonly sealed: Uint8Array;
  readonly sealedTexts: Uint8Array | null;
}

/** Rows that the journal still keeps, by movement; texts where they are asked for. */
export async function keptRows(
  { manager, keys }: Source,
  ids: readonly string[],
  withTexts: boolean,
): Promise<Map<string, KeptRow>> {
  const found = new Map<string, KeptRow>();
  for (let at = 0; at < ids.length; at += READ_AT_ONCE) {
    const page = ids.slice(at, at + READ_AT_ONCE);
    const keyOf = await movementKeys(manager, keys, page);
    const rows = await manager.find(JournalEntity, {
      where: { movementId: In(page) },
      select: { movementId: true, sealed: true, ...(withTexts ? { sealedTexts: true } : {}) },
    });
    for (const { movementId, sealed, sealedTexts } of rows)
      found.set(movementId, {
        id: movementId,
        key: keyOf(movementId),
        sealed,
        sealedTexts: withTexts ? (sealedTexts ?? null) : null,
      });
  }
  return found;
}
