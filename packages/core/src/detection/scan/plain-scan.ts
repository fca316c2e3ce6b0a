/**
 * The scanner in its plainest form: one expression after another over the whole text. It decides nothing that the fast
 * pass does not; tests demand the same findings of both, and the benchmark measures the one against the other.
 */
import { NO_LETTER, otherLetterRanges, UNIT_CLASSES, WORD_UNITS } from '../../text/fold.js';
import { type SearchText, toSearchText } from '../../text/search-text.js';
import { LIST, type TableCell, type Tables } from '../../text/tables.js';
import { REACH } from './candidate-queue.js';
import { CLEAR_WINDOW } from '../model/evidence.js';
import { expressionHits } from '../expressions/own-expression.js';
import { neededSum } from '../model/floor.js';
import { valuesOf } from '../checks/values.js';
import {
  better,
  COUNTER,
  insideOf,
  NAMING,
  type NearWord,
  nearWord,
  NO_ROLE,
  SUPPORTING,
  withoutOtherCounter,
} from '../model/context.js';
import type { FastScan } from './compiled-scan.js';
import type { Passed, Survivor } from '../model/passed.js';
import type { ReadyPattern } from '../model/pattern.js';
import { prepare, type Prepared } from '../model/prepared.js';
import { shapeExpression } from '../model/shape.js';
import { hitOf } from '../model/triggers.js';
import type { Look } from '../looks/look.js';
import { MOST_COLUMNS, RECENT, textHash, valueHash } from './neighbours.js';
import { cellsUnder, type NamedColumn } from './secret-cells.js';
import { foldedWords, MOST_BETWEEN } from '../words/dictionary.js';
import { humpsOf, MOST_HUMPS } from '../words/humps.js';

const WORD = `0-9A-Za-z${otherLetterRanges()}`;

/** A value that an expression found. */
export interface PlainValue {
  readonly start: number;
  readonly end: number;
  readonly passes: boolean;
  readonly grouped: boolean;
  readonly canonical: string | null;
  readonly look: Look | null;
  readonly hash: number;
}

type PlainExpression = { readonly expression: RegExp; readonly grouped: boolean; readonly prefix: number };

const expressionsByPattern = new WeakMap<Prepared, readonly PlainExpression[]>();

/** The expressions of one pattern, compiled once. */
export function plainExpressions(prepared: Prepared): readonly PlainExpression[] {
  const known = expressionsByPattern.get(prepared);
  if (known) return known;
  const made = makeExpressions(prepared);
  expressionsByPattern.set(prepared, made);
  return made;
}

/** The expressions of one pattern, each with the ends that the shape demands. */
function makeExpressions(prepared: Prepared): PlainExpression[] {
  if (prepared.expression !== null) {
    const { recognition } = prepared;
    const flags =
      recognition.by === 'trigger'
        ? `${recognition.group > 0 ? 'd' : ''}${recognition.anyCase ? 'i' : ''}`
        : '';
    return [{ expression: new RegExp(prepared.expression, `g${flags}`), grouped: false, prefix: 0 }];
  }
  return prepared.variants.map((variant) => ({
    expression: new RegExp(
      `${variant.between[0] ? '' : `(?<![${WORD}])`}${shapeExpression(variant)}${variant.after ? '' : `(?![${WORD}])`}`,
      'g',
    ),
    grouped: variant.grouped,
    prefix: variant.between[0]?.length ?? 0,
  }));
}

const CAPITAL_OR_DIGIT_RUN = /^[0-9A-Z]/;

/** Every value that the pattern's expressions find, overlapping ones too, by place. */
export function plainValues(
  text: string,
  prepared: Prepared,
  expressions = plainExpressions(prepared),
): PlainValue[] {
  const values: PlainValue[] = [];
  for (const { expression, grouped, prefix } of expressions) {
    expression.lastIndex = 0;
    for (let match = expression.exec(text); match; match = expression.exec(text)) {
      expression.lastIndex = match.index + 1;
      const { recognition } = prepared;
      if (recognition.by === 'trigger') {
        const hit = hitOf(prepared, recognition, match);
        if (hit)
          values.push({
            start: hit.start,
            end: hit.end,
            passes: hit.passes,
            grouped,
            canonical: hit.canonical,
            look: hit.look,
            hash: textHash(hit.canonical),
          });
        continue;
      }
      const written = match[0].slice(prefix);
      const firstRun = /^[0-9A-Za-z]+/.exec(written)?.[0] ?? '';
      // A word in small letters is no code.
      if (/[a-z]/.test(firstRun) && !/\d/.test(firstRun)) continue;
      if (!CAPITAL_OR_DIGIT_RUN.test(written) && !/^[a-z]/.test(written)) continue;
      const canonical = match[0].replace(/[^0-9A-Za-z]/g, '');
      const parsed = valuesOf(canonical);
      values.push({
        start: match.index,
        end: match.index + match[0].length,
        passes: prepared.check.passes(parsed, parsed.length),
        grouped,
        canonical: null,
        look: null,
        hash: valueHash(parsed, parsed.length),
      });
    }
  }
  return values.sort((left, right) => left.start - right.start || right.end - left.end);
}

