import { type Label, labelOfForeign, type WholeLabelSet } from '@lantern/core/labels';
import { type HandledInMovement, type MovedLabel } from '@lantern/core/movement';
import type { FileLabels } from './file-label.js';

/** A label that a file carries, of those the published set knows. */
export interface CarriedByFile {
  readonly label: Label;
  /** Name of the file. */
  readonly item: string;
  /** Who set it, where the file says so and it is an address: whoever sets a label owns what it stands on. */
  readonly owner: string;
  readonly since: number;
}

/** Labels that files carry, ours and those of other makers that the set maps, in the order of the files. */
export function labelsCarried(
  { labels }: Pick<WholeLabelSet, 'labels'>,
  files: readonly { readonly name: string }[],
  read: readonly FileLabels[],
): CarriedByFile[] {
  return files.flatMap(({ name }, index) => {
    const { own, foreign } = read[index] ?? { own: null, foreign: [] };
    const ours = labels.find(({ id }) => id === own?.id);
    const mapped = foreign.flatMap(({ field, value }) => labelOfForeign(labels, field, value) ?? []);
    return [
      ...(ours && own
        ? [{ label: ours, item: name, owner: addressOf(own.setBy), since: Date.parse(own.setAt) || 0 }]
        : []),
      ...mapped.map((label) => ({ label, item: name, owner: '', since: 0 })),
    ];
  });
}

const addressOf = (setBy: string): string => (setBy.includes('@') ? setBy.toLowerCase() : '');

export function asMoved(carried: readonly CarriedByFile[]): MovedLabel[] {
  return carried.map(({ label }) => ({ id: String(label.id), name: label.name }));
}

export function asHandled(carried: readonly CarriedByFile[]): HandledInMovement[] {
  return carried.map(({ label, item, owner, since }) => ({
    label: String(label.id),
    item,
    owner,
    since,
    named: {},
  }));
}
