import {
  type CommonValue,
  type FieldValue,
  type GroupPage,
  type GroupRow,
  type GroupsQuery,
  type IncidentPage,
  type ListCounts,
  type ListedQuery,
  type ListOrder,
  type ListQuery,
  MAX_GROUPS,
  MAX_LISTED_VALUES,
  MAX_PAGE,
  type MatchPage,
  type MovementPage,
  type OrderField,
  type ValuesQuery,
} from '@lantern/contracts';
import {
  allOf,
  chipOf,
  conjunctsOf,
  type FieldName,
  fieldOf,
  type Filter,
  LISTED,
  parseFilter,
} from '@lantern/core/incidents';
import type { CountedGroup } from '@lantern/core/insight';
import { SEVERITIES } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Sight } from '../../platform/auth/sight.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { RowCounts } from '../counts/row-counts.service.js';
import { KnownNames } from '../known-names.service.js';
import { columnOf, ID_OF, isListedByValue, type Looking } from './columns.js';
import { badFilter } from './bad-filter.js';
import type { Sql } from '../../platform/database/sql.js';
import { type FilterContext, namesAreHidden, namesPeople, whereOf } from './compile-filter.js';
import { hidesNames } from '../../platform/auth/sight.js';
import { incidentRows, matchRows, movementRows, type Source } from './rows.js';

/** Where a page ended: what the last row is ordered by, and its id. */
interface Cursor {
  readonly key: unknown;
  readonly id: unknown;
}

const USUAL_ORDER = '-urgency';
/** Orders that columns in memory hold. */
const COLUMN_ORDERS = ['urgency', 'severity', 'time', 'number', 'due'] as const;
/** Rows of a page where nothing else is asked for. */
const USUAL_PAGE = 100;
/** Share of incidents from which a value is called common. */
const COMMON_SHARE = 0.8;
const COMMON_FIELDS: readonly FieldName[] = [
  ...(['policy', 'rule', 'pattern', 'channel', 'person', 'department', 'domain', 'machine'] as const),
  ...(['file', 'fileKind', 'answer', 'severity', 'network', 'assignee', 'outcome'] as const),
];

/** Expressions that lists are ordered by, beside the columns of the same field. */
const ORDER_COLUMNS: Partial<Record<OrderField, FieldName>> = { person: 'name' };

