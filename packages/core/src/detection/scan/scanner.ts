import type { PatternId, RawOffset, SearchOffset } from '../../shared/brand.js';
import { joinedLines, leftoverBase64, quotedPrintable, type Reading } from '../../text/readings.js';
import { languageOf } from '../../text/language.js';
import { type SearchText, toSearchText } from '../../text/search-text.js';
import { Tables } from '../../text/tables.js';
import { LEAST_SUM, mostOwn } from '../model/floor.js';
import { type Context, evidenceOf, NO_ROLE, wordSum } from '../model/context.js';
import { certaintyOf, certaintyOfSum, type Evidence, neighbourWeight, sumOf } from '../model/evidence.js';
import { Pass } from './fast-scan.js';
import { compileFastScan, type FastScan } from './compiled-scan.js';
import type { Finding } from '../model/finding.js';
import { asReady } from '../expressions/own-expression.js';
import { documentFinder, type DocumentSource, type FindDocuments } from '../documents/document-finder.js';
import { type FindRecords, recordFinder, type RecordSource } from '../exact/records.js';
import type {
  DocumentsPattern,
  Pattern,
  ReadyPattern,
  RecordsPattern,
  WordListPattern,
} from '../model/pattern.js';
import type { Passed, Survivor } from '../model/passed.js';
import { plainPass } from './plain-scan.js';
import { prepare } from '../model/prepared.js';
import { namesOfCountry } from '../library/entry/countries.js';
import { languagesOfCountries } from '../library/entry/languages.js';
import type { Nation, Surroundings } from '../model/candidates.js';
import { settleRivals } from '../model/rivals.js';
import { Vocabulary } from './vocabulary.js';
import { valuesOf } from '../checks/values.js';

/**
 * Most candidates of one pattern in one text. Past it the text is a data dump: counts say "at least", and memory
 * stays bounded (a candidate takes some 200 bytes).
 */
export const MAX_CANDIDATES = 100_000;

/** So much of a text is read for names of countries. */
const MOST_READ_FOR_NAMES = 100_000;

/** What one pass over a text gave. */
export interface ScanResult {
  /** In the order of the text. */
  readonly findings: readonly Finding[];
  /** Patterns that reached {@link MAX_CANDIDATES}; their counts are lower bounds. */
  readonly cutShort: readonly PatternId[];
}

/** Patterns made ready for use; holds no state between texts. */
export interface Scanner {
  scan(text: string): ScanResult;
}

/** What a scanner looks with. */
interface Means {
  readonly pass: RunPass;
  readonly findRecords: FindRecords | null;
  readonly findDocuments: FindDocuments | null;
  readonly nations: Omit<Surroundings, 'language' | 'names'>;
}

/** Room for the units of most texts and of their other readings: a scan is over before the next one begins. */
const ROOM = 1 << 17;
const textRoom = new Uint16Array(ROOM);
const readingRoom = new Uint16Array(ROOM);
const NO_RECORDS: ReadonlyMap<string, RecordSource> = new Map();
const NOWHERE: ReadonlySet<string> = new Set();
const NO_DOCUMENTS: ReadonlyMap<string, DocumentSource> = new Map();

type RunPass = (search: SearchText, tables: Tables) => Passed;

/** Compiles patterns once. Throws an Error for a shape or expression that is none: ready patterns are tested for it. */
export function compileScanner(
  patterns: readonly Pattern[],
  records: ReadonlyMap<string, RecordSource> = NO_RECORDS,
  documents: ReadonlyMap<string, DocumentSource> = NO_DOCUMENTS,
  home: ReadonlySet<string> = NOWHERE,
): Scanner {
  const scan = compile(patterns);
  const owned = patterns.filter((pattern): pattern is RecordsPattern => pattern.origin === 'records');
  const fast = new Pass(scan, owned.length > 0);
  const pass: RunPass = (search, tables) => fast.run(search, tables, MAX_CANDIDATES);
  const nations = nationsOf(scan, home);
  const findRecords = owned.length === 0 ? null : recordFinder(owned, records);
  const learnt = patterns.filter((pattern): pattern is DocumentsPattern => pattern.origin === 'documents');
  const findDocuments = learnt.length === 0 ? null : documentFinder(learnt, documents);
  return { scan: (text) => scanText(text, scan, { pass, findRecords, findDocuments, nations }) };
}

/**
 * The same patterns run one after another as plain expressions: slow, simple, and what {@link compileScanner} is held
 * to by tests and measured against by the benchmark.
 */
