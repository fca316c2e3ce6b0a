import { NO_RULE_FIGURES, type RuleFigures } from '../rules/rule-cost.js';
import type { Codes } from './codes.js';
import { type DeskColumns, MATCH_SHIFTS, SAID } from './desk-columns.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type Selection, select } from './select.js';
import { Minutes, Pairs } from './rule-sums.js';

/** How long the next movement of the same person against the same rule counts as a repeat after an advice. */
export const REPEAT_MS = 7 * 86_400_000;

/** Figures of one rule, and the median of whole minutes until its incidents were decided; null for none decided. */
export interface CountedRule {
  readonly rule: string;
  readonly policy: string;
  readonly figures: RuleFigures;
  readonly minutes: number | null;
}

export interface RulesWanted {
  readonly plan: Plan;
  readonly from: number;
  readonly to: number;
  readonly now: number;
  readonly silent: boolean;
}

type Changing = { -readonly [Name in keyof RuleFigures]: number };

/** Figures of each rule with a match in a period; null where these columns cannot answer the plan. */
export function ruleFigures(columns: DeskColumns, wanted: RulesWanted): CountedRule[] | null {
  const looking: Looking = { listed: 'matches', silent: wanted.silent };
  const during = (to: number): Plan => ({
    kind: 'and',
    parts: [
      { kind: 'order', field: 'time', operator: 'ge', value: wanted.from },
      { kind: 'order', field: 'time', operator: 'lt', value: to },
      wanted.plan,
    ],
  });
  // A week more: what an advice of the last day was followed by.
  const selection = select(columns, looking, during(wanted.to + REPEAT_MS));
  const rules = columns.matchValues.column('rule').codes;
  const policies = columns.matchValues.column('policy').codes;
  if (!selection || !rules || !policies) return null;
  const found = matchesOf(columns, selection, wanted);
  const minutes = found.minutes.medians();
  return found.policies.flatMap((policy, rule) => ({
    rule: rules.textOf(rule) ?? '',
    policy: policies.textOf(policy) ?? '',
    figures: figuresOf(columns, found, rule),
    minutes: minutes.get(rule) ?? null,
  }));
}

/** Matches of each rule, by the code of the rule. */
interface Found {
  /** Code of the policy of each rule with a match. */
  readonly policies: number[];
  /** How many matches there are of each kind of a rule: answer, outcome, reduced or not, own test or not. */
  readonly kinds: Uint32Array;
  /** How many incidents there are by what was said about them, each once a rule. */
  readonly said: Uint32Array;
  /** How many people each rule concerned. */
  readonly people: Uint32Array;
  readonly minutes: Minutes;
  /** Advices whose week is over or that were followed by the same person tripping the same rule within it, and the latter. */
  readonly known: Uint32Array;
  readonly repeated: Uint32Array;
}

const SAYINGS = 1 << SAID.length;
const REDUCED = 2;
const TEST = 1;

const code = (codes: Codes | null, text: string): number => codes?.find(text) ?? -1;
const sizeOf = (codes: Codes | null): number => codes?.size ?? 1;

/** How many outcomes there are with none, and how many kinds of matches. */
function sizesOf({ incidents, matchValues }: DeskColumns) {
  const outcomes = sizeOf(incidents.column('outcome').codes);
  return { outcomes, kindsOfRule: sizeOf(matchValues.column('answer').codes) * outcomes * 4 };
}

/** The columns that figures of rules are read from, and the codes that they turn on. */
function readFrom(columns: DeskColumns) {
  const { incidents, matchValues, matches, said } = columns;
  const [person, test] = [incidents.column('person'), incidents.column('test')];
  const answers = matchValues.column('answer').codes;
  return {
    ...{ said, data: matches.data, time: incidents.column('time').data, people: person.data },
    ...{ tests: test.data, isTest: code(test.codes, '1'), outcome: incidents.column('outcome').data },
    ...{ note: code(answers, 'note'), advise: code(answers, 'advise') },
    ceiling: code(matchValues.column('reducedBy').codes, 'ceiling'),
    rules: sizeOf(matchValues.column('rule').codes),
    ...sizesOf(columns),
    persons: sizeOf(person.codes),
  };
}

