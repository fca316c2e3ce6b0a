import type { RecordPreview } from '@lantern/contracts';
import { type ColumnKind, MAX_OTHER_COLUMNS } from '@lantern/core/detection';

/** What each column of a file is used for. */
export interface ColumnChoice {
  readonly use: 'key' | 'beside' | 'left out';
  readonly kind: ColumnKind;
}

/** A first proposal: the best key, and beside it what tells records apart. */
export function proposed({ columns }: RecordPreview): ColumnChoice[] {
  const keys = columns.map((column, index) => ({ column, index })).filter(({ column }) => column.mayBeKey);
  // A number of the organisation's own is a better key than an address that people use everywhere.
  const key = keys.find(({ column }) => column.kind === 'number') ?? keys[0];
  let beside = 0;
  return columns.map(({ kind, filled }, index) => {
    if (index === key?.index) return { use: 'key', kind };
    if (filled === 0 || beside >= MAX_OTHER_COLUMNS) return { use: 'left out', kind };
    beside += 1;
    return { use: 'beside', kind };
  });
}

/** Columns by their use, or what is wrong with the choice. */
export function readChoices(choices: readonly ColumnChoice[]):
  | {
      readonly status: 'read';
      readonly key: { column: number; kind: ColumnKind };
      readonly others: { column: number; kind: ColumnKind }[];
    }
  | { readonly status: 'wrong'; readonly sentence: string } {
  const by = (use: ColumnChoice['use']) =>
    choices.flatMap((choice, column) => (choice.use === use ? [{ column, kind: choice.kind }] : []));
  const [key, another] = by('key');
  const others = by('beside');
  if (!key) return { status: 'wrong', sentence: 'Choose the key column.' };
  if (another) return { status: 'wrong', sentence: 'Only one column can be the key.' };
  if (key.kind !== 'number' && key.kind !== 'mail' && key.kind !== 'phone')
    return {
      status: 'wrong',
      sentence:
        'A key must be a number, a mail address or a telephone number. Names and dates are too common.',
    };
  if (others.length === 0)
    return { status: 'wrong', sentence: 'Choose at least one column that must appear near the key.' };
  if (others.length > MAX_OTHER_COLUMNS)
    return { status: 'wrong', sentence: `At most ${MAX_OTHER_COLUMNS} columns can be used beside the key.` };
  return { status: 'read', key, others };
}
