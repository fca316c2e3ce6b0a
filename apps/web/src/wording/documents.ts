import type { DocumentsDetail, DocumentsJob, RefusedSample } from '@lantern/contracts';
import type { Share } from '@lantern/core/detection';
import type { UnreadableReason } from '@lantern/core/movement';
import { UNREADABLE_WORDS } from './terms';

/** What can be learnt from samples, as the choice between the two is put. */
export const LEARNT_WORDS = {
  likeness: {
    choice: 'Copies of these documents, whole or in part',
    about:
      'For example a contract pasted into a mail, or a form that was filled in. Found by the share of a sample that reappears.',
    like: 'Documents to recognise',
    unlike: 'Texts that may go anywhere, such as a letterhead. Their content is ignored.',
  },
  category: {
    choice: 'Other texts of the same kind',
    about: 'Learns from texts of this kind and texts of other kinds, by their words.',
    like: 'Texts of this kind',
    unlike: 'Texts of other kinds, ideally ones that are easily confused with it',
  },
} as const;

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** A share with where the true one lies. */
export function shareWords({ of, share, least, most }: Share): string {
  return of === 0 ? 'none found' : `${percent(share)}, likely ${percent(least)} to ${percent(most)}`;
}

/** Why a file became no sample. */
export function refusedWords({ name, reason }: RefusedSample): string {
  const known: Readonly<Record<string, string | undefined>> = UNREADABLE_WORDS;
  const why = reason === 'no-text' ? 'it contains almost no text' : (known[reason] ?? 'it cannot be read');
  return `${name} was left out: ${why}.`;
}

/** Reasons that a file can be left out for. */
export type RefusedReason = UnreadableReason | 'no-text';

/** How far learning is. */
export function progressWords({ step, done, of }: DocumentsJob): string {
  if (step === 'reading') return `Reading the files: ${done} of ${of} …`;
  return of > 1 ? `Learning: round ${done} of ${of} …` : 'Comparing …';
}

/** What to make of the number of samples; nothing where there are enough. */
export function fewWords(report: NonNullable<DocumentsDetail['report']>, enough: number): string | null {
  if (!report.tooFew) return null;
  return `${report.like} texts of this kind and ${report.unlike} others are few, so the figures below are uncertain. From ${enough} of each, they become reliable.`;
}
