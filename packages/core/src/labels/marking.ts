import type { Label, LabelledHow } from './label.js';
import { MARK_FIELDS, type MarkField, type Marking } from './mark.js';
import { printedHandling } from './printed-words.js';

/** A line as it is printed. */
export interface PrintedMark extends Omit<Marking, 'text'> {
  readonly line: string;
}

/** What is recorded about the label of an item. */
export interface MarkFacts {
  readonly owner: string;
  readonly setter: string;
  /** Milliseconds since 1970, UTC. */
  readonly at: number;
  readonly how: LabelledHow;
}

const HOW: Readonly<Record<LabelledHow, string>> = {
  'by-hand': 'by hand',
  automatically: 'automatically',
  inherited: 'from its parts',
};

/** The lines of a label on one item. Braces that name no field stay, so that a slip shows. */
export function printedMarks(label: Omit<Label, 'id'>, facts: MarkFacts): PrintedMark[] {
  const values: Readonly<Record<MarkField, string>> = {
    label: label.name,
    family: label.family,
    rank: String(label.rank),
    handling: printedHandling(label.handling),
    owner: facts.owner,
    setter: facts.setter,
    date: new Date(facts.at).toISOString().slice(0, 10),
    how: HOW[facts.how],
  };
  return label.markings.map(({ text, ...rest }) => ({
    ...rest,
    line: text.replace(/\{([a-z]+)\}/g, (whole, name: string) =>
      Object.hasOwn(values, name) ? values[name as MarkField] : whole,
    ),
  }));
}

/** Names in braces that are no field, each once. */
export function unknownMarkFields(text: string): string[] {
  const names = [...text.matchAll(/\{([a-z]+)\}/g)].map((match) => match[1] ?? '');
  return [...new Set(names)].filter((name) => !MARK_FIELDS.some((field) => field === name));
}
