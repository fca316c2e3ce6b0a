/**
 * How fast texts are scanned, against the plain loop: each pattern's plain expression and check, one after another, in
 * the same run. Real mails, a dense table of numbers, growth with patterns and words, two threads, and worst cases.
 */
import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads';
import {
  compilePlainLoop,
  compileScanner,
  type ExpressionPattern,
  MAX_RECORDS,
  type Pattern,
  READY_PATTERNS,
  RecordIndexBuilder,
  type RecordShape,
  type RecordsPattern,
  type WordListPattern,
} from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';
import { chance, corpusMails, valueOf } from '@lantern/testkit';

const SEED = 7;
const ROUNDS = 7;
/** The plain loop runs over every so many mails only: it is the slow one. */
const PLAIN_STEP = 40;
/** Mails timed before it is the other side's turn: long enough for caches to warm, shorter than a machine's moods. */
const SLICE = 400;
const DENSE_MEGABYTES = 6;

const median = (values: readonly number[]): number =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? 0;
const megabytes = (texts: readonly string[]): number =>
  texts.reduce((sum, text) => sum + text.length, 0) / 1e6;

function speed(texts: readonly string[], work: (text: string) => unknown): number {
  const started = performance.now();
  for (const text of texts) work(text);
  return megabytes(texts) / ((performance.now() - started) / 1000);
}

/** A list with `count` invented words, every seventh a phrase of two. */
function wordList(count: number): WordListPattern {
  const random = chance(SEED);
  const word = (): string =>
    Array.from({ length: random.whole(5, 11) }, () => random.pick([...'abcdefghijklmnopqrstuvwxyz'])).join(
      '',
    );
  const words = Array.from({ length: count }, (_unused, index) => ({
    text: index % 7 === 0 ? `${word()} ${word()}` : word(),
    weight: 3,
  }));
  return {
    origin: 'own',
    id: `words-${count}` as PatternId,
    name: `${count} words`,
    kind: 'own-words',
    about: '',
    words,
  };
}

/** Invented references of an organisation: letters, digits and marks in many orders. */
function ownExpressions(count: number): ExpressionPattern[] {
  const random = chance(SEED + 1);
  const letters = (length: number): string =>
    Array.from({ length }, () => random.pick([...'ABCDEFGHJKLMNPRSTUVWXYZ'])).join('');
  const makers = [
    () => `\\b${letters(2)}-\\d{6}\\b`,
    () => `\\b${letters(3)}\\d{2,4}[A-Z]?\\b`,
    () => `\\b\\d{4}/${letters(2)}/\\d{2}\\b`,
    () => `(?:project|case|file)[ -]${letters(4)}`,
    () => `\\b[${letters(4)}]\\d{7}[${letters(3)}]\\b`,
    () => `${letters(3)}_[a-z]{3,12}_\\d+`,
  ];
  return Array.from({ length: count }, (_unused, index) => ({
    origin: 'expression',
    id: `expression-${index}` as PatternId,
    name: `Reference ${index}`,
    kind: 'own-expression',
    about: '',
    expression: (makers[index % makers.length] ?? makers[0]!)(),
    caseMatters: false,
    check: 'none',
    namingWords: [`reference ${letters(5).toLowerCase()}`],
    supportingWords: [],
    counterWords: [],
    wordDistance: 60,
    exclusions: { values: [], words: [], ranges: [] },
    weights: { shape: 1, namingWord: 3, supportingWord: 1, counterWord: -3 },
  }));
}

/** A table whose cells are numbers of many kinds, valid and not: nearly every cell has some pattern's shape. */
function denseTable(size: number): string {
  const random = chance(SEED);
  const shaped = READY_PATTERNS.filter((pattern) => pattern.recognition.by === 'shapes');
  const pool = shaped.flatMap((pattern) => Array.from({ length: 3 }, () => valueOf(pattern, random)));
  const rows = ['Nr;Account;Tax number;Document;Number;Reference;Code;Value'];
  let length = 0;
  while (length < size) {
    const row = Array.from({ length: 8 }, () =>
      random.happens(0.5) ? random.pick(pool).replace(/[;\n]/g, '') : String(random.whole(1e7, 1e11)),
    ).join(';');
    rows.push(row);
    length += row.length + 1;
  }
  return rows.join('\n');
}