/** Lists of incidents, matches and movements under one filter: pages, counts, values and groups. */
@Injectable()
export class Queue {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly names: KnownNames,
    private readonly rowCounts: RowCounts,
  ) {}

  /** Reads a filter line; throws `bad-filter` with what is wrong and where. */
  read(line: string | undefined): Filter {
    const parsed = parseFilter(line ?? '');
    if (parsed.status === 'read') return parsed.filter;
    throw badFilter(parsed.fault);
  }

  async incidents(query: ListQuery, sight: Sight, now = new Date()): Promise<IncidentPage> {
    const { ids, next } = await this.page({ listed: 'incidents', sight, now }, query);
    return { rows: await incidentRows(this.source, ids.map(Number), sight, now), next };
  }

  async matches(query: ListQuery, sight: Sight, now = new Date()): Promise<MatchPage> {
    const { ids, next } = await this.page({ listed: 'matches', sight, now }, query);
    return { rows: await matchRows(this.source, ids.map(String), this.names), next };
  }

  async movements(query: ListQuery, sight: Sight, now = new Date()): Promise<MovementPage> {
    const { ids, next } = await this.page({ listed: 'movements', sight, now }, query);
    return { rows: await movementRows(this.source, ids.map(String), sight), next };
  }

  async counts(line: string | undefined, sight: Sight, now = new Date()): Promise<ListCounts> {
    const filter = this.read(line);
    const [incidents = 0, matches = 0, movements = 0] = await Promise.all(
      LISTED.map((listed) => this.rowCounts.count(filter, { listed, sight, now })),
    );
    return { incidents, matches, movements };
  }

  /** Numbers of all incidents under a filter, in the order of their numbers, `limit` at most. */
  async numbers(filter: Filter, sight: Sight, limit: number, now = new Date()): Promise<number[]> {
    const where = whereOf(filter, { listed: 'incidents', sight, now }, this.context);
    const rows = await this.rows<{ number: number }>({
      sql: `SELECT i.number AS number FROM ${where.sql} ORDER BY i.number LIMIT ?`,
      values: [...where.values, limit],
    });
    return rows.map(({ number }) => Number(number));
  }

  /** Values of a field with their counts under the filter, without its conditions on that field. */
  async values(query: ValuesQuery, sight: Sight, now = new Date()): Promise<FieldValue[]> {
    const { field, search } = query;
    if (!isListedByValue(field)) return [];
    const looking: Looking = { listed: query.listed ?? 'incidents', sight, now };
    const others = allOf(
      conjunctsOf(this.read(query.filter)).filter((part) => chipOf(part)?.field !== field),
    );
    return this.valuesUnder(others, field, looking, search?.trim());
  }

  async groups(query: GroupsQuery, sight: Sight, now = new Date()): Promise<GroupPage> {
    const looking: Looking = { listed: 'incidents', sight, now };
    const groups = await this.rowCounts.groups(this.read(query.filter), looking, query.by, MAX_GROUPS + 1);
    return {
      groups: groups.slice(0, MAX_GROUPS).map((group) => this.groupRow(query.by, group)),
      cut: groups.length > MAX_GROUPS,
    };
  }

  /** What incidents under a filter have in common: values that four of five or more of them share. */
  async common(query: ListedQuery, sight: Sight, now = new Date()): Promise<CommonValue[]> {
    const looking: Looking = { listed: 'incidents', sight, now };
    const filter = this.read(query.filter);
    const { incidents } = await this.counts(query.filter, sight, now);
    if (incidents === 0) return [];
    const found: CommonValue[] = [];
    for (const field of COMMON_FIELDS) {
      const [first] = await this.valuesUnder(filter, field, looking, undefined, 1);
      if (first && first.value !== null && first.count >= incidents * COMMON_SHARE)
        found.push({ field, value: first, share: Math.min(1, first.count / incidents) });
    }
    return found;
  }

  /** How people read a value of a field, and how the filter line takes it. */
  valueOf(field: FieldName, raw: unknown, count: number): FieldValue {
    const { named, kind } = fieldOf(field);
    if (raw === null || raw === undefined) return { value: null, label: '', count };
    if (named) {
      const id = String(raw as string);
      return { value: this.names.wordFor(named, id), label: this.names.nameOf(named, id), count };
    }
    if (kind === 'yes-no') return { value: Number(raw) === 1, label: '', count };
    if (kind === 'number') return { value: Number(raw), label: String(Number(raw)), count };
    const text = raw instanceof Date ? raw.toISOString().slice(0, 10) : String(raw as string);
    return { value: text, label: text, count };
  }

  private async valuesUnder(
    filter: Filter,
    field: FieldName,
    looking: Looking,
    search: string | undefined,
    limit = MAX_LISTED_VALUES,
  ): Promise<FieldValue[]> {
    if (search && hidesNames(looking.sight) && namesPeople(field)) throw namesAreHidden();
    const found = await this.rowCounts.byValue(filter, looking, field, { limit, ...(search && { search }) });
    return found.map(({ raw, count }) => this.valueOf(field, raw, count));
  }

  /** Ids of one page, by keyset: each page begins behind the last row of the one before, however many came since. */
  private async page(
    looking: Looking,
    query: ListQuery,
  ): Promise<{ readonly ids: (string | number)[]; readonly next: string | null }> {
    const limit = Math.min(query.limit ?? USUAL_PAGE, MAX_PAGE);
    const filter = this.read(query.filter);
    const where = whereOf(filter, looking, this.context);
    const { expression, descending } = orderOf(query.order, looking);
    const id = ID_OF[looking.listed];
    const after = query.after === undefined ? null : readCursor(query.after);
    const known = await this.pageFromColumns(filter, looking, query.order, { after, limit });
    if (known) return known;
    const way = descending ? '<' : '>';
    const behind = after ? ` AND (${expression} ${way} ? OR (${expression} = ? AND ${id} ${way} ?))` : '';
    const rows = await this.rows<{ id: string | number; k: unknown }>({
      sql: `SELECT ${id} AS id, ${expression} AS k FROM ${where.sql}${behind}
        ORDER BY ${expression} ${descending ? 'DESC' : 'ASC'}, ${id} ${descending ? 'DESC' : 'ASC'} LIMIT ?`,
      values: [...where.values, ...(after ? [after.key, after.key, after.id] : []), limit + 1],
    });
    const shown = rows.slice(0, limit);
    const last = shown.at(-1);
    return {
      ids: shown.map((row) => row.id),
      next: rows.length > limit && last ? writeCursor(last.k, last.id) : null,
    };
  }

  /** A page of incidents from columns in memory; null where the database has to give it. */
  private async pageFromColumns(
    filter: Filter,
    looking: Looking,
    order: ListOrder | undefined,
    { after, limit }: { readonly after: Cursor | null; readonly limit: number },
  ): Promise<{ readonly ids: number[]; readonly next: string | null } | null> {
    const wanted = (order ?? USUAL_ORDER).replace(/^-/u, '');
    const by = COLUMN_ORDERS.find((one) => one === wanted);
    if (looking.listed !== 'incidents' || !by) return null;
    const isTime = by === 'time' || by === 'due';
    const rows = await this.rowCounts.ask(filter, looking, {
      ...{ kind: 'page', by, descending: (order ?? USUAL_ORDER).startsWith('-'), limit: limit + 1 },
      after: after && {
        key: isTime ? new Date(after.key as Date | string).getTime() : Number(after.key),
        number: Number(after.id),
      },
    });
    if (!rows) return null;
    const shown = rows.slice(0, limit);
    const last = shown.at(-1);
    const isMore = rows.length > limit && last !== undefined;
    return {
      ids: shown.map(({ number }) => number),
      next: isMore ? writeCursor(isTime ? new Date(last.key) : last.key, last.number) : null,
    };
  }

  private groupRow(by: readonly FieldName[], group: CountedGroup): GroupRow {
    const { incidents, open, overdue, falsePositive, allowed, harm, urgency } = group;
    return {
      values: by.map((field, at) => this.valueOf(field, group.keys[at], incidents)),
      ...{ incidents, open, overdue, urgency },
      decided: { falsePositive, allowed, harm },
      newest: new Date(group.newest).toISOString(),
      worst: SEVERITIES[group.worst - 1] ?? 'low',
    };
  }

  private get source(): Source {
    return { manager: this.manager, keys: this.config.keys };
  }

  private get context(): FilterContext {
    return { names: this.names, key: this.config.keys.installation };
  }

  private rows<Row>({ sql, values }: Sql): Promise<Row[]> {
    return this.manager.query<Row[]>(sql, [...values]);
  }
}

