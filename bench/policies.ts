/**
 * What judging costs, over real mails with what the ready library finds in them. Three questions: how does it grow with
 * the number of rules, what does it add to detection, and how much quicker is a replay that has kept findings than one
 * that looks at the texts again. Baselines run beside, in turns: the whole evaluation with its trace, and detection.
 */
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { compileScanner, type Finding, READY_PATTERNS } from '@lantern/core/detection';
import { type InspectedMovement } from '@lantern/core/movement';
import {
  compilePolicies,
  type Condition,
  evaluate,
  keepMovement,
  type KeptMovement,
  type PolicySet,
  type Rule,
  unkeepMovement,
} from '@lantern/core/policy';
import {
  bandOf,
  type Chance,
  chance,
  corpusMails,
  findingsAsked,
  mailOf,
  policyOf,
  ruleOf,
  setOf,
} from '@lantern/testkit';
import { crossings } from './lib/crossings.js';

const SEED = 20261124;
/** Mails that take turns, so that the machine's moods fall on both sides alike. */
const SLICE = 400;
const ROUNDS = 3;
const HALF_OF_THE_CORPUS = 2;

interface Item {
  readonly text: string;
  readonly movement: InspectedMovement;
}

const PARTNERS = Array.from({ length: 60 }, (_unused, index) => `partner${index}.example`);

/** Half of the corpus as movements: to insiders, to partners, to strangers. */
function itemsOf(random: Chance): Item[] {
  const scanner = compileScanner(READY_PATTERNS);
  return corpusMails(HALF_OF_THE_CORPUS).map(({ text }) => {
    const to = Array.from({ length: random.whole(1, 4) }, () =>
      random.happens(0.5) ? 'colleague@merrowstrait.example' : `x@mail.${random.pick(PARTNERS)}`,
    );
    return { text, movement: mailOf(scanner.scan(text).findings, to) };
  });
}

/** Rules as an organisation has them: most about one pattern and where it goes, with exceptions that repeat. */
function someRule(random: Chance, id: string): Rule {
  const pattern = random.pick(READY_PATTERNS).id;
  const clauses: Condition[] = [
    { kind: 'recipient', quantity: 'any', side: 'outside' },
    findingsAsked(random.pick([1, 5, 25]), { pattern }),
  ];
  if (random.happens(0.3))
    clauses.push({ kind: 'reach', side: 'outside', atLeast: random.pick([1, 10, 100]) });
  const partners = (): string[] => [random.pick(PARTNERS), random.pick(PARTNERS)];
  const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1, { pattern });
  const graded = random.happens(0.2);
  return ruleOf(id, {
    when: { kind: 'all', of: graded ? clauses.slice(0, 1) : clauses },
    unless: random.happens(0.5) ? { kind: 'domain', quantity: 'every', domains: partners() } : null,
    ...(graded ? { measure, bands: [bandOf('note', { to: 4 }), bandOf('block', { from: 5 })] } : {}),
    perRecipient: false,
    endsPolicy: random.happens(0.1),
  });
}

const RULES_A_POLICY = 10;

function setWith(rules: number): PolicySet {
  const random = chance(SEED + rules);
  return setOf(
    Array.from({ length: rules / RULES_A_POLICY }, (_unused, policy) =>
      policyOf(
        `p${policy}`,
        Array.from({ length: RULES_A_POLICY }, (_rule, index) => someRule(random, `p${policy}r${index}`)),
      ),
    ),
  );
}

/** Milliseconds each side takes over all items, in turns of some hundred. */
function sideBySide(
  items: readonly Item[],
  sides: Readonly<Record<string, (item: Item) => unknown>>,
): Record<string, number> {
  const spent = Object.fromEntries(Object.keys(sides).map((name) => [name, 0]));
  for (let round = 0; round < ROUNDS; round += 1) {
    for (let from = 0; from < items.length; from += SLICE) {
      const slice = items.slice(from, from + SLICE);
      for (const [name, side] of Object.entries(sides)) {
        const started = performance.now();
        for (const item of slice) side(item);
        if (round > 0) spent[name] = (spent[name] ?? 0) + performance.now() - started;
      }
    }
  }
  return spent;
}

const perSecond = (items: number, milliseconds: number): number =>
  Math.round((items * (ROUNDS - 1) * 1_000) / milliseconds);

function growth(items: readonly Item[]) {
  const sets = [10, 100, 1_000].map((rules) => ({ rules, set: setWith(rules) }));
  const spent = sideBySide(
    items,
    Object.fromEntries(
      sets.flatMap(({ rules, set }) => {
        const judge = compilePolicies(set);
        return [
          [`judge ${rules}`, ({ movement }: Item) => judge.judge(movement)],
          [`plain ${rules}`, ({ movement }: Item) => evaluate(set, movement)],
        ];
      }),
    ),
  );
  for (const { rules } of sets) {
    const [quick = 1, plain = 1] = [spent[`judge ${rules}`], spent[`plain ${rules}`]];
    console.log(
      `${String(rules).padStart(5)} rules: ${perSecond(items.length, quick)} movements a second, ${(plain / quick).toFixed(1)} times the whole evaluation with its trace`,
    );
  }
  return { spent, growth: (spent['judge 1000'] ?? 1) / (spent['judge 10'] ?? 1) };
}

