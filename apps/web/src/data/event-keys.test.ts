import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
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
  { kind: 'revision-published', revision: 3 },
];
const folder = import.meta.dirname;
const sources = readdirSync(folder)
  .filter((name) => name.endsWith('.ts') && !name.includes('.test.') && name !== 'keys.ts')
  .map((name) => readFileSync(join(folder, name), 'utf8'))
  .join('\n');
/** Keys that some hook asks the server by; those of lists that are shared by name stand in a variable. */
const asked = Object.keys(KEYS).filter((name) =>
  new RegExp(
    `queryKey: \\[KEYS\\.${name}\\b[^\\]]*\\],\\s*(?:queryFn|enabled|staleTime|refetch|placeholder|retry|gcTime)`,
  ).test(sources),
);

describe('what a live event makes stale', () => {
  it('is known for each kind of event', () => {
    for (const event of EVENTS) expect(staleAfter(event).length).toBeGreaterThan(0);
  });

  it('is asked for by some hook: an event that refreshes nothing is a slip', () => {
    const named = new Set(EVENTS.flatMap((event) => staleAfter(event).map(([key]) => key)));
    const byValue = new Map(Object.entries(KEYS).map(([name, key]) => [key, name]));
    expect([...named].filter((key) => !asked.includes(byValue.get(key) ?? ''))).toEqual([]);
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
