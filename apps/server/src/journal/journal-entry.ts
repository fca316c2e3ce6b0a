import { type InspectedMovement, type InspectedPart } from '@lantern/core/movement';
import { keepMovement, type KeptMovement } from '@lantern/core/policy';

/** What is sealed in the journal: a movement, its findings without the evidence that led to them, and its texts. */
export interface JournalEntry {
  readonly movement: KeptMovement;
  /** Text of each part in the order of the movement's parts; null where it was not kept. */
  readonly texts: readonly (string | null)[] | null;
}

/** Texts of one movement kept in the journal, in UTF-16 units; of longer ones only findings are kept. */
export const MAX_KEPT_TEXT = 2_000_000;

/** Makes the entry of a movement; its texts stay only where all of them are there whole. */
export function journalEntry(
  movement: InspectedMovement,
  texts: readonly (string | null)[] | null,
): JournalEntry {
  const length = (texts ?? []).reduce((sum, text) => sum + (text?.length ?? 0), 0);
  const whole = texts !== null && length <= MAX_KEPT_TEXT && isWhole(movement.parts, texts);
  return { movement: keepMovement(movement), texts: whole ? texts : null };
}

/** Every readable part has its text, uncut. */
function isWhole(parts: readonly InspectedPart[], texts: readonly (string | null)[]): boolean {
  return parts.every(
    (part, index) => part.status === 'unreadable' || texts[index]?.length === part.characters,
  );
}
