import type { DocumentsDetail, SampleSide } from '@lantern/contracts';

/** What somebody has put together before it is learnt. */
export interface Learning {
  readonly name: string;
  readonly learns: 'likeness' | 'category';
  /** In percent, as typed. */
  readonly share: string;
  readonly files: Readonly<Record<SampleSide, readonly File[]>>;
  readonly dropped: ReadonlySet<string>;
}

/** Fewest samples of each side that a category is learnt from; the server holds to the same. */
const LEAST_OF_CATEGORY = 5;
const LEAST_PERCENT = 5;

/** Share of a sample as the server takes it, or null where it is no whole percentage that can be asked for. */
export function shareOf(typed: string): number | null {
  const percent = Number(typed);
  return typed.trim() !== '' && Number.isInteger(percent) && percent >= LEAST_PERCENT && percent <= 100
    ? percent / 100
    : null;
}

/** Samples of a side that there will be. */
export function countOf(
  side: SampleSide,
  { files, dropped }: Pick<Learning, 'files' | 'dropped'>,
  samples: DocumentsDetail['samples'],
): number {
  const kept = samples.filter((sample) => sample.side === side && !dropped.has(sample.id)).length;
  return kept + files[side].length;
}

/** What keeps it from being learnt yet. */
export function refusalOf(learning: Learning, samples: DocumentsDetail['samples']): string | undefined {
  if (learning.name.trim() === '') return 'Give the pattern a name first';
  const like = countOf('like', learning, samples);
  const unlike = countOf('unlike', learning, samples);
  if (learning.learns === 'likeness') {
    if (shareOf(learning.share) === null) return `The share is a whole number from ${LEAST_PERCENT} to 100`;
    return like === 0 ? 'Choose at least one document to recognise' : undefined;
  }
  return like < LEAST_OF_CATEGORY || unlike < LEAST_OF_CATEGORY
    ? `At least ${LEAST_OF_CATEGORY} texts of this kind and ${LEAST_OF_CATEGORY} others are needed; there are ${like} and ${unlike}`
    : undefined;
}

/** Files of a choice behind those chosen before; the same name and size is the same file. */
export function withFiles(before: readonly File[], more: readonly File[]): File[] {
  const known = new Set(before.map(({ name, size }) => `${size} ${name}`));
  return [...before, ...more.filter(({ name, size }) => !known.has(`${size} ${name}`))];
}
