import type { Finding } from '../../detection/model/finding.js';

/** A text with what was found in it. Offsets of findings are into `text`. */
export interface FoundText {
  readonly text: string;
  readonly findings: readonly Pick<Finding, 'start' | 'end' | 'pattern'>[];
}

/** Words that stand together in one member of the set. */
const SHINGLE = 3;
/** Longest text that is looked at, in UTF-16 units; what people write by hand is far shorter, and forms repeat themselves. */
const MOST_TEXT = 20_000;
/** Members of one set; more do not make the estimate better. */
const MOST_SHINGLES = 4_000;
const WORD = /[\p{L}\p{M}]+|\p{N}+/gu;

/**
 * The words around what was found, in groups of three, as a set: what two mails of the same form share, whatever numbers
 * and names stand in them. A finding counts as the name of its pattern, a number as any number.
 */
export function templateOf(texts: readonly FoundText[]): Set<string> {
  const shingles = new Set<string>();
  for (const text of texts) {
    const words = wordsOf(text);
    for (let at = 0; at < words.length && shingles.size < MOST_SHINGLES; at += 1) {
      if (at > 0 && at + SHINGLE > words.length) break;
      shingles.add(words.slice(at, at + SHINGLE).join(' '));
    }
  }
  return shingles;
}

function wordsOf({ text, findings }: FoundText): string[] {
  const words: string[] = [];
  let from = 0;
  const read = (to: number) => {
    for (const [word] of text.slice(from, to).matchAll(WORD))
      words.push(/\p{N}/u.test(word) ? '#' : word.toLowerCase());
  };
  for (const { start, end, pattern } of [...findings].sort((one, other) => one.start - other.start)) {
    if (start < from || start >= MOST_TEXT) continue;
    read(start);
    // A column of fifty cards is the same form as a column of forty.
    if (words.at(-1) !== `<${pattern}>`) words.push(`<${pattern}>`);
    from = end;
  }
  read(Math.min(text.length, MOST_TEXT));
  return words;
}
