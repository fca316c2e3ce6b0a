import type { Scanner } from '@lantern/core/detection';
import type { PersonFacts } from '@lantern/core/directory';
import type { InspectedMovement } from '@lantern/core/movement';
import type { TaskModule } from '@lantern/processes';
import { inspectItem } from '@lantern/files/inspect';
import { compileSides, type ReplayData, type Sides } from './replay-sides.js';
import type { ReplayedRow } from './replay-tasks.js';

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

let sides: Sides | undefined;

export function prepare(data: ReplayData): void {
  sides = compileSides(data);
}

export const tasks = {
  /** One item a call: read once, looked at by each scanner, judged by both sets. */
  judge: async (item: StoredItem): Promise<ReplayedRow> => {
    if (!sides) throw new Error('This process was given no sides');
    const { before, after } = sides;
    const seen = await movementOf(item, before.scanner);
    const again = after.scanner === before.scanner ? seen : await movementOf(item, after.scanner);
    return {
      id: item.id,
      before: before.decide(seen),
      after: after.decide(again),
      department: item.owner.department ?? '',
    };
  },
} satisfies TaskModule['tasks'];

async function movementOf(
  { id, bytes, owner, at }: StoredItem,
  scanner: Scanner,
): Promise<InspectedMovement> {
  const name = id.slice(id.lastIndexOf('/') + 1);
  const files = [{ role: 'attachment' as const, name, bytes }];
  const { parts, files: facts, labels } = await inspectItem({ texts: [], files, keepTexts: 0 }, scanner);
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