interface Ratio {
  readonly fast: number;
  readonly plain: number;
  readonly ratio: number;
}

/** Texts that both sides are timed on one after another, and those of them that the slow side reads. */
interface Slice {
  readonly texts: readonly string[];
  readonly sample: readonly string[];
}

/** Mails a few hundred at a time: a machine's speed drifts within seconds, and both sides should meet the same one. */
function slicesOf(mails: readonly string[]): Slice[] {
  return Array.from({ length: Math.ceil(mails.length / SLICE) }, (_unused, number) => {
    const texts = mails.slice(number * SLICE, (number + 1) * SLICE);
    return { texts, sample: texts.filter((_text, index) => index % PLAIN_STEP === 0) };
  });
}

/** Both sides in turn, slice by slice, round by round; the ratio is that of all they read over all the time they took. */
function against(name: string, patterns: readonly Pattern[], slices: readonly Slice[]): Ratio {
  const scanner = compileScanner(patterns);
  const plainLoop = compilePlainLoop(READY_PATTERNS);
  const scan = (text: string): unknown => scanner.scan(text);
  const fast = new Side(scan);
  const plain = new Side(plainLoop);
  for (const { texts, sample } of slices) {
    speed(texts, scan);
    speed(sample, plainLoop);
  }
  for (let round = 0; round < ROUNDS; round += 1) {
    for (const { texts, sample } of slices) {
      plain.read(sample);
      fast.read(texts);
    }
  }
  const result = { fast: fast.speed(), plain: plain.speed(), ratio: fast.speed() / plain.speed() };
  console.log(
    `${name.padEnd(34)} ${result.fast.toFixed(2).padStart(8)} MB/s   plain loop ${result.plain.toFixed(2).padStart(6)} MB/s   ${result.ratio.toFixed(1).padStart(6)} times`,
  );
  return result;
}

/** One of two that are compared: what it read and how long that took, all rounds together. */
class Side {
  private megabytes = 0;
  private seconds = 0;

  constructor(private readonly work: (text: string) => unknown) {}

  read(texts: readonly string[]): void {
    const started = performance.now();
    for (const text of texts) this.work(text);
    this.seconds += (performance.now() - started) / 1000;
    this.megabytes += megabytes(texts);
  }

  /** Megabytes a second. */
  speed(): number {
    return this.megabytes / this.seconds;
  }
}

/** Texts made to be slow for somebody: nested shapes, endless digits, separators only, near misses of every pattern. */
const WORST: Readonly<Record<string, (size: number) => string>> = {
  'endless digits': (size) => '4'.repeat(size),
  'separators only': (size) => '- ./:;,|\t'.repeat(size / 9),
  'digits and spaces': (size) => '4111 '.repeat(size / 5),
  'digits and full stops': (size) => '1.'.repeat(size / 2),
  'at signs': (size) => 'a@'.repeat(size / 2),
  ampersands: (size) => '&#'.repeat(size / 2),
  'equals signs': (size) => '=3D=\n'.repeat(size / 5),
  'base 64': (size) => 'QUJDZGVmMTIz'.repeat(size / 12),
  assignments: (size) => 'password=key:token='.repeat(size / 19),
  fillers: (size) => 'P<<'.repeat(size / 3),
  'one line a digit': (size) => '1\n'.repeat(size / 2),
  'near misses': (size) => {
    const misses = READY_PATTERNS.flatMap((pattern) => pattern.examples.nearMisses).join('\n');
    return `${misses}\n`.repeat(Math.ceil(size / misses.length)).slice(0, size);
  },
};
const SIZES = [100_000, 1_000_000, 10_000_000] as const;

