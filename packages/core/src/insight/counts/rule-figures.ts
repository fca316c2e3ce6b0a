import { NO_RULE_FIGURES, type RuleFigures } from '../rules/rule-cost.js';
import type { Codes } from './codes.js';
import { type DeskColumns, MATCH_SHIFTS, SAID } from './desk-columns.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type Selection, select } from './select.js';
import { beginsInOrder } from './in-order.js';
import { Minutes, Pairs, REPEAT_MS } from './rule-sums.js';

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
  const policies: number[] = [];
  const minutes = new Minutes(columns, rows.length);
  const pairs = new Pairs({ rules, people: from.persons, most: rows.length }, now - REPEAT_MS);
  const { width } = pairs;
  const lastRow = new Int32Array(rules).fill(-1);
  const begins = beginsInOrder(columns, rows);
  for (let step = 0; step < begins.length; step += 1) {
    const begin = begins[step] ?? 0;
    const row = rows[begin] ?? 0;
    const [when, person] = [time[row] ?? 0, people[row] ?? 0];
    const isOwn = tests[row] === isTest;
    const [decided, saying] = [outcome[row] ?? 0, said[row] ?? 0];
    for (let at = begin; at < rows.length && rows[at] === row; at += 1) {
      const match = matches?.[at] ?? 0;
      const rule = data[match + 1] ?? 0;
      if (rule === 0) continue;
      const packed = data[match + 2] ?? 0;
      const answer = packed & 0xff;
      const pair = width > 0 ? rule * width + person : isOwn ? 0 : pairs.placeOf(rule, person);
      if (!isOwn) pairs.follow(pair, rule, when, answer === advise && when < to);
      if (when >= to) continue;
      policies[rule] = data[match] ?? 0;
      const reduced = packed >>> MATCH_SHIFTS.reducedBy === ceiling ? REDUCED : 0;
      const choices = answer * outcomes + decided;
      const kind = rule * kindsOfRule + choices * 4 + reduced + (isOwn ? TEST : 0);
      kinds[kind] = (kinds[kind] ?? 0) + 1;
      if (isOwn) continue;
      if (answer !== note) pairs.concerns(pair, rule);
      minutes.note(rule, row);
      // What is said about an incident counts once a rule. Matches of one incident follow each other.
      if (saying > 0 && lastRow[rule] !== row) {
        const place = rule * SAYINGS + saying;
        saidOf[place] = (saidOf[place] ?? 0) + 1;
      }
      lastRow[rule] = row;
    }
  }
  // Advices that nothing followed count once their week is over.
  pairs.end();
  const { people: concerned, known, repeated } = pairs;
  return { policies, kinds, said: saidOf, people: concerned, minutes, known, repeated };
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
