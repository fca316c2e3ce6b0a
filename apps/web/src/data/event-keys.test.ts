import type { LiveEvent } from '@lantern/contracts';
import { staleAfter } from './event-keys';
import { KEYS } from './keys';

const EVENTS: readonly LiveEvent[] = [
  { kind: 'incident-recorded', number: 7 },
  { kind: 'incident-changed', number: 7 },
  { kind: 'drafts-changed' },
  { kind: 'thing-changed', agent: 'drive' },
  { kind: 'replay-changed', id: 'r' },
  { kind: 'label-run-changed', id: 'l' },
  { kind: 'discovery-changed' },
  { kind: 'automations-changed' },
  { kind: 'revision-published', revision: 3 },
];
describe('what a live event makes stale', () => {
  it('is known for each kind of event', () => {
    for (const event of EVENTS) expect(staleAfter(event).length).toBeGreaterThan(0);
  });

  it('leaves the drafts and their specimens alone when an incident comes in', () => {
    const keys = staleAfter({ kind: 'incident-recorded', number: 1 }).map(([key]) => key);
    for (const dear of [KEYS.draft, KEYS.policies, KEYS.specimens, KEYS.patterns])
      expect(keys).not.toContain(dear);
  });

  it('names the one incident that changed', () => {
    expect(staleAfter({ kind: 'incident-changed', number: 42 })).toContainEqual([KEYS.incident, 42]);
  });
});
