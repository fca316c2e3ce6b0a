import { DEFAULT_WORD_WEIGHT, type ListedWord } from '../model/pattern.js';
import { foldedWords } from '../words/dictionary.js';

/** Longest list: 100,000 words compile in well under a second and take some 20 MB. */
export const MAX_LISTED_WORDS = 100_000;
/** Longest entry, in UTF-16 units; longer ones are sentences, which likeness to documents serves better. */
export const MAX_WORD_LENGTH = 200;

/** What became of pasted lines: nothing is dropped without being said. */
export interface WordListReading {
  readonly words: readonly ListedWord[];
  readonly blankLines: number;
  readonly duplicates: number;
  /** Line numbers, from 1, of entries that cannot be searched for. */
  readonly tooLong: readonly number[];
  readonly withoutLetters: readonly number[];
  /** Lines after the limit was reached. */
  readonly overLimit: number;
}

/** Reads one entry a line, or a CSV of words and weights. Linear in the length of `pasted`. */
export function readWordLines(pasted: string): WordListReading {
  const seen = new Set<string>();
  const words: ListedWord[] = [];
  const tooLong: number[] = [];
  const withoutLetters: number[] = [];
  let blankLines = 0;
  let duplicates = 0;
  let overLimit = 0;
  pasted.split(/\r\n|\r|\n/).forEach((line, index) => {
    const { text, weight } = readLine(line);
    if (text === '') blankLines += 1;
    else if (text.length > MAX_WORD_LENGTH) tooLong.push(index + 1);
    else {
      // Compared as the scanner compares them, so that what counts as one entry is found as one.
      const key = foldedWords(text).join(' ');
      if (key === '') withoutLetters.push(index + 1);
      else if (seen.has(key)) duplicates += 1;
      else if (words.length >= MAX_LISTED_WORDS) overLimit += 1;
      else {
        seen.add(key);
        words.push({ text, weight });
      }
    }
  });
  return { words, blankLines, duplicates, tooLong, withoutLetters, overLimit };
}

/** Words as lines that {@link readWordLines} reads as the same words. */
export function writeWordLines(words: readonly ListedWord[]): string {
  return words.map(writeLine).join('\n');
}

function writeLine({ text, weight }: ListedWord): string {
  const plain = lineOf(text, weight);
  return readLine(plain).text === text ? plain : lineOf(`"${text.replaceAll('"', '""')}"`, weight);
}

const lineOf = (text: string, weight: number): string =>
  weight === DEFAULT_WORD_WEIGHT ? text : `${text}\t${weight}`;

/** A tab or a semicolon and a number behind a word is its weight, as a table of two columns has it; so is a comma without a space. */
const WEIGHTED = /^(.*?)(?:[\t;]\s*|,)(-?\d+(?:\.\d+)?)\s*$/;

function readLine(line: string): ListedWord {
  const weighted = WEIGHTED.exec(line);
  const text = unquoted((weighted?.[1] ?? line).trim());
  return { text, weight: weighted ? Number(weighted[2]) : DEFAULT_WORD_WEIGHT };
}

/** A field in quotation marks, as CSV has it (RFC 4180). */
function unquoted(text: string): string {
  return /^".*"$/s.test(text) && text.length > 1 ? text.slice(1, -1).replace(/""/g, '"').trim() : text;
}
