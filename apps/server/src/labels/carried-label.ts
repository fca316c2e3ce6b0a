import type { ChooserView, LeaveView } from '@lantern/contracts';
import {
  choosingWords,
  type Effect,
  EFFECTS,
  type HandledItem,
  type Handler,
  type Label,
  type LabelledHow,
  leftToSetter,
  mayDo,
  type Offered,
  printedHandling,
  printedMarks,
  type WholeLabelSet,
} from '@lantern/core/labels';
import type { LabelToWrite } from '@lantern/files';
import { labelById } from '../published/published-labels.js';

/** The label an item carries, as it was set. */
export interface CarriedLabel {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  readonly how: LabelledHow;
  readonly by: string;
  /** ISO 8601. */
  readonly at: string;
}

/** An item with its owner, its label and the people whom the label's setter named, by effect. */
export interface LabelledItem {
  readonly ownerAddress: string;
  readonly label: CarriedLabel | null;
  readonly named: Readonly<Partial<Record<Effect, readonly string[]>>>;
}

/**
 * Whom handling takes for the owner of a labelled item. A label that came in with a file is still that of whoever set it:
 * nobody comes to own what a label keeps from them by putting the file somewhere. Empty where nobody knows.
 */
export function ownerForHandling(label: CarriedLabel | null, owner: string): string {
  if (label?.how !== 'inherited' || label.by.toLowerCase() === owner.toLowerCase()) return owner;
  return label.by.includes('@') ? label.by : '';
}

/** A document as handling asks about it; a label that is no longer in the set leaves everything open. */
export function handledItem(document: LabelledItem, set: WholeLabelSet, effect: Effect): HandledItem {
  // Whoever put a file in holds it, so they read and write it; what leaves it is still its setter's to grant.
  const held = effect === 'read' || effect === 'change';
  return {
    owner: held ? document.ownerAddress : ownerForHandling(document.label, document.ownerAddress),
    handling: labelById(set, document.label?.id)?.handling ?? null,
    since: document.label ? Date.parse(document.label.at) : 0,
    named: document.named,
  };
}

/** What somebody may do with a document, effect by effect. */
export function leavesOf(
  document: LabelledItem,
  person: Handler,
  set: WholeLabelSet,
  now: number,
): LeaveView[] {
  return EFFECTS.map((effect) => ({
    effect,
    ...mayDo(effect, person, handledItem(document, set, effect), now),
  }));
}

/** The chooser of a person in their language; nothing to choose where nothing is offered. */
export function chooserOf(offered: Offered | null, language: string): ChooserView {
  if (!offered)
    return {
      labels: [],
      starts: { kind: 'bare', label: null },
      needsLabel: false,
      lowering: 'nothing',
      follows: 'stands-alone',
    };
  const { offer, labels } = offered;
  return {
    labels: labels.map((label) => {
      const words = choosingWords(label, language);
      const { id, name, rank, family, colour, handling } = label;
      return {
        id,
        name,
        rank,
        family,
        colour,
        when: words?.when ?? '',
        not: words?.not ?? '',
        handling: printedHandling(handling),
        namesFor: leftToSetter(handling),
      };
    }),
    starts: { kind: offer.starts.kind, label: offer.starts.kind === 'bare' ? null : offer.starts.label },
    needsLabel: offer.needs === 'a-label',
    lowering: offer.lowering,
    follows: offer.follows,
  };
}

/** A carried label as a file holds it, with the marks the set prints for it today. */
export function labelToWrite(carried: CarriedLabel, owner: string, label: Label | null): LabelToWrite {
  const at = Date.parse(carried.at);
  return {
    label: {
      id: carried.id,
      name: carried.name,
      rank: carried.rank,
      setBy: carried.by,
      setAt: carried.at,
      how: carried.how,
    },
    marks: label ? printedMarks(label, { owner, setter: carried.by, at, how: carried.how }) : [],
  };
}

/** A label as a document carries it from now on. */
export function carried(label: Label, how: CarriedLabel['how'], by: string, at: Date): CarriedLabel {
  return { id: label.id, name: label.name, rank: label.rank, how, by, at: at.toISOString() };
}
