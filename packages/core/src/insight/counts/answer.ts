import type { Listed } from '../../incidents/filter/fields.js';
import { SEVERITIES } from '../../policy/model/answers.js';
import type { Dimension } from './axis.js';
import { Counting } from './counting.js';
import type { DeskColumns } from './desk-columns.js';
import { type CountedGroup, groupsOf } from './groups.js';
import { type PageRow, pageOf, type PageWanted } from './page.js';
import { selectKept } from './kept-rows.js';
import type { KeptStretches } from './kept-stretches.js';
import type { Looking } from './looked-at.js';
import type { Plan } from './plan.js';
import { type CountedRule, ruleFigures, type RulesWanted } from './rule-figures.js';
import { countsOf, type Largest, largest, type LargestWanted, tally, type TallyRow } from './tally.js';

/** What can be asked of the columns. */
export type CountQuestion =
  | {
      readonly kind: 'tally';
      readonly listed: Listed;
      readonly silent: boolean;
      readonly plan: Plan;
      /** Each is counted by for itself: none for the sum, one, or two together. */
      readonly by: readonly (readonly Dimension[])[];
    }
  | ({
      readonly kind: 'largest';
      readonly listed: Listed;
      readonly silent: boolean;
      readonly plan: Plan;
      /** Fields, each for itself, that have codes: not times and numbers. */
      readonly by: readonly Dimension[];
      /** Where the same values are counted as well; null for nowhere. */
      readonly earlier: Plan | null;
    } & LargestWanted)
  | {
      readonly kind: 'groups';
      readonly silent: boolean;
      readonly plan: Plan;
      readonly by: readonly Dimension[];
      readonly now: number;
      readonly limit: number;
    }
  | ({ readonly kind: 'page'; readonly silent: boolean; readonly plan: Plan } & Omit<
      PageWanted,
      'severities'
    >)
  | ({ readonly kind: 'rules' } & RulesWanted);

/** What the columns say to a question of each kind. */
export interface CountAnswers {
  readonly tally: readonly (readonly TallyRow[])[];
  readonly largest: readonly Largest[];
  readonly groups: readonly CountedGroup[];
  readonly page: readonly PageRow[];
  readonly rules: readonly CountedRule[];
}
export type CountKind = keyof CountAnswers;

/** Answers a question, out of what is kept where that is given; null where the columns do not hold what it asks for and the database has to answer. */
export function answerFrom(
  columns: DeskColumns,
  question: CountQuestion,
  kept: KeptStretches | null = null,
): CountAnswers[CountKind] | null {
  switch (question.kind) {
    case 'rules':
      return ruleFigures(columns, question);
    case 'tally': {
      const { listed, silent, plan } = question;
      const counting = Counting.of(columns, { listed, silent }, plan, kept);
      if (!counting) return null;
      const found = question.by.map((dimensions) => tally(counting, dimensions));
      return found.every((rows) => rows !== null) ? found : null;
    }
    case 'largest':
      return largestOf(columns, question, kept);
    case 'groups': {
      const asked = { looking: incidentsFor(question), plan: question.plan };
      return groupsOf(columns, asked, { ...question, severities: SEVERITIES }, kept);
    }
    case 'page': {
      const selection = selectKept(columns, { looking: incidentsFor(question), plan: question.plan }, kept);
      return selection && pageOf(columns, selection, { ...question, severities: SEVERITIES });
    }
  }
}

const incidentsFor = ({ silent }: { readonly silent: boolean }): Looking => ({
  listed: 'incidents',
  silent,
});

function largestOf(
  columns: DeskColumns,
  question: Extract<CountQuestion, { readonly kind: 'largest' }>,
  kept: KeptStretches | null,
): Largest[] | null {
  const { listed, silent, plan, earlier } = question;
  const counting = Counting.of(columns, { listed, silent }, plan, kept);
  if (!counting) return null;
  const all = question.by.map((dimension) => largest(counting, dimension, question));
  if (!all.every((one) => one !== null)) return null;
  if (!earlier) return all.map(({ found }) => ({ ...found, before: [] }));
  const before = Counting.of(columns, { listed, silent }, earlier, kept);
  return (
    before &&
    all.map(({ keys, found }, at) => {
      const dimension = question.by[at];
      return { ...found, before: dimension ? countsOf(before, dimension, keys) : [] };
    })
  );
}
