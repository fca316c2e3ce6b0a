import type { Outcome } from '@lantern/core/incidents';
import { type EntityManager, In } from 'typeorm';
import { JournalEntity } from '../../journal/journal.entity.js';
import type { Sight } from '../../platform/auth/sight.js';
import type { KeptRow } from './prevent-tasks.js';

/** Days that are looked back. */
export const LOOK_BACK_DAYS = 90;
/** Matches that are judged again, the newest first: more say nothing new, and would take minutes. */
export const MOST_MATCHES = 3_000;
const DAY_MS = 86_400_000;
/** Rows read from the journal at once, with their texts. */
const READ_AT_ONCE = 200;

/** An incident of a rule. */
export interface MatchedIncident {
  readonly number: number;
  readonly movementId: string;
  readonly outcome: Outcome | null;
  readonly person: string;
  /** Day (ISO 8601, UTC). */
  readonly day: string;
}

/** Incidents that a rule matched within the last 90 days, newest first; our own tests left out. */
export async function matchedBy(
  manager: EntityManager,
  rule: string,
  sight: Sight,
  now = Date.now(),
): Promise<MatchedIncident[]> {
  const rows = await manager.query<
    { number: number; movementId: string; outcome: Outcome | null; person: string; at: Date }[]
  >(
    `SELECT i.number AS number, i.movementId AS movementId, i.outcome AS outcome, i.personAddress AS person, i.at AS at
     FROM movement_trait t JOIN incident i ON i.number = t.incidentNumber
     WHERE t.field = 'rule' AND t.value = ? AND i.at >= ? AND i.test = 0
     ${sight.silent ? '' : 'AND t.silent = 0 AND i.silent = 0'} ORDER BY i.at DESC LIMIT ?`,
    [rule, new Date(now - LOOK_BACK_DAYS * DAY_MS), MOST_MATCHES],
  );
  return rows.map(({ number, movementId, outcome, person, at }) => ({
    ...{ number: Number(number), movementId, outcome, person },
    day: new Date(at).toISOString().slice(0, 10),
  }));
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