interface PlainWord {
  readonly meaning: number;
  readonly start: number;
  readonly end: number;
}

interface Counts {
  shaped: number;
  passing: number;
  /** Hashes of the last different values, the newest first. */
  recent: number[];
}

/** What one plain pass has gathered so far. */
interface Gathered {
  readonly survivors: Survivor[];
  readonly counts: Map<string, Counts>;
  /** Which counts are a survivor's neighbours. */
  readonly keys: Map<Survivor, Counts>;
  readonly words: readonly PlainWord[];
}

/** Findings' candidates of a text, pattern by pattern. */
export function plainPass(
  scan: FastScan,
  search: SearchText,
  around: { readonly tables: Tables; readonly most: number },
): Passed {
  const words = plainWords(scan, search);
  const gathered: Gathered = { survivors: [], counts: new Map(), keys: new Map(), words };
  for (const prepared of scan.patterns) gatherPattern(scan, search, { ...around, prepared, gathered });
  gathered.survivors.push(
    ...cellsUnder(namedColumns(scan, search, around.tables, words), search, around.tables),
  );
  return {
    survivors: gathered.survivors,
    listed: [
      ...words.filter((word) => scan.vocabulary.meanings[word.meaning]?.kind === 'listed'),
      ...(scan.vocabulary.inside?.find(search.units, around.most) ?? []),
    ],
    cutShort: [],
    around: (survivor) => {
      const { shaped, passing } = gathered.keys.get(survivor) ?? { shaped: 1, passing: 1 };
      return { shaped: shaped - 1, passing: passing - 1 };
    },
    longRuns: plainLongRuns(search.text),
    digitRuns: null,
  };
}

function namedColumns(
  scan: FastScan,
  { text }: SearchText,
  tables: Tables,
  words: readonly PlainWord[],
): NamedColumn[] {
  const columns: NamedColumn[] = [];
  for (let block = 1; block < tables.count; block += 1) {
    tables.headingsOf(block, MOST_COLUMNS).forEach((cell, column) => {
      if (cell === null) return;
      const within = wordsBetween(words, cell.from, cell.to).filter(({ end }) => end <= cell.to);
      for (const prepared of scan.takingCells) {
        const names = within.some(({ meaning }) => {
          const each = scan.vocabulary.meanings[meaning];
          return each?.kind === 'context' && scan.vocabulary.roleOf(each.word, prepared.index) === NAMING;
        });
        if (names) columns.push({ prepared, block, column, heading: text.slice(cell.from, cell.to).trim() });
      }
    });
  }
  return columns;
}

function gatherPattern(
  scan: FastScan,
  search: SearchText,
  about: {
    readonly tables: Tables;
    readonly most: number;
    readonly prepared: Prepared;
    readonly gathered: Gathered;
  },
): void {
  const { tables, most, prepared, gathered } = about;
  let end = 0;
  let shapedAt = -1;
  let isNew = false;
  let kept = 0;
  const values =
    prepared.recognition.by === 'expression'
      ? expressionHits([prepared], search).map((hit) => ({
          ...hit,
          grouped: false,
          look: null,
          hash: textHash(hit.canonical),
        }))
      : plainValues(search.text, prepared);
  for (const value of values) {
    if (value.start < end) continue;
    const cell = tables.cellAt(value.start);
    const block = tables.blockOf[tables.lineAt(value.start)] ?? 0;
    const column = block === 0 ? 0 : Math.min(63, cell?.column ?? columnOf(tables, value.start));
    const key = `${prepared.index} ${block} ${column}`;
    const { words } = gathered;
    const context = contextOf(scan, search, {
      prepared,
      value,
      cell,
      words,
      list: tables.kindOf(block) === LIST,
    });
    const told = context.naming ?? context.supporting ?? context.counter ?? context.heading;
    // Where nothing speaks for or against it and much would have to, it is not even a neighbour to others.
    if (value.canonical === null && !told && neededSum(prepared, value.grouped) > 0) continue;
    const count = gathered.counts.get(key) ?? { shaped: 0, passing: 0, recent: [] };
    gathered.counts.set(key, count);
    if (shapedAt !== value.start || value.canonical !== null) {
      isNew = !count.recent.includes(value.hash);
      if (isNew) count.recent = [value.hash, ...count.recent].slice(0, RECENT);
      if (isNew) count.shaped += 1;
    }
    shapedAt = value.start;
    if (!value.passes) continue;
    if (isNew) count.passing += 1;
    end = value.end;
    kept += 1;
    if (kept > most) continue;
    const { start, grouped, canonical, look } = value;
    const survivor = { prepared, start, end: value.end, grouped, canonical, look, context, slot: 0 };
    gathered.survivors.push(survivor);
    gathered.keys.set(survivor, count);
  }
}

