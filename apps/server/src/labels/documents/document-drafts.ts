import type { SaveDocumentRequest } from '@lantern/contracts';
import {
  type Cost,
  costOf,
  type Effect,
  EFFECTS,
  type Label,
  type LabelId,
  type Offered,
  type WholeLabelSet,
} from '@lantern/core';
import { AppError } from '../../platform/errors/app-error.js';
import { labelById } from '../published-labels.js';
import type { DocumentEntity } from './document.entity.js';

/** What a save does to the label of a document. */
export interface LabelStep {
  readonly before: Label | null;
  readonly after: Label | null;
  /** It waits for a second person, and stays as it is until then. */
  readonly waits: boolean;
}

/** Holds the label that somebody chose to what is offered to them; throws a refusal that says what to do. */
export function labelStep(
  request: Pick<SaveDocumentRequest, 'label' | 'reason'>,
  document: Pick<DocumentEntity, 'label'> | null,
  set: WholeLabelSet,
  offered: Offered | null,
): LabelStep {
  const carried = document?.label ?? null;
  const before: Label | null = labelById(set, carried?.id) ?? (carried ? unknownLabel(carried) : null);
  const wanted = request.label ?? null;
  if (wanted === null && offered?.offer.needs === 'a-label' && before === null)
    throw new AppError(
      'label-needed',
      'Choose a label first: a document here cannot be saved without one. Nothing of it was lost.',
    );
  if (wanted === (carried?.id ?? null)) return { before, after: before, waits: false };
  if (wanted === null && offered?.offer.needs === 'a-label')
    throw new AppError(
      'label-needed',
      'This document must carry a label: choose another one instead of none. Nothing was saved.',
    );
  const after = wanted === null ? null : (offered?.labels.find(({ id }) => id === wanted) ?? null);
  if (wanted !== null && !after)
    throw new AppError(
      'label-not-offered',
      'This label is not among those you can choose. Nothing was saved.',
    );
  const cost: Cost = offered ? costOf(offered.offer, before, after) : 'nothing';
  if (cost !== 'nothing' && (request.reason ?? '').trim().length < 3)
    throw new AppError(
      'reason-needed',
      'Say why the label goes down; the reason is kept. Nothing was saved yet.',
    );
  return { before, after, waits: cost === 'second-person' };
}

/** A label that the set no longer has counts by what the document remembers. */
function unknownLabel({ id, name, rank }: { id: string; name: string; rank: number }): Label {
  return { id: id as LabelId, name, rank } as Label;
}

/** Addresses by effect, each once, lower case; effects nobody knows are passed over. */
export function namedPeople(given: SaveDocumentRequest['named']): Partial<Record<Effect, string[]>> {
  const named: Partial<Record<Effect, string[]>> = {};
  for (const effect of EFFECTS) {
    const people = given?.[effect];
    if (Array.isArray(people))
      named[effect] = [
        ...new Set(
          people.filter((each) => typeof each === 'string').map((each) => each.trim().toLowerCase()),
        ),
      ].slice(0, 200);
  }
  return named;
}
