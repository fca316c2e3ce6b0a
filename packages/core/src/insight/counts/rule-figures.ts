import { NO_RULE_FIGURES, type RuleFigures } from '../rules/rule-cost.js';
import type { Codes } from './codes.js';
import { type DeskColumns, MATCH_SHIFTS, SAID } from './desk-columns.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type Selection, select } from './select.js';
import { LastTimes, Marks, Minutes } from './rule-sums.js';

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
  const repeats = repeatsOf(columns, selection, wanted);
  const minutes = found.minutes.medians();
  return found.policies.flatMap((policy, rule) => ({
    rule: rules.textOf(rule) ?? '',
    policy: policies.textOf(policy) ?? '',
    figures: { ...figuresOf(columns, found, rule), ...repeats.get(rule) },
    minutes: minutes.get(rule) ?? null,
  }));
}

/** Matches of each rule, by the code of the rule. */
interface Found {
  /** Code of the policy of each rule with a match. */
  readonly policies: number[];
  /** How many matches there are of each kind: answer, outcome, reduced or not, own test or not. */
  readonly kinds: Uint32Array;
  /** How many incidents there are by what was said about them, each once a rule. */
  readonly said: Uint32Array;
  readonly people: Marks;
  readonly minutes: Minutes;
}

/** Codes of answers and of outcomes stay below this. */
const CHOICES = 16;
const KINDS = CHOICES * CHOICES * 4;
const SAYINGS = 1 << SAID.length;
const REDUCED = 2;
const TEST = 1;

const code = (codes: Codes | null, text: string): number => codes?.find(text) ?? -1;
const sizeOf = (codes: Codes | null): number => codes?.size ?? 1;

function matchesOf(columns: DeskColumns, { rows, matches }: Selection, { to }: RulesWanted): Found {
  const { incidents, matchValues, said } = columns;
  const { data } = columns.matches;
  const [time, person] = [incidents.column('time').data, incidents.column('person')];
  const [test, outcome] = [incidents.column('test'), incidents.column('outcome').data];
  const isTest = code(test.codes, '1');
  const note = code(matchValues.column('answer').codes, 'note');
  const ceiling = code(matchValues.column('reducedBy').codes, 'ceiling');
  const ruleCount = sizeOf(matchValues.column('rule').codes);
  const found: Found = {
    policies: [],
    kinds: new Uint32Array(ruleCount * KINDS),
    said: new Uint32Array(ruleCount * SAYINGS),
    people: new Marks(ruleCount, sizeOf(person.codes)),
    minutes: new Minutes(columns, rows.length),
  };
  const lastRow = new Int32Array(ruleCount).fill(-1);
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    const rule = data[match + 1] ?? 0;
    if (rule === 0 || (time[row] ?? 0) >= to) continue;
    found.policies[rule] = data[match] ?? 0;
    const packed = data[match + 2] ?? 0;
    const answer = packed & 0xff;
    const own = test.data[row] === isTest ? TEST : 0;
    const reduced = packed >>> MATCH_SHIFTS.reducedBy === ceiling ? REDUCED : 0;
    const kind = rule * KINDS + (answer * CHOICES + (outcome[row] ?? 0)) * 4 + reduced + own;
    found.kinds[kind] = (found.kinds[kind] ?? 0) + 1;
    if (own === TEST) continue;
    if (answer !== note) found.people.mark(rule, person.data[row] ?? 0);
    found.minutes.note(rule, row);
    // What is said about an incident counts once a rule. Matches of one incident follow each other.
    const saying = said[row] ?? 0;
    if (saying > 0 && lastRow[rule] !== row) {
      const place = rule * SAYINGS + saying;
      found.said[place] = (found.said[place] ?? 0) + 1;
    }
    lastRow[rule] = row;
  }
  return found;
}

/** The figures of a rule from how many matches of each kind it has. */
function figuresOf(columns: DeskColumns, { kinds, said, people }: Found, rule: number): RuleFigures {
  const figures: Changing = { ...NO_RULE_FIGURES, people: people.count(rule) };
  const answers = columns.matchValues.column('answer').codes;
  const outcomes = columns.incidents.column('outcome').codes;
  for (let kind = 0; kind < KINDS; kind += 1) {
    const count = kinds[rule * KINDS + kind] ?? 0;
    if (count === 0) continue;
    if ((kind & TEST) !== 0) {
      figures.tests += count;
      continue;
    }
    figures.matches += count;
    if ((kind & REDUCED) !== 0) figures.reduced += count;
    const choices = Math.floor(kind / 4);
    const answer = answers?.textOf(Math.floor(choices / CHOICES)) ?? '';
    const outcome = outcomes?.textOf(choices % CHOICES) ?? '';
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

/** Advices that were followed by the same person tripping the same rule within a week, of those whose week is over. */
function repeatsOf(
  columns: DeskColumns,
  { rows, matches }: Selection,
  { to, now }: RulesWanted,
): Map<number, Pick<RuleFigures, 'advicesKnown' | 'repeatedAfterAdvice'>> {
  const { data } = columns.matches;
  const column = (name: 'time' | 'person' | 'test') => columns.incidents.column(name);
  const [time, person] = [column('time').data, column('person').data];
  const isTest = code(column('test').codes, '1');
  const tests = column('test').data;
  const advise = code(columns.matchValues.column('answer').codes, 'advise');
  const rules = sizeOf(columns.matchValues.column('rule').codes);
  /** Time of the last match of a rule and person where it was an advice of the period. */
  const last = new LastTimes(rules, sizeOf(column('person').codes));
  const [known, repeated] = [new Uint32Array(rules), new Uint32Array(rules)];
  const settle = (rule: number, adviceAt: number, next: number) => {
    const again = next <= adviceAt + REPEAT_MS;
    if (again) repeated[rule] = (repeated[rule] ?? 0) + 1;
    if (again || adviceAt < now - REPEAT_MS) known[rule] = (known[rule] ?? 0) + 1;
  };
  const order = inOrder(columns, rows);
  for (let place = 0; place < rows.length; place += 1) {
    const at = order ? (order[place] ?? 0) : place;
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    const rule = data[match + 1] ?? 0;
    if (rule === 0 || tests[row] === isTest) continue;
    const when = time[row] ?? 0;
    const isAdvice = when < to && ((data[match + 2] ?? 0) & 0xff) === advise;
    const before = last.swap(rule, person[row] ?? 0, isAdvice ? when : 0);
    if (before > 0) settle(rule, before, when);
  }
  last.each((rule, adviceAt) => settle(rule, adviceAt, Infinity));
  return new Map(
    Array.from(known, (advicesKnown, rule) => [
      rule,
      { advicesKnown, repeatedAfterAdvice: repeated[rule] ?? 0 },
    ]),
  );
}

/** Places in the order of the times of their rows, those at one time by number; null where they stand so. */
function inOrder(columns: DeskColumns, rows: Uint32Array): readonly number[] | null {
  const time = columns.incidents.column('time').data;
  const number = columns.incidents.column('number').data;
  const compared = (one: number, other: number): number =>
    (time[one] ?? 0) - (time[other] ?? 0) || (number[one] ?? 0) - (number[other] ?? 0);
  let isSorted = true;
  for (let at = 1; at < rows.length && isSorted; at += 1)
    isSorted = compared(rows[at - 1] ?? 0, rows[at] ?? 0) <= 0;
  if (isSorted) return null;
  // Sorting an array takes long runs that are in order as they are; sorting a typed one does not.
  return Array.from(rows, (_, at) => at).sort((one, other) => compared(rows[one] ?? 0, rows[other] ?? 0));
}