function columnOf(tables: Tables, start: number): number {
  return tables.columnOf(start, tables.lineAt(start));
}

function contextOf(
  scan: FastScan,
  search: SearchText,
  about: {
    prepared: Prepared;
    value: PlainValue;
    cell: TableCell | undefined;
    words: readonly PlainWord[];
    list: boolean;
  },
): Survivor['context'] {
  const { prepared, value, cell, words, list } = about;
  const { units, text } = search;
  const inRow = cell && !list ? { from: cell.rowStart, to: cell.rowEnd } : { from: 0, to: text.length };
  const near: Record<number, NearWord | null> = { [NAMING]: null, [SUPPORTING]: null, [COUNTER]: null };
  let heading: number = NO_ROLE;
  const around = wordsBetween(words, value.start - REACH, value.end + REACH);
  const above = cell ? wordsBetween(words, cell.headingStart, cell.headingEnd) : [];
  for (const { meaning, start, end } of new Set([...above, ...around])) {
    const each = scan.vocabulary.meanings[meaning];
    if (each?.kind !== 'context') continue;
    const role = scan.vocabulary.roleOf(each.word, prepared.index);
    if (role === NO_ROLE) continue;
    const heads = cell !== undefined && start >= cell.headingStart && end <= cell.headingEnd;
    if (heads && (heading === NO_ROLE || role < heading)) heading = role;
    if (start < inRow.from || end > inRow.to) continue;
    const found = nearWord(
      units,
      { text: scan.vocabulary.words[each.word] ?? '', from: start, to: end, role },
      value,
    );
    if (found && found.distance <= (prepared.pattern.wordDistance ?? CLEAR_WINDOW))
      near[role] = better(near[role] ?? null, found);
  }
  return {
    ...withoutOtherCounter({
      naming: near[NAMING] ?? null,
      supporting: near[SUPPORTING] ?? null,
      counter: near[COUNTER] ?? null,
    }),
    heading:
      heading === NO_ROLE || !cell
        ? null
        : { text: text.slice(cell.headingStart, cell.headingEnd).trim(), role: heading },
    inside: value.canonical === null ? insideOf(units, value.start, value.end) : null,
  };
}

/** Words that begin in a stretch; words are in the order of the text. */
function wordsBetween(words: readonly PlainWord[], from: number, to: number): readonly PlainWord[] {
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
function plainWords(scan: FastScan, search: SearchText): PlainWord[] {
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

function plainLongRuns(text: string): number[] {
  const runs: number[] = [];
  for (const match of text.matchAll(new RegExp(`[${WORD}]+`, 'g'))) {
    if (match[0].length >= 20 && /[a-z]/.test(match[0]) && /[A-Z]/.test(match[0]))
      runs.push(match.index, match.index + match[0].length);
  }
  return runs;
}

/** Each pattern's plain expression and check over a text, one after another, and nothing else: what benchmarks compare with. */
export function compilePlainLoop(patterns: readonly ReadyPattern[]): (text: string) => number {
  const prepared = patterns.map((pattern, index) => prepare(pattern, index));
  const expressions = prepared.map((each) => plainExpressions(each));
  return (raw) => {
    const { text } = toSearchText(raw);
    let passing = 0;
    prepared.forEach((each, index) => {
      for (const value of plainValues(text, each, expressions[index])) if (value.passes) passing += 1;
    });
    return passing;
  };
}
