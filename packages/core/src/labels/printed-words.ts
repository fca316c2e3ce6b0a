import { termValue } from '../directory/audience.js';
import { EFFECTS, type Effect, type EffectTerms, type Grant, type Handling, isOpen } from './handling.js';

/**
 * Words that are printed into files, where no screen stands between a code and its reader. They are English, the
 * language of the set's marks; whoever prints in another writes the words into the mark itself.
 */
const EFFECT_WORDS: Readonly<Record<Effect, string>> = {
  read: 'read',
  change: 'change',
  'take-out': 'copy from',
  'make-another': 'duplicate',
  'pass-on': 'pass on',
};

/** Handling in words: `read, change: inside only; pass on: nobody but the owner`. */
export function printedHandling(handling: Handling): string {
  if (isOpen(handling)) return 'open to anyone';
  const groups = new Map<string, string[]>();
  for (const effect of EFFECTS) {
    const who = printedTerms(handling[effect]);
    groups.set(who, [...(groups.get(who) ?? []), EFFECT_WORDS[effect]]);
  }
  return [...groups].map(([who, effects]) => `${effects.join(', ')}: ${who}`).join('; ');
}

function printedTerms(terms: EffectTerms): string {
  switch (terms.kind) {
    case 'anyone':
      return 'anyone';
    case 'inside':
      return 'inside only';
    case 'setter':
      return 'whom the owner names';
    case 'named':
      return terms.grants.length === 0
        ? 'nobody but the owner'
        : terms.grants.map(printedGrant).join(' and ');
  }
}

function printedGrant({ to, days }: Grant): string {
  const who = to.with.length === 0 ? 'anyone' : to.with.map(termValue).join(', ');
  const but = to.without.length === 0 ? '' : ` without ${to.without.map(termValue).join(', ')}`;
  return `${who}${but}${days === null ? '' : ` for ${days} ${days === 1 ? 'day' : 'days'}`}`;
}
