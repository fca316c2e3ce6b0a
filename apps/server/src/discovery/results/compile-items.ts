import { type CompareOperator, type Filter, type FilterValue } from '@lantern/core/incidents';
import { ITEM_FIELD_TABLE, type ItemField } from '@lantern/core/discovery';
import type { DiscoveryNames } from '../discovery-names.service.js';
import type { Sql } from '../../platform/database/sql.js';
import { idsOf, oneOf, testOf } from '../../incidents/queue/compile-filter.js';
import { likeAnywhere } from '../../platform/database/like.js';

/** Tables of a list of items: i and its place p, which is always there; read in this order, so that the order of items counts. */
export const ITEM_TABLES = 'discovery_item i LEFT JOIN discovery_place p ON p.id = i.placeId';

const COLUMNS: Readonly<Partial<Record<ItemField, string>>> = {
  place: 'p.name',
  store: 'p.store',
  path: 'i.path',
  ending: 'i.ending',
  bytes: 'i.bytes',
  changed: 'i.changedAt',
  owner: 'i.owner',
  certainty: 'i.certainty',
  count: 'i.total',
  label: 'i.labelId',
  suggested: 'i.suggested',
  reach: 'i.reach',
  sensitive: 'i.isSensitive',
  misplaced: 'i.misplaced',
  state: 'i.state',
  reason: 'i.reason',
  quarantined: 'i.quarantined',
  read: 'i.readAt',
  copies: 'IF(i.digest IS NULL, 1, (SELECT COUNT(*) FROM discovery_item c WHERE c.digest = i.digest))',
};

/** The condition of a filter over items in SQL. Values never stand in the text. */
export function compileItems(
  filter: Filter<ItemField>,
  names: Pick<DiscoveryNames, 'idsWhere'>,
  now: Date,
): Sql {
  switch (filter.kind) {
    case 'and':
    case 'or': {
      if (filter.parts.length === 0) return { sql: filter.kind === 'and' ? 'TRUE' : 'FALSE', values: [] };
      const parts = filter.parts.map((part) => compileItems(part, names, now));
      return {
        sql: `(${parts.map(({ sql }) => sql).join(filter.kind === 'and' ? ' AND ' : ' OR ')})`,
        values: parts.flatMap(({ values }) => values),
      };
    }
    case 'not':
      return negated(compileItems(filter.part, names, now));
    case 'present': {
      const column = COLUMNS[filter.field];
      if (column) return { sql: `(${column} IS NOT NULL AND ${column} <> '')`, values: [] };
      return inFound({ sql: 'TRUE', values: [] });
    }
    case 'compare': {
      const { field, operator, value } = filter;
      if (operator === 'ne') return negated(compare(field, 'eq', value, { names, now }));
      return compare(field, operator, value, { names, now });
    }
  }
}

/** A missing value fails a test and passes its negation. */
const negated = ({ sql, values }: Sql): Sql => ({ sql: `(${sql}) IS NOT TRUE`, values });

function compare(
  field: ItemField,
  operator: CompareOperator,
  value: FilterValue,
  { names, now }: { readonly names: Pick<DiscoveryNames, 'idsWhere'>; readonly now: Date },
): Sql {
  if (field === 'any') {
    const like = likeAnywhere(String(value).trim());
    return { sql: '(i.path LIKE ? OR i.owner LIKE ? OR p.name LIKE ?)', values: [like, like, like] };
  }
  const { named } = ITEM_FIELD_TABLE[field];
  const column = COLUMNS[field];
  if (named) {
    const test = oneOf(column ?? 'f.pattern', idsOf(named, operator, value, names));
    return column ? test : inFound(test);
  }
  return testOf(ITEM_FIELD_TABLE[field], operator, value, now)(column ?? 'FALSE');
}

const inFound = ({ sql, values }: Sql): Sql => ({
  sql: `EXISTS (SELECT 1 FROM discovery_found f WHERE f.itemId = i.id AND ${sql})`,
  values,
});
