/**
 * How often findings are right: real mails as negatives, planted values in natural sentences and tables as positives.
 * A fifth of both, fixed by a hash, is never looked at while weights are chosen and is reported apart.
 */
import { certaintyFor, compileScanner, READY_PATTERNS, type ReadyPattern } from '@lantern/core/detection';
import { readFile } from '@lantern/files';
import {
  chance,
  CONTAINERS,
  corpusMails,
  oneDigitOff,
  secretCases,
  sentencesFor,
  valueOf,
} from '@lantern/testkit';

const SEED = 20261123;
const LEVELS = [50, 80, 95] as const;
const KINDS = ['identity', 'tax', 'bank', 'payment', 'health'];
const VALUES_PER_PATTERN = 24;

/** FNV-1a over the name: the same mails and values are held back on every machine. */
const heldBack = (name: string): boolean => {
  let hash = 0x811c9dc5;
  for (const unit of name) hash = Math.imul(hash ^ unit.charCodeAt(0), 0x01000193) >>> 0;
  return hash % 5 === 0;
};

const scanner = compileScanner(READY_PATTERNS);
const measured = READY_PATTERNS.filter((pattern) => KINDS.includes(pattern.kind));
const ids = new Set<string>(measured.map((pattern) => pattern.id));

interface Tally {
  planted: number;
  found: Record<number, number>;
  bare: number;
  bareAbove60: number;
}

interface Share {
  mails: number;
  false: Map<string, Record<number, number>>;
  planted: Map<string, Tally>;
  /** Certainty and whether it was right, for Brier score and reliability. */
  outcomes: { certainty: number; right: boolean }[];
}

const newShare = (): Share => ({ mails: 0, false: new Map(), planted: new Map(), outcomes: [] });
const shares = { chosen: newShare(), heldBack: newShare() };

for (const { name, text } of corpusMails()) {
  const share = heldBack(name) ? shares.heldBack : shares.chosen;
  share.mails += 1;
  for (const finding of scanner.scan(text).findings) {
    if (!ids.has(finding.pattern)) continue;
    const tally = share.false.get(finding.pattern) ?? { 50: 0, 80: 0, 95: 0 };
    for (const level of LEVELS) if (finding.certainty >= level) tally[level] = (tally[level] ?? 0) + 1;
    share.false.set(finding.pattern, tally);
    share.outcomes.push({ certainty: finding.certainty, right: false });
  }
}

const random = chance(SEED);
const planted = measured.filter((pattern) => pattern.recognition.by === 'shapes');
for (const pattern of planted) plant(pattern);

function plant(pattern: ReadyPattern): void {
  for (let round = 0; round < VALUES_PER_PATTERN; round += 1) {
    const value = valueOf(pattern, random);
    const share = heldBack(`${pattern.id} ${round}`) ? shares.heldBack : shares.chosen;
    const tally = share.planted.get(pattern.id) ?? {
      planted: 0,
      found: { 50: 0, 80: 0, 95: 0 },
      bare: 0,
      bareAbove60: 0,
    };
    share.planted.set(pattern.id, tally);
    for (const text of sentencesFor(pattern, value, random)) {
      const best = bestOf(text, pattern.id, value);
      tally.planted += 1;
      for (const level of LEVELS) if (best >= level) tally.found[level] = (tally.found[level] ?? 0) + 1;
      share.outcomes.push({ certainty: best, right: true });
    }
    const bare = bestOf(`Please see ${value} and the rest of it.`, pattern.id, value);
    tally.bare += 1;
    if (bare > 60) tally.bareAbove60 += 1;
    // The same sentence with a typing error is a negative: where a check catches it, nothing may be found.
    if (pattern.weights.check > 0) {
      const wrong = oneDigitOff(value, random);
      const certainty = bestOf(sentencesFor(pattern, wrong, random)[0] ?? '', pattern.id, wrong);
      if (certainty > 0) share.outcomes.push({ certainty, right: false });
    }
  }
}

function bestOf(text: string, id: string, value: string): number {
  const at = text.indexOf(value);
  const found = scanner
    .scan(text)
    .findings.filter((finding) => finding.start < at + value.length && finding.end > at);
  return Math.max(0, ...found.map((finding) => certaintyFor(finding, id)));
}

