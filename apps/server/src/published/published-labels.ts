import { type Label, NO_LABELS, type WholeLabelSet } from '@lantern/core/labels';
import type { RevisionDocument } from './revision.entity.js';

/** Labels of a revision; those of earlier versions had none. */
export function labelsOf(document: RevisionDocument | undefined): WholeLabelSet {
  return document?.labels ?? NO_LABELS;
}

export function labelById(set: WholeLabelSet, id: string | null | undefined): Label | null {
  return set.labels.find((label) => label.id === id) ?? null;
}
