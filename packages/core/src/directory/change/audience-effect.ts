import { type Audience, type AudienceTerm, isMeant, termValue } from '../audience.js';
import type { PersonFacts } from '../person.js';

/** Somebody before and after a change; null where they were not, or will not be, in the directory. */
export interface PersonStep {
  readonly before: PersonFacts | null;
  readonly after: PersonFacts | null;
}

export interface NamedAudience {
  /** What the audience belongs to, as its reader knows it. */
  readonly of: string;
  readonly audience: Audience;
}

/** For whom something begins to hold, and for whom it ends. */
export interface AudienceEffect {
  readonly of: string;
  readonly joining: number;
  readonly leaving: number;
  /** Some of those who begin to be meant, or no longer are, by address. */
  readonly examples: readonly string[];
}

const EXAMPLES = 5;

/**
 * What means somebody else after a change, each thing once: somebody who is meant by one more of its audiences joins it.
 * Only who changes is looked at.
 */
export function audienceEffects(
  audiences: readonly NamedAudience[],
  steps: readonly PersonStep[],
): AudienceEffect[] {
  const byName = new Map<string, Audience[]>();
  for (const { of, audience } of audiences) {
    const same = byName.get(of);
    if (same) same.push(audience);
    else byName.set(of, [audience]);
  }
  return [...byName].flatMap(([of, all]) => {
    const joins = new Set<string>();
    const leaves = new Set<string>();
    for (const { before, after } of steps) {
      const address = (after ?? before)?.address ?? '';
      for (const audience of all) {
        const was = before !== null && isMeant(audience, before);
        const is = after !== null && isMeant(audience, after);
        if (is && !was) joins.add(address);
        if (was && !is) leaves.add(address);
      }
    }
    if (joins.size + leaves.size === 0) return [];
    const examples = [...new Set([...joins, ...leaves])].slice(0, EXAMPLES);
    return [{ of, joining: joins.size, leaving: leaves.size, examples }];
  });
}

/** A name that audiences use and that nobody would have any more. */
export interface VanishingName {
  readonly kind: 'group' | 'department' | 'office';
  readonly name: string;
}

/** Names in audiences that some person has before a change and no person has after it, each once. */
export function vanishingNames(
  audiences: readonly NamedAudience[],
  before: readonly PersonFacts[],
  after: readonly PersonFacts[],
): VanishingName[] {
  const had = namesOf(before);
  const has = namesOf(after);
  const found = new Map<string, VanishingName>();
  for (const term of audiences.flatMap(({ audience }) => [...audience.with, ...audience.without])) {
    const kind = kindOf(term);
    const name = termValue(term);
    const key = `${kind} ${name.toLowerCase()}`;
    if (kind && had.has(key) && !has.has(key)) found.set(key, { kind, name });
  }
  return [...found.values()];
}

function kindOf({ kind }: AudienceTerm): VanishingName['kind'] | null {
  return kind === 'group' || kind === 'department' || kind === 'office' ? kind : null;
}

function namesOf(people: readonly PersonFacts[]): ReadonlySet<string> {
  const names = new Set<string>();
  for (const { groups = [], department = '', office = '' } of people) {
    for (const group of groups) names.add(`group ${group.toLowerCase()}`);
    names.add(`department ${department.toLowerCase()}`);
    names.add(`office ${office.toLowerCase()}`);
  }
  return names;
}
