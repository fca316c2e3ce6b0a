import type { WholeLabelSet } from '../../labels/label-problems.js';
import type { Carrier } from '../../labels/label.js';
import { type ItemOnItsWay, labelOnItsWay, type StandingLabel } from '../../labels/on-its-way.js';
import type { Channel, InspectedMovement } from '../../movement/movement.js';

/** What a channel moves as a whole, where that can carry a label. */
const CARRIER_ON: Readonly<Record<Channel, Carrier | null>> = {
  mail: 'mail',
  chat: 'chat',
  drive: 'document',
  browser: null,
  endpoint: null,
  // What is exported is a document from then on.
  business: 'document',
};

/** A movement as policies see it, and the label that stands on the whole of it. */
export interface LabelledMovement {
  readonly movement: InspectedMovement;
  readonly label: StandingLabel | null;
}

/**
 * Labels a movement by the automatic rules of a set, as it goes or as it was kept: what rules had set on the whole is asked
 * about anew, what a person chose and what parts brought along stays.
 */
export function labelledBy(set: WholeLabelSet, movement: InspectedMovement): LabelledMovement {
  const { own } = movement;
  const known = set.labels.find(({ id }) => id === own?.id);
  const parts = (movement.labels ?? []).filter(({ whole }) => !whole);
  // A label that the set does not know is somebody's decision all the same.
  if (own && !known)
    return {
      movement: { ...movement, labels: [{ id: own.id, name: own.name, whole: true }, ...parts] },
      label: null,
    };
  const label = labelOfMovement(set, movement, own && known ? { label: known, how: own.how } : null);
  const whole = label ? [{ id: String(label.label.id), name: label.label.name, whole: true as const }] : [];
  return { movement: { ...movement, labels: [...whole, ...parts] }, label };
}

/** Patterns that automatic rules ask for. */
export function patternsOfAutomatic({ automatic }: Pick<WholeLabelSet, 'automatic'>): string[] {
  return [...new Set(automatic.flatMap(({ content }) => content.map(({ pattern }) => String(pattern))))];
}

/** Null where it has no label, or where nothing carries one. */
function labelOfMovement(
  set: WholeLabelSet,
  { channel, sender, from = [], parts, files, recipients }: InspectedMovement,
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
