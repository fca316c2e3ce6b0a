import type { Outcome } from '@lantern/core/incidents';
import type { EntityManager } from 'typeorm';
import type { Sight } from '../../platform/auth/sight.js';
import { LOOK_BACK_DAYS } from '../kept-movements.js';

/** Matches that are judged again, the newest first: more say nothing new, and would take minutes. */
export const MOST_MATCHES = 3_000;
const DAY_MS = 86_400_000;

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
