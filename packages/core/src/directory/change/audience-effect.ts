import { type Audience, isMeant } from '../audience.js';
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

/** Audiences that mean somebody else after a change. Only who changes is looked at. */
export function audienceEffects(
  audiences: readonly NamedAudience[],
  steps: readonly PersonStep[],
): AudienceEffect[] {
  return audiences.flatMap(({ of, audience }) => {
    let joining = 0;
    let leaving = 0;
    const examples: string[] = [];
    for (const { before, after } of steps) {
      const was = before !== null && isMeant(audience, before);
      const is = after !== null && isMeant(audience, after);
      if (was === is) continue;
      if (is) joining += 1;
      else leaving += 1;
      if (examples.length < EXAMPLES) examples.push((after ?? before)?.address ?? '');
    }
    return joining + leaving === 0 ? [] : [{ of, joining, leaving, examples }];
  });
}
