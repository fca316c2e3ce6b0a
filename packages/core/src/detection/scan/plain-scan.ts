/**
 * The scanner in its plainest form: one expression after another over the whole text. It decides nothing that the fast
 * pass does not; tests demand the same findings of both, and the benchmark measures the one against the other.
 */
import { otherLetterRanges } from '../../text/fold.js';
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
  GENERAL,
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
import { type PlainWord, plainWords, wordsBetween } from './plain-words.js';

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
  const values = valuesIn(search, prepared);
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
    const told =
      context.naming ?? context.general ?? context.supporting ?? context.counter ?? context.heading;
    // Where nothing speaks for or against it and much would have to, it is not even a neighbour to others.
    if (value.canonical === null && !told && neededSum(prepared, value.grouped) > 0) continue;
    const count = gathered.counts.get(key) ?? { shaped: 0, passing: 0, recent: [] };
    gathered.counts.set(key, count);
    if (shapedAt !== value.start || value.canonical !== null) isNew = countShaped(count, value);
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

const valuesIn = (search: SearchText, prepared: Prepared): PlainValue[] =>
  prepared.recognition.by === 'expression'
    ? expressionHits([prepared], search).map((hit) => ({
        ...hit,
        grouped: false,
        look: null,
        hash: textHash(hit.canonical),
      }))
    : plainValues(search.text, prepared);

/** Counts a value of the shape; false where the same one stands shortly before. */
function countShaped(count: Counts, { hash }: PlainValue): boolean {
  if (count.recent.includes(hash)) return false;
  count.recent = [hash, ...count.recent].slice(0, RECENT);
  count.shaped += 1;
  return true;
}

function columnOf(tables: Tables, start: number): number {
  return tables.columnOf(start, tables.lineAt(start));
}

const nearest = (near: Readonly<Record<number, NearWord | null>>) =>
  withoutOtherCounter({
    naming: near[NAMING] ?? null,
    general: near[GENERAL] ?? null,
    supporting: near[SUPPORTING] ?? null,
    counter: near[COUNTER] ?? null,
  });

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
  const near: Record<number, NearWord | null> = {
    [NAMING]: null,
    [GENERAL]: null,
    [SUPPORTING]: null,
    [COUNTER]: null,
  };
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
    ...nearest(near),
    heading:
      heading === NO_ROLE || !cell
        ? null
        : { text: text.slice(cell.headingStart, cell.headingEnd).trim(), role: heading },
    inside: value.canonical === null ? insideOf(units, value.start, value.end) : null,
  };
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
