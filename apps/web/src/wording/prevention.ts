import type { PreventionView } from '@lantern/contracts/insight';
import type { ChangeEffect, PreventingChange, PromiseState } from '@lantern/core/insight';
import { spotName } from '@lantern/core/movement';
import { assertNever } from '@lantern/core/shared';
import { count, rounded } from './insight';

/** A change as a sentence; `nameOf` names a pattern. */
export function changeSentence(change: PreventingChange, nameOf: (pattern: string) => string): string {
  switch (change.kind) {
    case 'except-domain':
      return `Add an exception: everything goes to ${change.domain}`;
    case 'except-department':
      return `Add an exception: the sender works in ${change.department}`;
    case 'except-group':
      return `Add an exception: the sender is in the group ${change.group}`;
    case 'except-source':
      return `Add an exception: it was taken from ${spotName(change.spot)}`;
    case 'except-target':
      return `Add an exception: it goes into ${spotName(change.spot)}`;
    case 'enter-exchange':
      return `Approve an exchange: ${change.department} sends ${nameOf(change.pattern)} to ${change.domain}`;
    case 'raise-certainty':
      return `Raise the certainty of ${nameOf(change.pattern)} from ${change.from} to ${change.to}`;
    case 'raise-count':
      return `Raise the count of ${nameOf(change.pattern)} from ${change.from} to ${change.to}`;
    case 'remove-word':
      return `Remove the word “${change.word}” from ${nameOf(change.pattern)}`;
    case 'leave-out-value':
      return `Leave the value “${change.value}” out of ${nameOf(change.pattern)}`;
    case 'add-counter-word':
      return `Add the counter word “${change.word}” to ${nameOf(change.pattern)}`;
    default:
      return assertNever(change);
  }
}

/** What a change would miss of what people confirmed; empty for nothing. */
export function missedWords({ harm, allowed }: ChangeEffect): string {
  const parts = [
    ...(harm.missed > 0 ? [`${count(harm.missed)} of ${count(harm.of)} harmful`] : []),
    ...(allowed.missed > 0 ? [`${count(allowed.missed)} of ${count(allowed.of)} allowed`] : []),
  ];
  return parts.length > 0 ? `Misses ${parts.join(' and ')}` : '';
}

const STATE_WORDS: Readonly<Record<PromiseState, string>> = {
  'not-published': 'Not published yet',
  'too-early': 'Too early to say',
  kept: 'Kept its promise',
  'not-kept': 'Did not keep its promise',
};

/** Whether a change kept its promise, with the figures. */
export function promiseWords({ state, effect, before, since, revision }: PreventionView): string {
  const { gone, of } = effect.falsePositives;
  const promise = `Promised: ${count(gone)} of ${count(of)} false positives fewer.`;
  if (!since || !revision) return `${STATE_WORDS[state]}. ${promise}`;
  const rate = (figures: NonNullable<PreventionView['since']>): string =>
    `${count(figures.incidents)} incidents, ${count(figures.falsePositives)} false positives and ${count(figures.harm)} harmful in ${rounded(figures.days)} days`;
  return `${STATE_WORDS[state]}. ${promise} Since revision ${revision.number}: ${rate(since)}; before it: ${rate(before)}.`;
}
