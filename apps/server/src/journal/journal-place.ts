/** What an entry of the journal is sealed to. */
export function journalPlace(movementId: string): string {
  return `journal ${movementId}`;
}
