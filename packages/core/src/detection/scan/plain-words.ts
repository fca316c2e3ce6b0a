/** Words of the vocabulary for the plain scanner: found by comparing rows of words, without hashes. */
import { NO_LETTER, UNIT_CLASSES, WORD_UNITS } from '../../text/fold.js';
import type { SearchText } from '../../text/search-text.js';
import { foldedWords, MOST_BETWEEN } from '../words/dictionary.js';
import { humpsOf, MOST_HUMPS } from '../words/humps.js';
import type { FastScan } from './compiled-scan.js';

/** A word or phrase of the vocabulary at its place. */
export interface PlainWord {
  readonly meaning: number;
  readonly start: number;
  readonly end: number;
}

/** Words that begin in a stretch; words are in the order of the text. */
export function wordsBetween(words: readonly PlainWord[], from: number, to: number): readonly PlainWord[] {
  let low = 0;
  let high = words.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((words[middle]?.start ?? 0) < from) low = middle + 1;
    else high = middle;
  }
  let end = low;
  while (end < words.length && (words[end]?.start ?? 0) <= to) end += 1;
  return words.slice(low, end);
}

interface WordRow {
  readonly meaning: number;
  readonly words: readonly string[];
  readonly capitals: boolean;
}

/** Rows of words by their first, made once for each set of patterns. */
const rowsByScan = new WeakMap<FastScan, ReadonlyMap<string, readonly WordRow[]>>();

function rowsOf(scan: FastScan): ReadonlyMap<string, readonly WordRow[]> {
  const known = rowsByScan.get(scan);
  if (known) return known;
  const rows = new Map<string, WordRow[]>();
  const add = (first: string, row: WordRow) => {
    const others = rows.get(first);
    if (others) others.push(row);
    else rows.set(first, [row]);
  };
  for (const { text, capitals, joined, meaning } of scan.vocabulary.entries) {
    const words = foldedWords(text);
    const first = words[0];
    if (first === undefined) continue;
    add(first, { meaning, words, capitals });
    const latin = words.every((word) => word.length > 1 || /[a-z0-9]/.test(word));
    if (joined && words.length > 1 && latin)
      add(words.join(''), { meaning, words: [words.join('')], capitals });
  }
  rowsByScan.set(scan, rows);
  return rows;
}

/** Every word and phrase of the vocabulary, found by comparing rows of words. */
export function plainWords(scan: FastScan, search: SearchText): PlainWord[] {
  const byFirst = rowsOf(scan);
  const tokens = plainTokens(search);
  const found: PlainWord[] = [];
  tokens.forEach((token, index) => {
    for (const { meaning, words, capitals } of byFirst.get(token.word) ?? []) {
      const row = tokens.slice(index, index + words.length);
      const last = row.at(-1);
      if (!last || row.length < words.length || !row.every((each, place) => each.word === words[place]))
        continue;
      if (row.some((each, place) => place > 0 && each.start - (row[place - 1]?.end ?? 0) > MOST_BETWEEN))
        continue;
      if (capitals && /[^A-Z\P{L}]/u.test(search.text.slice(token.start, last.end).replace(/[A-Z]/g, '')))
        continue;
      if (capitals && /\d/.test(search.text.slice(token.start, last.end))) continue;
      found.push({ meaning, start: token.start, end: last.end });
    }
  });
  for (const part of plainParts(search)) {
    for (const { meaning, words, capitals } of byFirst.get(part.word) ?? []) {
      if (words.length > 1 || scan.vocabulary.meanings[meaning]?.kind === 'listed') continue;
      if (capitals && /[^A-Z]/.test(search.text.slice(part.start, part.end))) continue;
      found.push({ meaning, start: part.start, end: part.end });
    }
  }
  return found.sort((left, right) => left.start - right.start);
}

/** Parts of names in camel case, alone and together with their neighbours. */
function plainParts(search: SearchText): { word: string; start: number; end: number }[] {
  const parts: { word: string; start: number; end: number }[] = [];
  const starts = new Int32Array(MOST_HUMPS);
  for (const run of plainRuns(search.units)) {
    const written = search.text.slice(run.start, run.end);
    if (!/[A-Z]/.test(written) || !/[a-z]/.test(written)) continue;
    const count = humpsOf(search.units, run.start, run.end, starts);
    const places = [run.start, ...starts.subarray(0, count), run.end];
    for (let first = 0; first <= count; first += 1) {
      for (let last = first + 1; last < places.length; last += 1) {
        const [start, end] = [places[first] ?? 0, places[last] ?? 0];
        if (end - start === run.end - run.start) continue;
        parts.push({ word: foldedWord(search.units, start, end), start, end });
      }
    }
  }
  return parts;
}

function plainRuns(units: Uint16Array): { start: number; end: number }[] {
  const runs: { start: number; end: number }[] = [];
  let start = -1;
  for (let at = 0; at <= units.length; at += 1) {
    const unitClass = at < units.length ? (UNIT_CLASSES[units[at] ?? 0] ?? 0) : 0;
    if (unitClass !== 0 && unitClass !== 5) {
      if (start < 0) start = at;
    } else if (start >= 0) {
      runs.push({ start, end: at });
      start = -1;
    }
  }
  return runs;
}

function foldedWord(units: Uint16Array, start: number, end: number): string {
  let word = '';
  for (let at = start; at < end; at += 1) {
    const folded = WORD_UNITS[units[at] ?? 0] ?? NO_LETTER;
    if (folded !== NO_LETTER) word += String.fromCharCode(folded);
  }
  return word;
}

function plainTokens(search: SearchText): { word: string; start: number; end: number }[] {
  const { units } = search;
  const tokens: { word: string; start: number; end: number }[] = [];
  let start = -1;
  let word = '';
  const close = (end: number) => {
    if (start >= 0 && word !== '' && end - start <= 256) tokens.push({ word, start, end });
    start = -1;
    word = '';
  };
  for (let at = 0; at < units.length; at += 1) {
    const unitClass = UNIT_CLASSES[units[at] ?? 0] ?? 0;
    if (unitClass === 0 || unitClass === 5) close(at);
    if (unitClass === 5)
      tokens.push({ word: String.fromCharCode(WORD_UNITS[units[at] ?? 0] ?? 0), start: at, end: at + 1 });
    if (unitClass === 0 || unitClass === 5) continue;
    if (start < 0) start = at;
    const folded = WORD_UNITS[units[at] ?? 0] ?? NO_LETTER;
    if (folded !== NO_LETTER) word += String.fromCharCode(folded);
  }
  close(units.length);
  return tokens;
}
