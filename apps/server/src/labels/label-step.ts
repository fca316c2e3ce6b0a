import { type Cost, costOf, type Label, type Offered, type WholeLabelSet } from '@lantern/core/labels';
import { type LabelId } from '@lantern/core/shared';
import { AppError } from '../platform/errors/app-error.js';
import type { RememberedLabel } from './label-change.entity.js';
import { labelById } from '../published/published-labels.js';

/** What a person wants of the label of something. */
export interface LabelWish {
  /** Null for none. */
  readonly label?: string | null;
  /** Why it goes down, where that is asked for. */
  readonly reason?: string;
}

/** What a save does to the label of a document. */
export interface LabelStep {
  readonly before: Label | null;
  readonly after: Label | null;
  /** It waits for a second person, and stays as it is until then. */
  readonly waits: boolean;
}

/** Holds the label that somebody chose to what is offered to them; throws a refusal that says what to do. */
export function labelStep(
  request: LabelWish,
  item: { readonly label: RememberedLabel | null } | null,
  set: WholeLabelSet,
  offered: Offered | null,
): LabelStep {
  const carried = item?.label ?? null;
  const before: Label | null = labelById(set, carried?.id) ?? (carried ? unknownLabel(carried) : null);
  const wanted = request.label ?? null;
  if (wanted === null && offered?.offer.needs === 'a-label' && before === null)
    throw new AppError(
      'label-needed',
      'Choose a label first. Your document was not saved, and nothing was lost.',
    );
  if (wanted === (carried?.id ?? null)) return { before, after: before, waits: false };
  if (wanted === null && offered?.offer.needs === 'a-label')
    throw new AppError('label-needed', 'A label is required. Choose another label. Nothing was saved.');
  const after = wanted === null ? null : (offered?.labels.find(({ id }) => id === wanted) ?? null);
  if (wanted !== null && !after)
    throw new AppError('label-not-offered', 'You cannot choose this label. Nothing was saved.');
  const cost: Cost = offered ? costOf(offered.offer, before, after) : 'nothing';
  if (cost !== 'nothing' && (request.reason ?? '').trim().length < 3)
    throw new AppError('reason-needed', 'Give a reason for the lower label. Nothing was saved yet.');
  return { before, after, waits: cost === 'second-person' };
}

/** A label that the set no longer has counts by what the document remembers. */
function unknownLabel({ id, name, rank }: RememberedLabel): Label {
  return { id: id as LabelId, name, rank } as Label;
}
