import type { WholeLabelSet } from '../labels/label-problems.js';
import type { Carrier } from '../labels/label.js';
import { type ItemOnItsWay, labelOnItsWay, type StandingLabel } from '../labels/on-its-way.js';
import type { Channel, InspectedMovement } from './movement.js';

/** What a channel moves as a whole, where that can carry a label. */
const CARRIER_ON: Readonly<Record<Channel, Carrier | null>> = {
  mail: 'mail',
  chat: 'chat',
  drive: 'document',
  browser: null,
  endpoint: null,
};

/**
 * The label with which the whole of a movement goes on: its own, or what automatic rules make of what was found in it;
 * null where it has none, or where nothing carries one.
 */
export function labelOfMovement(
  set: WholeLabelSet,
  {
    channel,
    sender,
    from = [],
    parts,
    files,
    recipients,
  }: Pick<InspectedMovement, 'channel' | 'sender' | 'from' | 'parts' | 'files' | 'recipients'>,
  own: ItemOnItsWay['own'],
): StandingLabel | null {
  const carrier = CARRIER_ON[channel];
  if (carrier === null) return null;
  const [place = ''] = from.flatMap((spot) => (spot.kind === 'place' ? [spot.path] : []));
  return labelOnItsWay(set, {
    carrier,
    own,
    findings: parts.flatMap((part) => (part.status === 'read' ? part.findings : [])),
    kind: carrier === 'document' ? (files[0]?.kind ?? 'other') : 'other',
    place: folderOf(place),
    owner: sender.address,
    sharedOutside: recipients.some(({ outside }) => outside),
  });
}

/** `/Tariffs/2026/list.csv` stands in `Tariffs/2026`. */
function folderOf(path: string): string {
  return path.split('/').filter(Boolean).slice(0, -1).join('/');
}
