import type { SaveDocumentRequest } from '@lantern/contracts';
import { type Effect, EFFECTS } from '@lantern/core/labels';

/** Addresses by effect, each once, lower case; effects nobody knows are passed over. */
export function namedPeople(given: SaveDocumentRequest['named']): Partial<Record<Effect, string[]>> {
  const named: Partial<Record<Effect, string[]>> = {};
  for (const effect of EFFECTS) {
    const people = given?.[effect];
    if (Array.isArray(people))
      named[effect] = [
        ...new Set(
          people.filter((each) => typeof each === 'string').map((each) => each.trim().toLowerCase()),
        ),
      ].slice(0, 200);
  }
  return named;
}
