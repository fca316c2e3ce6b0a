import type { WordListOutcome } from '@lantern/contracts';
import { MAX_LISTED_WORDS, MAX_WORD_LENGTH } from '@lantern/core/detection';

const lines = (numbers: readonly number[]): string =>
  `line${numbers.length > 1 ? 's' : ''} ${numbers.slice(0, 8).join(', ')}${numbers.length > 8 ? ' and more' : ''}`;

/** What became of pasted lines, as sentences: what was kept, and what was not and why. */
export function outcomeWords(outcome: WordListOutcome): string {
  const parts = [`${outcome.kept.toLocaleString('en')} words are kept.`];
  if (outcome.duplicates > 0)
    parts.push(`${outcome.duplicates.toLocaleString('en')} duplicates were removed.`);
  if (outcome.blankLines > 0)
    parts.push(`${outcome.blankLines.toLocaleString('en')} blank lines were skipped.`);
  if (outcome.tooLong.length > 0)
    parts.push(`Longer than ${MAX_WORD_LENGTH} characters and left out: ${lines(outcome.tooLong)}.`);
  if (outcome.withoutLetters.length > 0)
    parts.push(`Without a letter or digit and left out: ${lines(outcome.withoutLetters)}.`);
  if (outcome.overLimit > 0)
    parts.push(
      `${outcome.overLimit.toLocaleString('en')} more were left out: a list holds ${MAX_LISTED_WORDS.toLocaleString('en')}.`,
    );
  return parts.join(' ');
}
