const inForce = (kind: string): string =>
  `SELECT subject FROM legal_hold WHERE kind = '${kind}' AND endedAt IS NULL`;

/** SQL condition that is true if the address in a column belongs to a person under a legal hold; never NULL. */
export function isHeldPerson(column: string): string {
  return `COALESCE(${column}, '') IN (${inForce('person')})`;
}

/**
 * SQL condition for a row of `movement m`: true if a legal hold covers its person, its incident or the case of its
 * incident. Never NULL: a movement without an incident would otherwise be neither held nor free.
 */
export const IS_HELD = `(${isHeldPerson('m.personAddress')}
  OR COALESCE(m.incidentNumber, 0) IN (${inForce('incident')})
  OR COALESCE(m.incidentNumber, 0) IN (SELECT i.number FROM incident i WHERE i.caseNumber IN (${inForce('case')})))`;
