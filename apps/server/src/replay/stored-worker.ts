import { type Decided, type InspectedMovement, type PersonFacts } from '@lantern/core';
import { inspectItem } from '../inspection/inspect-item.js';
import { SIDES } from './replay-sides.js';
import type { ReplayedRow } from './replay-worker.js';

/** A file of a place, as it would be opened to somebody outside. */
export interface StoredItem {
  /** Its path, with its place as the outermost folder. */
  readonly id: string;
  readonly bytes: Uint8Array;
  readonly owner: PersonFacts;
  /** Now, in milliseconds since 1970. */
  readonly at: number;
}

/** Somebody outside whom no list names. The domain is nobody's (RFC 2606). */
const ANYBODY_OUTSIDE = 'anybody@outside.invalid';

/** One item a call: read once, looked at by each scanner, judged by both sets. */
export default async function judgeStored(item: StoredItem): Promise<ReplayedRow> {
  const before = await movementOf(item, 'before');
  const after = SIDES.after.scanner === SIDES.before.scanner ? before : await movementOf(item, 'after');
  const decide = (side: 'before' | 'after', movement: InspectedMovement): Decided =>
    SIDES[side].decide(movement);
  return {
    id: item.id,
    before: decide('before', before),
    after: decide('after', after),
    department: item.owner.department ?? '',
  };
}

async function movementOf(
  { id, bytes, owner, at }: StoredItem,
  side: 'before' | 'after',
): Promise<InspectedMovement> {
  const name = id.slice(id.lastIndexOf('/') + 1);
  const files = [{ role: 'attachment' as const, name, bytes }];
  const { parts, files: facts, labels } = await inspectItem({ texts: [], files, keepTexts: 0 }, SIDES[side].scanner);
  const own = labels[0]?.own;
  return {
    channel: 'drive',
    at,
    sender: owner,
    recipients: [{ address: ANYBODY_OUTSIDE, outside: true }],
    parts: parts.map(({ part }) => part),
    files: facts,
    labels: [],
    ...(own ? { own: { id: own.id, name: own.name, how: own.how } } : {}),
    from: [{ kind: 'place', path: id }],
    link: 'whoever-holds-it',
    connection: 'encrypted',
    earlier: [],
  };
}