function worstCases(): Record<string, number> {
  const scanner = compileScanner(READY_PATTERNS);
  const growth: Record<string, number> = {};
  console.log(
    `\nworst cases, seconds at ${SIZES.map((size) => `${size / 1e6} MB`).join(', ')}; growth of the last tenfold step`,
  );
  for (const [name, make] of Object.entries(WORST)) {
    const seconds = SIZES.map((size) => {
      const text = make(size);
      const started = performance.now();
      scanner.scan(text);
      return (performance.now() - started) / 1000;
    });
    growth[name] = (seconds[2] ?? 0) / Math.max(0.001, seconds[1] ?? 0);
    console.log(
      `  ${name.padEnd(24)} ${seconds.map((each) => each.toFixed(3).padStart(9)).join('')}   ${growth[name].toFixed(1)} times`,
    );
  }
  return growth;
}

/** Speed with 200 own expressions over the speed without, round by round. */
function shareWithOwn(texts: readonly string[]): { share: number; compileMilliseconds: number } {
  const without = compileScanner(READY_PATTERNS);
  const started = performance.now();
  const together = compileScanner([...READY_PATTERNS, ...ownExpressions(200)]);
  const compileMilliseconds = performance.now() - started;
  for (const scanner of [without, together]) speed(texts, (text) => scanner.scan(text));
  const shares = Array.from({ length: ROUNDS }, () => {
    const plain = speed(texts, (text) => without.scan(text));
    return speed(texts, (text) => together.scan(text)) / plain;
  });
  return { share: median(shares), compileMilliseconds };
}

/** Speed with a million records looked for over the speed without, and what they take. */
function shareWithRecords(texts: readonly string[]): {
  share: number;
  megabytes: number;
  importSeconds: number;
} {
  const shape: RecordShape = {
    key: { name: 'Booking', kind: 'number' },
    others: [
      { name: 'Name', kind: 'name' },
      { name: 'Mail', kind: 'mail' },
      { name: 'Born', kind: 'date' },
    ],
    needed: 1,
    window: 200,
  };
  const key = new Uint8Array(16).fill(7);
  const builder = new RecordIndexBuilder(shape, key);
  const started = performance.now();
  for (let row = 0; row < MAX_RECORDS; row += 1)
    builder.add(`MS${1_000_000 + row}`, [`Ada Brandt${row}`, `p${row}@example.org`, '1980-05-12']);
  const { index } = builder.finish((bytes) => new SharedArrayBuffer(bytes));
  const importSeconds = (performance.now() - started) / 1000;
  const records: RecordsPattern = {
    origin: 'records',
    id: 'bookings' as PatternId,
    name: 'Bookings',
    kind: 'own-records',
    about: '',
    shape,
  };
  const without = compileScanner(READY_PATTERNS);
  const together = compileScanner([...READY_PATTERNS, records], new Map([[records.id, { index, key }]]));
  for (const scanner of [without, together]) speed(texts, (text) => scanner.scan(text));
  const shares = Array.from({ length: ROUNDS }, () => {
    const plain = speed(texts, (text) => without.scan(text));
    return speed(texts, (text) => together.scan(text)) / plain;
  });
  return { share: median(shares), megabytes: index.buffer.byteLength / 1e6, importSeconds };
}

/** Milliseconds that one thread scanned for; loading and compiling are left out. */
function inThread(part: number, parts: number): Promise<number> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL(import.meta.url), { workerData: { part, parts } });
    worker.on('message', (milliseconds: number) => resolve(milliseconds));
    worker.on('error', reject);
  });
}

async function twoThreads(): Promise<number> {
  const time = async (parts: number): Promise<number> =>
    Math.max(...(await Promise.all(Array.from({ length: parts }, (_unused, part) => inThread(part, parts)))));
  await time(1);
  return (await time(1)) / (await time(2));
}

/** Bytes in use after everything that is done with was let go. */
function heapOf(): number {
  globalThis.gc?.();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}

