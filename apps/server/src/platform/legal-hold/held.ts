const inForce = (kind: string): string =>
  `SELECT subject FROM legal_hold WHERE kind = '${kind}' AND endedAt IS NULL`;

/**
 * Condition in SQL: a row of movements (under the name `m`) is under a legal hold, by its person, its incident, or the
 * case of its incident. One place, so that every sweep asks the same.
 */
export const IS_HELD = `(m.personAddress IN (${inForce('person')})
  OR m.incidentNumber IN (${inForce('incident')})
  OR m.incidentNumber IN (SELECT i.number FROM incident i WHERE i.caseNumber IN (${inForce('case')})))`;

/** Condition in SQL: an address, in the column named, belongs to somebody under a legal hold. */
export function isHeldPerson(column: string): string {
  return `${column} IN (${inForce('person')})`;
}
