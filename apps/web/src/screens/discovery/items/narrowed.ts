import { ITEM_FIELD_TABLE, type ItemField } from '@lantern/core/discovery';
import { allOf, parseFilterOver, printFilter } from '@lantern/core/incidents';

/** The filter and the lines of a group, as one line. */
export function narrowed(filter: string, values: readonly { readonly line: string }[]): string {
  const parts = [filter, ...values.map(({ line }) => line)].flatMap((line) => {
    const parsed = parseFilterOver(ITEM_FIELD_TABLE, line);
    return line.trim() !== '' && parsed.status === 'read' ? [parsed.filter] : [];
  });
  return printFilter(allOf<ItemField>(parts));
}
