import { type EntityManager, In } from 'typeorm';
import { JournalEntity } from '../journal/journal.entity.js';

/** Days that are looked back. */
export const LOOK_BACK_DAYS = 90;
/** Rows read from the journal at once, with their texts. */
const READ_AT_ONCE = 200;

/** A movement as the journal keeps it, sealed. */
export interface KeptRow {
  readonly id: string;
  readonly sealed: Uint8Array;
  readonly sealedTexts: Uint8Array | null;
}

/** Rows that the journal still keeps, by movement; texts where they are asked for. */
export async function keptRows(
  manager: EntityManager,
  ids: readonly string[],
  withTexts: boolean,
): Promise<Map<string, KeptRow>> {
  const found = new Map<string, KeptRow>();
  for (let at = 0; at < ids.length; at += READ_AT_ONCE) {
    const rows = await manager.find(JournalEntity, {
      where: { movementId: In(ids.slice(at, at + READ_AT_ONCE)) },
      select: { movementId: true, sealed: true, ...(withTexts ? { sealedTexts: true } : {}) },
    });
    for (const { movementId, sealed, sealedTexts } of rows)
      found.set(movementId, {
        id: movementId,
        sealed,
        sealedTexts: withTexts ? (sealedTexts ?? null) : null,
      });
  }
  return found;
}
