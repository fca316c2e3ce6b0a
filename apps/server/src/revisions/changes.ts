import type { DraftChange } from '@lantern/contracts';
import { type OwnPattern } from '@lantern/core/detection';
import { NO_LABELS } from '@lantern/core/labels';
import { type Policy } from '@lantern/core/policy';
import { NO_CROSSINGS } from '../published/published-crossings.js';
import { stateOf } from '../published/draft-state.js';
import type { RevisionDocument } from '../published/revision.entity.js';

interface Named {
  readonly id: string;
  readonly name: string;
}

/** What differs between two documents, patterns first, each kind in the order of the later one. */
export function changesBetween(before: RevisionDocument, after: RevisionDocument): DraftChange[] {
  return [
    ...changesOf<OwnPattern>('pattern', before.patterns, after.patterns),
    ...labelChanges(before, after),
    ...crossingChanges(before, after),
    ...changesOf('text', before.texts, after.texts),
    ...changesOf('exchange', before.exchanges, after.exchanges),
    ...changesOf('spots', before.spots, after.spots),
    ...policyChanges(before.policies, after.policies),
    ...orderChange(before.policies, after.policies),
  ];
}

/** Nothing where a set of files is compared that says nothing about labels. */
function labelChanges(before: RevisionDocument, after: RevisionDocument): DraftChange[] {
  const one = before.labels ?? NO_LABELS;
  const other = after.labels ?? NO_LABELS;
  return [
    ...changesOf('label', one.labels, other.labels),
    ...changesOf('offer', one.offers, other.offers),
    ...changesOf('automatic', one.automatic, other.automatic),
  ];
}

function crossingChanges(before: RevisionDocument, after: RevisionDocument): DraftChange[] {
  const one = before.crossings ?? NO_CROSSINGS;
  const other = after.crossings ?? NO_CROSSINGS;
  return [
    ...changesOf('service', one.services, other.services),
    ...changesOf('workspace', one.workspaces, other.workspaces),
    ...changesOf('crossing-set', one.sets, other.sets),
  ];
}

export const NOTHING: RevisionDocument = { patterns: [], policies: [], texts: [], exchanges: [], spots: [] };

function changesOf<Thing extends Named>(
  subject: DraftChange['subject'],
  before: readonly Thing[],
  after: readonly Thing[],
): DraftChange[] {
  const entry = ({ id, name }: Thing, state: DraftChange['state']): DraftChange => ({
    subject,
    id,
    name,
    state,
    before: null,
    after: null,
  });
  const changed = after.flatMap((thing) => {
    const state = stateOf(thing, before);
    return state === 'published' || state === 'removed' ? [] : [entry(thing, state)];
  });
  const removed = before.filter((thing) => !after.some((other) => other.id === thing.id));
  return [...changed, ...removed.map((thing) => entry(thing, 'removed'))];
}

function policyChanges(before: readonly Policy[], after: readonly Policy[]): DraftChange[] {
  return changesOf('policy', before, after).map((change) => ({
    ...change,
    before: before.find(({ id }) => id === change.id) ?? null,
    after: after.find(({ id }) => id === change.id) ?? null,
  }));
}

/** Policies that stand in both, in another order. */
function orderChange(before: readonly Policy[], after: readonly Policy[]): DraftChange[] {
  const order = (policies: readonly Policy[], others: readonly Policy[]): string[] =>
    policies.map(({ id }) => String(id)).filter((id) => others.some((other) => other.id === id));
  if (order(before, after).join() === order(after, before).join()) return [];
  const name = after.map((policy, index) => `${index + 1} ${policy.name}`).join(', ');
  return [{ subject: 'order', id: 'order', name, state: 'changed', before: null, after: null }];
}