export function compilePlainScanner(patterns: readonly Pattern[]): Scanner {
  const scan = compile(patterns);
  const pass: RunPass = (search, tables) => plainPass(scan, search, { tables, most: MAX_CANDIDATES });
  const nations = nationsOf(scan, NOWHERE);
  return { scan: (text) => scanText(text, scan, { pass, findRecords: null, findDocuments: null, nations }) };
}

/** Countries of patterns, for numbers that many of them explain. */
function nationsOf(
  { patterns }: FastScan,
  home: ReadonlySet<string>,
): Omit<Surroundings, 'language' | 'names'> {
  const nations = new Map<PatternId, Nation>();
  for (const { pattern, accidentalShare } of patterns) {
    const { id, countries, namingWords } = pattern;
    if (countries.length === 0) continue;
    nations.set(id, {
      countries,
      languages: languagesOfCountries(countries),
      accidentalShare,
      ownNames: new Set(namingWords.map((name) => name.replace(/^=/, '').toLowerCase())),
    });
  }
  return { nationOf: (pattern) => nations.get(pattern), home };
}

function compile(patterns: readonly Pattern[]): FastScan {
  const ready = patterns.flatMap((pattern): ReadyPattern[] =>
    pattern.origin === 'ready' ? [pattern] : pattern.origin === 'expression' ? [asReady(pattern)] : [],
  );
  const lists = patterns.filter((pattern): pattern is WordListPattern => pattern.origin === 'own');
  const prepared = ready.map(prepare);
  return compileFastScan(prepared, new Vocabulary(prepared, lists));
}

function scanText(
  raw: string,
  scan: FastScan,
  { pass, findRecords, findDocuments, nations }: Means,
): ScanResult {
  const search = toSearchText(raw, textRoom);
  const tables = new Tables(search);
  const passed = pass(search, tables);
  const direct: Place = (start, end) => ({
    start: search.toRaw(start as SearchOffset),
    end: search.toRawEnd(end as SearchOffset),
  });
  const findings = findingsOf(passed, search, scan, { place: direct });
  if (findRecords) for (const finding of findRecords(search, passed.digitRuns)) findings.push(finding);
  if (findDocuments) for (const finding of findDocuments(search)) findings.push(finding);
  const cutShort = new Set(passed.cutShort);
  for (const reading of otherReadings(search, tables, passed)) {
    const inner = toSearchText(reading.text, readingRoom);
    const again = pass(inner, new Tables(inner));
    for (const id of again.cutShort) cutShort.add(id);
    findings.push(
      ...findingsOf(again, inner, scan, { place: throughReading(search, inner, reading), reading }),
    );
  }
  let language: string | null | undefined;
  let small: string | undefined;
  const surroundings: Surroundings = {
    ...nations,
    language: () => (language === undefined ? (language = languageOf(raw)) : language),
    names: (country) => {
      small ??= raw.slice(0, MOST_READ_FOR_NAMES).toLowerCase();
      return namesOfCountry(country).some((name) => small?.includes(name));
    },
  };
  return { findings: settleRivals(findings, surroundings), cutShort: [...cutShort] };
}

function otherReadings(search: SearchText, tables: Tables, passed: Passed): Reading[] {
  const readings = [
    joinedLines(search, tables),
    quotedPrintable(search, tables),
    leftoverBase64(search, passed.longRuns),
  ];
  return readings.filter((reading) => reading !== undefined);
}

/** Where a stretch of a searched text stands in the text as read. */
type Place = (start: number, end: number) => { start: RawOffset; end: RawOffset };

function throughReading(search: SearchText, inner: SearchText, reading: Reading): Place {
  return (start, end) => {
    const from = inner.toRaw(start as SearchOffset) as number;
    const to = (inner.toRawEnd(end as SearchOffset) as number) - 1;
    return {
      start: search.toRaw((reading.starts[from] ?? 0) as SearchOffset),
      end: search.toRawEnd((reading.ends[to] ?? 0) as SearchOffset),
    };
  };
}

/** Whether a value stands across one of the places where lines were joined; joints are in order. */
function spansJoint(reading: Reading, start: number, end: number): boolean {
  let low = 0;
  let high = reading.joints.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((reading.joints[middle] ?? 0) <= start) low = middle + 1;
    else high = middle;
  }
  return (reading.joints[low] ?? Number.MAX_SAFE_INTEGER) < end;
}