/** A replay as it runs: kept movements are text, parsed and judged by both sets; the first time texts are looked at. */
function replay(items: readonly Item[]) {
  const [published, draft] = [compilePolicies(setWith(100)), compilePolicies(setWith(100))];
  const scanner = compileScanner(READY_PATTERNS);
  const kept = new Map(items.map((item) => [item, JSON.stringify(keepMovement(item.movement))]));
  const asked = new Set([...(published.asked ?? []), ...(draft.asked ?? [])]);
  const both = (movement: InspectedMovement): unknown => [published.judge(movement), draft.judge(movement)];
  return sideBySide(items, {
    first: ({ text, movement }) => both({ ...movement, parts: partsOf(scanner.scan(text).findings) }),
    kept: (item) => both(unkeepMovement(JSON.parse(kept.get(item) ?? '') as KeptMovement, asked)),
    detection: ({ text }) => scanner.scan(text),
  });
}

const partsOf = (findings: readonly Finding[]) => mailOf(findings, []).parts;

/** Seconds that threads take for all kept movements together, each its part. */
async function threads(count: number, kept: readonly string[]): Promise<number> {
  const started = await Promise.all(
    Array.from({ length: count }, (_unused, part) => {
      const mine = kept.filter((_text, index) => index % count === part);
      const worker = new Worker(new URL(import.meta.url), { workerData: mine });
      return new Promise<{ worker: Worker; took: number }>((resolve, reject) => {
        worker.once('message', (took: number) => resolve({ worker, took }));
        worker.once('error', reject);
      });
    }),
  );
  await Promise.all(started.map(({ worker }) => worker.terminate()));
  return Math.max(...started.map(({ took }) => took));
}

/** As often as a replay of a hundred thousand movements judges. */
const JOURNALLED = 100_000;

async function main(): Promise<void> {
  const items = itemsOf(chance(SEED));
  console.log(`${items.length} mails`);
  const grown = growth(items);
  const replayed = replay(items);
  const share = (grown.spent['judge 100'] ?? 0) / (replayed['detection'] ?? 1);
  const speedup = (replayed['first'] ?? 0) / (replayed['kept'] ?? 1);
  console.log(`judging by 100 rules beside detection: ${(share * 100).toFixed(2)} % of its time`);
  console.log(
    `replay: ${perSecond(items.length, replayed['first'] ?? 1)} movements a second looked at again, ${perSecond(items.length, replayed['kept'] ?? 1)} with kept findings, ${speedup.toFixed(1)} times`,
  );
  const texts = items.map(({ movement }) => JSON.stringify(keepMovement(movement)));
  const journal = Array.from({ length: JOURNALLED }, (_unused, index) => texts[index % texts.length] ?? '');
  const one = await threads(1, journal);
  const two = await threads(2, journal);
  console.log(
    `${JOURNALLED} kept movements: ${(one / 1_000).toFixed(1)} s with one worker, ${(two / 1_000).toFixed(1)} s with two, ${(one / two).toFixed(2)} times`,
  );
  const crossed = crossings();
  console.log(
    `500 services: 5,000 flows in ${crossed.small.toFixed(0)} ms, 50,000 in ${crossed.large.toFixed(0)} ms; a service in another circle judges ${crossed.judgedAgain} again in ${crossed.again.toFixed(1)} ms`,
  );
  console.log(
    JSON.stringify({
      bench: 'policies',
      flowsGrowth: Number((crossed.large / crossed.small).toFixed(2)),
      flowsAgainSpeedup: Number((crossed.large / crossed.again).toFixed(1)),
      flowsOverTouching: Number(crossed.overTouching.toFixed(1)),
      evaluationShare: Number(share.toFixed(4)),
      growth10to1000: Number(grown.growth.toFixed(2)),
      replaySpeedup: Number(speedup.toFixed(1)),
      workers: Number((one / two).toFixed(2)),
      movementsPerSecond: perSecond(items.length, grown.spent['judge 100'] ?? 1),
      overWholeEvaluation: Number(
        ((grown.spent['plain 100'] ?? 0) / (grown.spent['judge 100'] ?? 1)).toFixed(1),
      ),
    }),
  );
}

if (isMainThread) await main();
else {
  const kept = workerData as readonly string[];
  const [published, draft] = [compilePolicies(setWith(100)), compilePolicies(setWith(100))];
  const asked = new Set([...(published.asked ?? []), ...(draft.asked ?? [])]);
  const judge = (text: string): void => {
    const movement = unkeepMovement(JSON.parse(text) as KeptMovement, asked);
    published.judge(movement);
    draft.judge(movement);
  };
  for (const text of kept.slice(0, 2_000)) judge(text);
  const started = performance.now();
  for (const text of kept) judge(text);
  parentPort?.postMessage(performance.now() - started);
}