/** Goes through all matches once, in the order of their times: each step is as short as can be, since there are many. */
function matchesOf(columns: DeskColumns, { rows, matches }: Selection, { to, now }: RulesWanted): Found {
  const from = readFrom(columns);
  const { said, data, time, people, tests, isTest, outcome, note, advise, ceiling, rules } = from;
  const { outcomes, kindsOfRule } = from;
  const [kinds, saidOf] = [new Uint32Array(rules * kindsOfRule), new Uint32Array(rules * SAYINGS)];
  const [known, repeated, policies] = [new Uint32Array(rules), new Uint32Array(rules), [] as number[]];
  const minutes = new Minutes(columns, rows.length);
  const pairs = new Pairs(rules, from.persons, rows.length);
  const { width } = pairs;
  const lastRow = new Int32Array(rules).fill(-1);
  const order = inOrder(columns, rows);
  for (let step = 0; step < rows.length; step += 1) {
    const at = order ? (order[step] ?? 0) : step;
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    const rule = data[match + 1] ?? 0;
    if (rule === 0) continue;
    const when = time[row] ?? 0;
    const packed = data[match + 2] ?? 0;
    const answer = packed & 0xff;
    const isOwn = tests[row] === isTest;
    const pair =
      width > 0 ? rule * width + (people[row] ?? 0) : isOwn ? 0 : pairs.placeOf(rule, people[row] ?? 0);
    if (!isOwn) {
      const before = pairs.adviceTo(pair, rule);
      const isAdvice = answer === advise && when < to;
      if (before > 0) {
        const isAgain = when <= before + REPEAT_MS;
        if (isAgain) repeated[rule] = (repeated[rule] ?? 0) + 1;
        if (isAgain || before < now - REPEAT_MS) known[rule] = (known[rule] ?? 0) + 1;
        pairs.advise(pair, rule, isAdvice ? when : 0);
      } else if (isAdvice) pairs.advise(pair, rule, when);
    }
    if (when >= to) continue;
    policies[rule] = data[match] ?? 0;
    const reduced = packed >>> MATCH_SHIFTS.reducedBy === ceiling ? REDUCED : 0;
    const choices = answer * outcomes + (outcome[row] ?? 0);
    const kind = rule * kindsOfRule + choices * 4 + reduced + (isOwn ? TEST : 0);
    kinds[kind] = (kinds[kind] ?? 0) + 1;
    if (isOwn) continue;
    if (answer !== note) pairs.concerns(pair, rule);
    minutes.note(rule, row);
    // What is said about an incident counts once a rule. Matches of one incident follow each other.
    const saying = said[row] ?? 0;
    if (saying > 0 && lastRow[rule] !== row) {
      const place = rule * SAYINGS + saying;
      saidOf[place] = (saidOf[place] ?? 0) + 1;
    }
    lastRow[rule] = row;
  }
  // Advices that nothing followed count once their week is over.
  pairs.end(now - REPEAT_MS, known);
  return { policies, kinds, said: saidOf, people: pairs.people, minutes, known, repeated };
}

/** The figures of a rule from how many matches of each kind it has. */
function figuresOf(columns: DeskColumns, found: Found, rule: number): RuleFigures {
  const { kinds, said } = found;
  const figures: Changing = {
    ...NO_RULE_FIGURES,
    people: found.people[rule] ?? 0,
    advicesKnown: found.known[rule] ?? 0,
    repeatedAfterAdvice: found.repeated[rule] ?? 0,
  };
  const answers = columns.matchValues.column('answer').codes;
  const outcomes = columns.incidents.column('outcome').codes;
  const sizes = sizesOf(columns);
  for (let kind = 0; kind < sizes.kindsOfRule; kind += 1) {
    const count = kinds[rule * sizes.kindsOfRule + kind] ?? 0;
    if (count === 0) continue;
    if ((kind & TEST) !== 0) {
      figures.tests += count;
      continue;
    }
    figures.matches += count;
    if ((kind & REDUCED) !== 0) figures.reduced += count;
    const choices = Math.floor(kind / 4);
    const answer = answers?.textOf(Math.floor(choices / sizes.outcomes)) ?? '';
    const outcome = outcomes?.textOf(choices % sizes.outcomes) ?? '';
    const answered = ANSWERED[answer];
    if (answered) figures[answered] += count;
    const decided = DECIDED[outcome];
    if (!decided) continue;
    figures.decided += count;
    figures[decided] += count;
    if (outcome === 'harm' && STOPPING.has(answer)) figures.harmStopped += count;
  }
  for (let saying = 1; saying < SAYINGS; saying += 1)
    for (const [bit, [, , name]] of SAID.entries())
      if ((saying & (1 << bit)) !== 0) figures[name] += said[rule * SAYINGS + saying] ?? 0;
  return figures;
}

const ANSWERED: Readonly<Record<string, keyof RuleFigures>> = {
  advise: 'advised',
  ask: 'asked',
  hold: 'held',
  block: 'blocked',
};
const STOPPING: ReadonlySet<string> = new Set(['ask', 'hold', 'block']);
const DECIDED: Readonly<Record<string, keyof RuleFigures>> = {
  'false-positive': 'falsePositives',
  allowed: 'allowed',
  harm: 'harm',
};

/** Places in the order of the times of their rows, those at one time by number; null where they stand so. */
function inOrder(columns: DeskColumns, rows: Uint32Array): readonly number[] | null {
  const time = columns.incidents.column('time').data;
  const number = columns.incidents.column('number').data;
  if (isInOrder(rows, time, number)) return null;
  const compared = (one: number, other: number): number =>
    (time[one] ?? 0) - (time[other] ?? 0) || (number[one] ?? 0) - (number[other] ?? 0);
  // Sorting an array takes long runs that are in order as they are; sorting a typed one does not.
  return Array.from(rows, (_, at) => at).sort((one, other) => compared(rows[one] ?? 0, rows[other] ?? 0));
}

function isInOrder(rows: Uint32Array, time: ArrayLike<number>, number: ArrayLike<number>): boolean {
  let before = -1;
  let timeBefore = -Infinity;
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    if (row === before) continue;
    const when = time[row] ?? 0;
    if (when < timeBefore) return false;
    if (when === timeBefore && (number[before] ?? 0) > (number[row] ?? 0)) return false;
    before = row;
    timeBefore = when;
  }
  return true;
}
