import type { Listed } from '../../incidents/filter/fields.js';
import { SEVERITIES } from '../../policy/model/answers.js';
import type { DeskColumns } from './desk-columns.js';
import { type CountedGroup, groupsOf } from './groups.js';
import { type PageRow, pageOf, type PageWanted } from './page.js';
import type { Plan } from './plan.js';
import { type CountedRule, ruleFigures, type RulesWanted } from './rule-figures.js';
import { type Selection, select } from './select.js';
import {
  countsOf,
  type Dimension,
  type Largest,
  largest,
  type LargestWanted,
  tally,
  type TallyRow,
} from './tally.js';

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

/** Answers a question; null where the columns do not hold what it asks for and the database has to answer. */
export function answerFrom(columns: DeskColumns, question: CountQuestion): CountAnswers[CountKind] | null {
  if (question.kind === 'rules') return ruleFigures(columns, question);
  const listed = 'listed' in question ? question.listed : 'incidents';
  const selection = select(columns, { listed, silent: question.silent }, question.plan);
  if (!selection) return null;
  switch (question.kind) {
    case 'tally': {
      const found = question.by.map((dimensions) => tally(columns, selection, dimensions));
      return found.every((rows) => rows !== null) ? found : null;
    }
    case 'largest':
      return largestOf(columns, selection, question);
    case 'groups':
      return groupsOf(columns, selection, { ...question, severities: SEVERITIES });
    case 'page':
      return pageOf(columns, selection, { ...question, severities: SEVERITIES });
  }
}

function largestOf(
  columns: DeskColumns,
  selection: Selection,
  question: Extract<CountQuestion, { readonly kind: 'largest' }>,
): Largest[] | null {
  const all = question.by.map((dimension) => largest(columns, selection, dimension, question));
  if (!all.every((one) => one !== null)) return null;
  if (!question.earlier) return all.map(({ found }) => ({ ...found, before: [] }));
  const before = select(columns, selection.looking, question.earlier);
  return (
    before &&
    all.map(({ keys, found }, at) => {
      const dimension = question.by[at];
      return { ...found, before: dimension ? countsOf(columns, before, dimension, keys) : [] };
    })
  );
}
