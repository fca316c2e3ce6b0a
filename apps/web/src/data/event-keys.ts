import type { LiveEvent } from '@lantern/contracts';
import { assertNever } from '@lantern/core/shared';
import { type Key, KEYS } from './keys';

/** A query, or all queries that begin alike. */
export type StaleKey = readonly [Key, ...(string | number)[]];

/** What drafts and revisions both show. */
const SETS: readonly Key[] = [
  KEYS.overview,
  KEYS.draft,
  KEYS.policies,
  KEYS.labels,
  KEYS.desk,
  KEYS.texts,
  KEYS.exchanges,
  KEYS.spots,
  KEYS.patterns,
  KEYS.lanternSet,
];

/** Queries whose answers an event makes stale. Nothing that is expensive and unaffected is asked again. */
export function staleAfter(event: LiveEvent): StaleKey[] {
  switch (event.kind) {
    // Lists stay as they stand: a recorded incident is announced, a changed one shown in its row.
    case 'incident-recorded':
      return [...COUNTED, ...only(KEYS.overview, KEYS.waiting, KEYS.insight)];
    case 'incident-changed':
      return [
        [KEYS.incident, event.number],
        ...COUNTED,
        ...only(
          KEYS.overview,
          KEYS.waiting,
          KEYS.mailbox,
          KEYS.things,
          KEYS.ledger,
          KEYS.trusts,
          KEYS.insight,
        ),
      ];
    case 'incidents-aged':
      return only(KEYS.overview, KEYS.incidents, KEYS.incident, KEYS.insight);
    case 'bulk-changed':
      return only(KEYS.bulk);
    case 'drafts-changed':
      return only(...SETS, KEYS.specimens, KEYS.crossings);
    case 'directory-changed':
      return only(KEYS.directory, KEYS.people, KEYS.addresses, KEYS.draft, KEYS.overview);
    case 'revision-published':
      return only(...SETS, KEYS.mailbox, KEYS.revisions, KEYS.insight, KEYS.crossings);
    case 'thing-changed':
      return only(KEYS.things, KEYS.ledger, KEYS.trusts);
    case 'label-run-changed':
      return only(KEYS.labelRuns);
    case 'automations-changed':
      return only(KEYS.crossings, KEYS.overview);
    case 'discovery-changed':
      return only(KEYS.discovery);
    case 'replay-changed':
      return only(KEYS.replays);
    default:
      return assertNever(event);
  }
}

const COUNTED: readonly StaleKey[] = [
  [KEYS.incidents, 'counts'],
  [KEYS.incidents, 'groups'],
];
const only = (...keys: readonly Key[]): StaleKey[] => keys.map((key) => [key]);