function orderOf(
  order: ListOrder | undefined,
  looking: Looking,
): { readonly expression: string; readonly descending: boolean } {
  const usual: ListOrder = looking.listed === 'incidents' ? USUAL_ORDER : '-time';
  const wanted = order ?? usual;
  const descending = wanted.startsWith('-');
  const field = wanted.replace(/^-/u, '') as OrderField;
  if (field === 'matches')
    return { expression: looking.sight.silent ? 'i.matches' : 'i.openMatches', descending };
  const named = ORDER_COLUMNS[field] ?? (field as FieldName);
  if (hidesNames(looking.sight) && namesPeople(named)) throw namesAreHidden();
  const column = columnOf(named, looking) ?? ID_OF[looking.listed];
  const { ordered, choices, kind } = fieldOf(named);
  if (ordered && choices)
    return {
      expression: `FIELD(${column}, ${choices.map((choice) => `'${choice}'`).join(',')})`,
      descending,
    };
  // Rows without a value sort as the least value: comparisons with NULL would drop them from every page.
  const isNullable = named === 'assignee' || looking.listed === 'movements';
  if (kind === 'time' && named === 'due')
    return { expression: `COALESCE(${column}, '9999-12-31')`, descending };
  if (!isNullable || kind === 'time') return { expression: column, descending };
  return { expression: `COALESCE(${column}, ${kind === 'number' ? '-1' : "''"})`, descending };
}

function writeCursor(key: unknown, id: string | number): string {
  const value = key instanceof Date ? { at: key.toISOString() } : key;
  return Buffer.from(JSON.stringify([value, id])).toString('base64url');
}

/** Throws `invalid-request` for a cursor that no page gave. */
function readCursor(text: string): Cursor {
  try {
    const read = JSON.parse(Buffer.from(text, 'base64url').toString()) as unknown;
    if (Array.isArray(read) && read.length === 2) {
      const [value, id] = read as [unknown, unknown];
      const at = typeof value === 'object' && value !== null && 'at' in value ? value.at : null;
      if (typeof at === 'string') return { key: new Date(at), id };
      if (
        (typeof value === 'string' || typeof value === 'number') &&
        ['string', 'number'].includes(typeof id)
      )
        return { key: value, id };
    }
  } catch {
    // Told below.
  }
  throw new AppError('invalid-request', 'This page does not exist: `after` is not what a page gave.');
}