function report(
  name: string,
  share: Share,
): { falsePerThousand: Record<number, number>; recall: Record<number, number>; brier: number } {
  console.log(
    `\n== ${name}: ${share.mails} mails, ${[...share.planted.values()].reduce((sum, tally) => sum + tally.planted, 0)} planted values`,
  );
  console.log('false findings per 1,000 mails, by pattern, at certainty 50, 80, 95');
  const all: Record<number, number> = { 50: 0, 80: 0, 95: 0 };
  for (const [id, tally] of [...share.false].sort(
    (left, right) => (right[1][50] ?? 0) - (left[1][50] ?? 0),
  )) {
    for (const level of LEVELS) all[level] = (all[level] ?? 0) + (tally[level] ?? 0);
    if ((tally[50] ?? 0) > 0)
      console.log(
        `  ${id.padEnd(28)} ${LEVELS.map((level) => (((tally[level] ?? 0) * 1000) / share.mails).toFixed(2).padStart(7)).join('')}`,
      );
  }
  const falsePerThousand = Object.fromEntries(
    LEVELS.map((level) => [level, ((all[level] ?? 0) * 1000) / share.mails]),
  );
  console.log(
    `  ${'all together'.padEnd(28)} ${LEVELS.map((level) => (falsePerThousand[level] ?? 0).toFixed(2).padStart(7)).join('')}`,
  );
  const total = [...share.planted.values()].reduce(
    (sum, tally) => ({
      planted: sum.planted + tally.planted,
      50: sum[50] + (tally.found[50] ?? 0),
      80: sum[80] + (tally.found[80] ?? 0),
      95: sum[95] + (tally.found[95] ?? 0),
    }),
    { planted: 0, 50: 0, 80: 0, 95: 0 },
  );
  const recall = Object.fromEntries(LEVELS.map((level) => [level, total[level] / total.planted]));
  console.log(
    `recall with ordinary context at 50, 80, 95: ${LEVELS.map((level) => (recall[level] ?? 0).toFixed(4)).join('  ')}`,
  );
  const weak = [...share.planted].filter(([, tally]) => (tally.found[80] ?? 0) / tally.planted < 0.97);
  for (const [id, tally] of weak)
    console.log(`  below 0.97 at 80: ${id} ${((tally.found[80] ?? 0) / tally.planted).toFixed(2)}`);
  const bare = [...share.planted].filter(([, tally]) => tally.bareAbove60 > 0);
  console.log(`without any context above 60: ${bare.map(([id]) => id).join(', ') || 'none'}`);
  const brier =
    share.outcomes.reduce((sum, { certainty, right }) => sum + (certainty / 100 - (right ? 1 : 0)) ** 2, 0) /
    share.outcomes.length;
  console.log(`Brier score ${brier.toFixed(4)}`);
  console.log('reliability: certainty from, findings, share that were right');
  for (let from = 20; from < 100; from += 10) {
    const inside = share.outcomes.filter(
      ({ certainty }) => certainty >= from && certainty < from + 10 + (from === 90 ? 1 : 0),
    );
    if (inside.length > 0)
      console.log(
        `  ${String(from).padStart(3)}  ${String(inside.length).padStart(6)}  ${(inside.filter(({ right }) => right).length / inside.length).toFixed(3)}`,
      );
  }
  return { falsePerThousand, recall, brier };
}

/** Recall at 80 in ordinary containers, by container; a fifth of the patterns, fixed by a hash, is reported apart. */
async function byContainer(): Promise<Record<string, { chosen: number; heldBack: number }>> {
  const random = chance(SEED + 1);
  const result: Record<string, { chosen: number; heldBack: number }> = {};
  for (const [name, contain] of Object.entries(CONTAINERS)) {
    const counts = { chosen: [0, 0], heldBack: [0, 0] };
    for (const pattern of planted) {
      const [found, all] = counts[heldBack(pattern.id) ? 'heldBack' : 'chosen'];
      const { text: given, values, as } = contain(pattern, random);
      const text = as === 'html' ? await textOfHtml(given) : given;
      const hits = values.filter((value) => bestOf(text, pattern.id, value) >= 80).length;
      counts[heldBack(pattern.id) ? 'heldBack' : 'chosen'] = [
        (found ?? 0) + hits,
        (all ?? 0) + values.length,
      ];
    }
    const share = ([found = 0, all = 1]: readonly number[]): number => found / all;
    result[name] = { chosen: share(counts.chosen), heldBack: share(counts.heldBack) };
  }
  return result;
}

/** Recall and precision of secrets at 80, over drawn ones in their places and decoys; a fifth, fixed by a hash, apart. */
function secrets(): Record<string, { recall: number; precision: number }> {
  const kinds = new Set<string>(READY_PATTERNS.filter(({ kind }) => kind === 'secrets').map(({ id }) => id));
  const counts = { chosen: [0, 0, 0, 0], heldBack: [0, 0, 0, 0] } as Record<string, number[]>;
  for (const { text, secret } of secretCases(chance(SEED + 2), 20)) {
    const count = counts[heldBack(text) ? 'heldBack' : 'chosen'] ?? [];
    const at = secret === null ? -1 : text.indexOf(secret);
    const hits = (finding: { start: number; end: number }): boolean =>
      at >= 0 && finding.start < at + (secret ?? '').length && finding.end > at;
    const found = scanner
      .scan(text)
      .findings.filter(({ pattern, certainty }) => kinds.has(pattern) && certainty >= 80);
    const right = found.filter(hits).length;
    [Number(secret !== null), Number(right > 0), found.length, right].forEach((each, index) => {
      count[index] = (count[index] ?? 0) + each;
    });
  }
  return Object.fromEntries(
    Object.entries(counts).map(([share, [planted = 0, seen = 0, found = 0, right = 0]]) => [
      share,
      { recall: seen / planted, precision: right / found },
    ]),
  );
}

async function textOfHtml(page: string): Promise<string> {
  const parts = await readFile({ name: 'page.html', bytes: Buffer.from(page) });
  return parts.map((part) => (part.status === 'read' ? part.text : '')).join('\n');
}

const chosen = report('used for choosing weights', shares.chosen);
const held = report('held back', shares.heldBack);
const containers = await byContainer();
console.log('\nrecall at 80 by container: chosen, held back');
for (const [name, share] of Object.entries(containers))
  console.log(`  ${name.padEnd(32)} ${share.chosen.toFixed(3)}  ${share.heldBack.toFixed(3)}`);
const ofSecrets = secrets();
console.log('\nsecrets at 80: recall, precision');
for (const [share, { recall, precision }] of Object.entries(ofSecrets))
  console.log(`  ${share.padEnd(32)} ${recall.toFixed(3)}  ${precision.toFixed(3)}`);
console.log(
  JSON.stringify({
    bench: 'accuracy',
    patterns: planted.length,
    chosen,
    heldBack: held,
    containers,
    secrets: ofSecrets,
  }),
);
