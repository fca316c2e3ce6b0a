import type { RuleId } from '../../shared/brand.js';
import type { Band, Policy, Rule } from './rule.js';
import { EVERYWHERE } from './whereabouts.js';

/** A band that notes everything, to be changed in place. */
export const EMPTY_BAND: Band = {
  from: 1,
  to: null,
  answer: 'note',
  severity: 'medium',
  treatments: [],
  text: null,
};

/** The rule that a new policy or a new line starts with: the commonest one, to be changed in place. */
export function newRule(id: string, pattern: string, side: 'outside' | 'inside' = 'outside'): Rule {
  return {
    id: id as RuleId,
    name: '',
    people: null,
    when: {
      kind: 'all',
      of: [
        { kind: 'findings', pattern, atLeast: 1, distinct: true, certainty: 80, where: [] },
        { kind: 'recipient', quantity: 'any', side },
      ],
    },
    unless: null,
    measure: null,
    bands: [EMPTY_BAND],
    ask: null,
    override: null,
    keep: 'excerpts',
    tell: [],
    silence: null,
    bindsFrom: null,
    perRecipient: false,
    endsPolicy: false,
  };
}

/** A policy that holds one rule, to be changed in place. */
export function newPolicy(rule: Rule, channel: Policy['channels'][number] = 'mail'): Omit<Policy, 'id'> {
  return {
    name: '',
    purpose: '',
    owner: '',
    channels: [channel],
    people: { with: [], without: [] },
    where: EVERYWHERE,
    shared: null,
    rules: [rule],
    ceilings: [],
  };
}
