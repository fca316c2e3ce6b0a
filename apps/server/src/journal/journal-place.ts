/** What an entry of the journal is sealed to. */
export function journalPlace(movementId: string): string {
  return `journal ${movementId}`;
}

/** What the texts of an entry are sealed to. */
export function journalTextsPlace(movementId: string): string {
  return `journal texts ${movementId}`;
}