async function main(): Promise<void> {
  const mails = corpusMails().map((mail) => mail.text);
  const words = wordList(2000);
  console.log(
    `${READY_PATTERNS.length} ready patterns with evidence and offsets, 2,000 listed words; ${megabytes(mails).toFixed(1)} MB of mail\n`,
  );
  const mail = against('real mail', [...READY_PATTERNS, words], slicesOf(mails));
  const table = denseTable(DENSE_MEGABYTES * 1e6);
  const dense = against(
    'dense table',
    [...READY_PATTERNS, words],
    [{ texts: [table], sample: [table.slice(0, 400_000)] }],
  );
  globalThis.gc?.();
  const before = process.memoryUsage();
  const result = compileScanner([...READY_PATTERNS, words]).scan(table);
  const after = process.memoryUsage();
  const memory = (after.heapUsed + after.arrayBuffers - before.heapUsed - before.arrayBuffers) / 1e6;
  console.log(
    `memory after the dense table: ${memory.toFixed(0)} MB for ${DENSE_MEGABYTES} MB of text and ${result.findings.length} findings; resident at most ${(process.resourceUsage().maxRSS / 1e3).toFixed(0)} MB`,
  );

  console.log('\ngrowth on mail, MB/s');
  const part = mails.filter((_mail, index) => index % 4 === 0);
  const growth: Record<string, number> = {};
  for (const count of [50, 100, 200]) {
    const scanner = compileScanner(READY_PATTERNS.slice(0, count));
    speed(part, (text) => scanner.scan(text));
    growth[`patterns${count}`] = speed(part, (text) => scanner.scan(text));
  }
  for (const count of [2000, 50_000, 100_000]) {
    const list = wordList(count);
    const heap = heapOf();
    const started = performance.now();
    const scanner = compileScanner([...READY_PATTERNS, list]);
    const compile = performance.now() - started;
    speed(part, (text) => scanner.scan(text));
    growth[`words${count}`] = speed(part, (text) => scanner.scan(text));
    growth[`compileMilliseconds${count}`] = compile;
    growth[`megabytes${count}`] = (heapOf() - heap) / 1e6;
  }
  const insideStarted = performance.now();
  const withInside = compileScanner([...READY_PATTERNS, { ...wordList(50_000), inside: true }]);
  growth['compileMillisecondsInside50000'] = performance.now() - insideStarted;
  speed(part, (text) => withInside.scan(text));
  growth['inside50000'] = speed(part, (text) => withInside.scan(text));
  const ownShare = shareWithOwn(part);
  for (const [name, value] of Object.entries(growth)) console.log(`  ${name.padEnd(26)} ${value.toFixed(1)}`);
  console.log(
    `200 own expressions leave ${(ownShare.share * 100).toFixed(0)} % of the speed (at least 33 % is asked); compiled in ${ownShare.compileMilliseconds.toFixed(0)} ms`,
  );
  const records = shareWithRecords(part);
  console.log(
    `a million records leave ${(records.share * 100).toFixed(0)} % of the speed (at least 75 % is asked), take ${records.megabytes.toFixed(0)} MB (64 at most) and are hashed in ${records.importSeconds.toFixed(0)} s`,
  );
  const threads = await twoThreads();
  console.log(`two threads beside one: ${threads.toFixed(2)} times`);
  const worst = worstCases();
  console.log(
    JSON.stringify({
      bench: 'detection',
      mailRatio: mail.ratio,
      denseRatio: dense.ratio,
      mail,
      dense,
      memoryMegabytes: memory,
      growth,
      ownExpressions: ownShare,
      records,
      threads,
      worst,
    }),
  );
}

if (isMainThread) await main();
else {
  const { part, parts } = workerData as { part: number; parts: number };
  const scanner = compileScanner(READY_PATTERNS);
  const mails = corpusMails(2).filter((_mail, index) => index % parts === part);
  for (const mail of mails.slice(0, 200)) scanner.scan(mail.text);
  const started = performance.now();
  for (const mail of mails) scanner.scan(mail.text);
  parentPort?.postMessage(performance.now() - started);
}
