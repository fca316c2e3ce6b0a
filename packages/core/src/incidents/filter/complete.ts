import { type FieldName, type FieldTable, FILTER_FIELDS, operatorsFor } from './fields.js';
import { tokensOf } from './tokens.js';

/** What can be written at a place of a filter line. */
export interface FilterCompletion<Name extends string = FieldName> {
  /** The part of the line that a choice replaces, in UTF-16 units. */
  readonly from: number;
  readonly to: number;
  readonly options: readonly string[];
  /** The field whose values belong there; null where none do. */
  readonly valuesOf: Name | null;
  /** What was begun, without quotation marks. */
  readonly begun: string;
}

type Expects = 'term' | 'operator' | 'value' | 'joiner';

/** Completions for a line with the cursor at `cursor`. Works on lines that are not finished yet. */
export function completeFilter(line: string, cursor: number): FilterCompletion {
  return completeFilterOver(FILTER_FIELDS, line, cursor);
}

/** The same over the fields of another list. */
export function completeFilterOver<Name extends string>(
  fields: FieldTable<Name>,
  line: string,
  cursor: number,
): FilterCompletion<Name> {
  const tokens = tokensOf(line.slice(0, cursor));
  const last = tokens.at(-1);
  // A word that touches the cursor is still being written; a closed text or parenthesis is not.
  const writes =
    last !== undefined &&
    last.at + last.text.length === cursor &&
    (last.kind === 'word' || last.kind === 'other' || last.kind === 'broken-text');
  const begun = writes && last ? last.text.replace(/^"/u, '') : '';
  const { expects, field } = stateAfter(fields, writes ? tokens.slice(0, -1) : tokens);
  const options = optionsFor(fields, expects, field).filter((option) =>
    option.replace(/^"/u, '').toLowerCase().startsWith(begun.toLowerCase()),
  );
  return {
    from: writes && last ? last.at : cursor,
    to: cursor,
    options,
    valuesOf: expects === 'value' && field && !fields[field].choices ? field : null,
    begun,
  };
}

function stateAfter<Name extends string>(
  fields: FieldTable<Name>,
  tokens: ReturnType<typeof tokensOf>,
): { expects: Expects; field: Name | null } {
  const names = Object.keys(fields) as Name[];
  let expects: Expects = 'term';
  let field: Name | null = null;
  for (const { kind, text } of tokens) {
    const word = text.toLowerCase();
    if (kind === 'open') expects = 'term';
    else if (kind === 'close') expects = 'joiner';
    else if (expects === 'term') {
      if (word === 'not') continue;
      field = names.find((name) => name.toLowerCase() === word) ?? null;
      expects = 'operator';
    } else if (expects === 'operator') expects = word === 'pr' ? 'joiner' : 'value';
    else expects = expects === 'value' ? 'joiner' : 'term';
  }
  return { expects, field };
}

function optionsFor<Name extends string>(
  fields: FieldTable<Name>,
  expects: Expects,
  field: Name | null,
): readonly string[] {
  switch (expects) {
    case 'term':
      return [...Object.keys(fields), 'not ('];
    case 'operator':
      return field ? operatorsFor(fields[field]) : [];
    case 'joiner':
      return ['and', 'or'];
    case 'value': {
      const { kind, choices } = field ? fields[field] : { kind: 'words', choices: undefined };
      if (choices) return choices.map((choice) => `"${choice}"`);
      if (kind === 'yes-no') return ['true', 'false'];
      return kind === 'time' ? ['"1 day ago"', '"7 days ago"', '"10 days ago"', '"4 weeks ago"'] : [];
    }
  }
}