/** Where the findings of a pass stand: in the text as it is, or in another reading of it. */
interface Standing {
  readonly place: Place;
  readonly reading?: Reading;
}

function findingsOf(
  passed: Passed,
  search: SearchText,
  scan: FastScan,
  { place, reading }: Standing,
): Finding[] {
  const joined = (reading?.joints.length ?? 0) > 0;
  const counts = (start: number, end: number): boolean =>
    reading === undefined ||
    !joined ||
    spansJoint(
      reading,
      search.toRaw(start as SearchOffset) as number,
      search.toRawEnd(end as SearchOffset) as number,
    );
  const findings: Finding[] = [];
  for (const survivor of passed.survivors) {
    if (!counts(survivor.start, survivor.end)) continue;
    const around = joined ? { shaped: 0, passing: 0 } : passed.around(survivor);
    const finding = toFinding(survivor, search, { around, broken: joined }, place);
    if (finding) findings.push(finding);
  }
  if (joined || passed.listed.length === 0) return findings;
  const sums = listSums(passed.listed, scan);
  for (const hit of passed.listed) {
    const finding = listedFinding(hit, { scan, sums, place });
    if (finding) findings.push(finding);
  }
  return findings;
}

/** What the different words of each list come to in one text, and how many there are; lists with a threshold only. */
type ListSums = ReadonlyMap<WordListPattern, { readonly sum: number; readonly words: number }>;

function listSums(listed: Passed['listed'], { vocabulary }: FastScan): ListSums {
  const sums = new Map<WordListPattern, { sum: number; words: number; seen: Set<number> }>();
  for (const { meaning } of listed) {
    const each = vocabulary.meanings[meaning];
    if (each?.kind !== 'listed' || each.list.threshold === undefined) continue;
    const known = sums.get(each.list) ?? { sum: 0, words: 0, seen: new Set<number>() };
    sums.set(each.list, known);
    if (known.seen.has(meaning)) continue;
    known.seen.add(meaning);
    known.sum += each.weight;
    known.words += 1;
  }
  return sums;
}

function listedFinding(
  hit: Passed['listed'][number],
  { scan, sums, place }: { scan: FastScan; sums: ListSums; place: Place },
): Finding | undefined {
  const meaning = scan.vocabulary.meanings[hit.meaning];
  if (meaning?.kind !== 'listed') return undefined;
  const { list, entry, weight } = meaning;
  const evidence: Evidence[] = [{ code: 'listed-word', weight, detail: entry }];
  const together = sums.get(list);
  if (together) {
    if (together.sum < (list.threshold ?? 0)) return undefined;
    if (together.words > 1)
      evidence.push({
        code: 'listed-others',
        weight: together.sum - weight,
        detail: String(together.words - 1),
      });
  }
  return {
    pattern: list.id,
    ...place(hit.start, hit.end),
    certainty: certaintyOf(evidence),
    evidence,
    canonical: entry.toLowerCase(),
    rivals: [],
  };
}

const NO_SEPARATORS = /[^0-9A-Za-z]/g;

function toFinding(
  survivor: Survivor,
  search: SearchText,
  rest: Pick<Context, 'around' | 'broken'>,
  place: Place,
): Finding | undefined {
  const { prepared, start, end, grouped, context } = survivor;
  const { shaped, passing } = rest.around;
  const most =
    mostOwn(prepared, grouped) +
    neighbourWeight(shaped, passing, prepared.accidentalShare) +
    wordSum(prepared.pattern, context.heading?.role ?? NO_ROLE, context);
  // Nearly all end here: under a heading of another kind, or in a column where most do not pass.
  if (most < LEAST_SUM - 1e-6) return undefined;
  const canonical =
    survivor.canonical ?? search.text.slice(start, end).replace(NO_SEPARATORS, '').toUpperCase();
  const values = prepared.usual ? valuesOf(canonical) : null;
  const usual = values && prepared.usual ? prepared.usual(values, values.length) : null;
  const evidence = evidenceOf({ prepared, grouped, canonical, usual, look: survivor.look }, context, rest);
  const sum = sumOf(evidence);
  if (sum < LEAST_SUM) return undefined;
  const stands = place(start, end);
  return {
    pattern: prepared.pattern.id,
    start: stands.start,
    end: stands.end,
    certainty: certaintyOfSum(sum),
    evidence,
    canonical,
    rivals: [],
  };
}
