import { type FieldName, fieldOf, type Filter } from '@lantern/core/incidents';
import {
  type CountAnswers,
  type CountedGroup,
  type CountKind,
  type CountQuestion,
  type Dimension,
  largestFirst,
  type TallyRow,
} from '@lantern/core/insight';
import { SEVERITIES } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { likeAnywhere } from '../../platform/database/like.js';
import type { Sql } from '../../platform/database/sql.js';
import { openTransaction } from '../../platform/database/transaction-context.js';
import { KnownNames } from '../known-names.service.js';
import { columnOf, ID_OF, type Looking } from '../queue/columns.js';
import { type FilterContext, whereOf } from '../queue/compile-filter.js';
import { divided, groupExpression } from '../queue/group-expression.js';
import { DeskCounts } from './desk-counts.service.js';
import { planOfLooking } from './plan-of-looking.js';

/** A value as it is stored, with its count. */
export interface RawCount {
  readonly raw: unknown;
  readonly count: number;
}

/** A question without what the filter and the viewer say. */
type Wanted<Kind extends CountKind> = { readonly kind: Kind } & Omit<
  Extract<CountQuestion, { readonly kind: Kind }>,
  'kind' | 'plan' | 'silent'
>;

/** Largest values of a field with what they count under an earlier filter, and the counts of all. */
export interface LargestValues {
  readonly values: readonly (RawCount & { readonly before: number })[];
  readonly counts: ArrayLike<number>;
}

/** Counts that the database makes at the same time, of twenty connections. */
const MOST_UNDER_WAY = 4;
const WHOLE = { given: false, earlier: null };
/** Values counted of one field: more people, machines or domains than an organisation of this size has. */
const MOST_VALUES = 100_000;
const PLAIN = /^[\x20-\x7e]*$/u;

/**
 * Counts under the conditions of the lists: from columns in memory where they hold what is asked, from the database otherwise.
 * Both are held to each other by a test.
 */
@Injectable()
export class RowCounts {
  private underWay = 0;
  private readonly next: (() => void)[] = [];

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly names: KnownNames,
    private readonly columns: DeskCounts,
  ) {}

  /** Tables and condition of a list under a filter; throws where the viewer may not ask so. */
  where(filter: Filter, looking: Looking): Sql {
    return whereOf(filter, looking, this.context);
  }

  /** Asks the columns; null where the database has to answer. Throws as {@link where} does. */
  async ask<Kind extends CountKind>(
    filter: Filter,
    looking: Looking,
    wanted: Wanted<Kind>,
  ): Promise<CountAnswers[Kind] | null> {
    this.where(filter, looking);
    const plan = planOfLooking(filter, looking, this.context);
    if (!plan) return null;
    const question = { ...wanted, silent: looking.sight.silent, plan };
    return this.columns.ask<Kind>(question as unknown as CountQuestion & { readonly kind: Kind });
  }

  /** Counts by several dimensions at once; null where the database has to count. */
  async tally(
    filter: Filter,
    looking: Looking,
    by: readonly (readonly Dimension[])[],
  ): Promise<readonly (readonly TallyRow[])[] | null> {
    return this.ask(filter, looking, { kind: 'tally', listed: looking.listed, by });
  }

  async count(filter: Filter, looking: Looking): Promise<number> {
    const found = await this.tally(filter, looking, [[]]);
    if (found) return found[0]?.[0]?.count ?? 0;
    const where = this.where(filter, looking);
    const [row] = await this.rows<{ n: string }>({ ...where, sql: `SELECT COUNT(*) AS n FROM ${where.sql}` });
    return Number(row?.n ?? 0);
  }

  /** Counts by value of a field, the largest first. What has several values counts for each of them. */
  async byValue(
    filter: Filter,
    looking: Looking,
    field: FieldName,
    { limit, search = '' }: { readonly limit: number; readonly search?: string },
  ): Promise<RawCount[]> {
    const known = await this.fromColumns(filter, looking, field, { limit, search });
    if (known) return known;
    const where = this.where(filter, looking);
    const [tables, condition] = divided(where.sql);
    const { sql, join, values } = groupExpression(field, 'g0', looking);
    const sought = search ? this.sought(field, sql, search) : { sql: 'TRUE', values: [] };
    // A join repeats what has several values.
    const counted = join === '' ? 'COUNT(*)' : `COUNT(DISTINCT ${ID_OF[looking.listed]})`;
    const rows = await this.rows<{ v: unknown; n: string }>({
      sql: `SELECT ${sql} AS v, ${counted} AS n FROM ${tables} ${join}
        WHERE ${condition} AND ${sought.sql} GROUP BY v ORDER BY n DESC, v LIMIT ?`,
      values: [...values(looking.now), ...where.values, ...sought.values, limit],
    });
    return rows.map(({ v, n }) => ({
      // Times are put together by their day.
      raw: v instanceof Date ? v.toISOString().slice(0, 10) : v,
      count: Number(n),
    }));
  }

  /** {@link byValue} for several fields, each for itself. */
  async byValues(
    filter: Filter,
    looking: Looking,
    fields: readonly FieldName[],
    limit: number,
  ): Promise<readonly (readonly RawCount[])[]> {
    const by = fields.map((field) => ({ kind: 'field' as const, field, now: looking.now.getTime() }));
    const asked = { kind: 'largest', listed: looking.listed, by, limit, ...WHOLE } as const;
    const found = await this.ask(filter, looking, asked);
    if (found) return found.map(({ rows }) => rows.map(rawCount));
    return Promise.all(fields.map((field) => this.byValue(filter, looking, field, { limit })));
  }

  /** The values of some fields with the largest counts, and what they count under an earlier filter. Rows without a value are passed over. */
  async largest(
    { filter, earlier }: { readonly filter: Filter; readonly earlier: Filter },
    looking: Looking,
    fields: readonly FieldName[],
    limit: number,
  ): Promise<LargestValues[]> {
    const by = fields.map((field) => ({ kind: 'field' as const, field, now: looking.now.getTime() }));
    const before = planOfLooking(earlier, looking, this.context);
    const asked = { kind: 'largest', listed: looking.listed, by, limit, given: true } as const;
    const found = before && (await this.ask(filter, looking, { ...asked, earlier: before }));
    if (found)
      return found.map(({ rows, counts, before: known }) => ({
        counts,
        values: rows.map((row, at) => ({ ...rawCount(row), before: known[at] ?? 0 })),
      }));
    return Promise.all(
      fields.map((field) => this.largestFromRows({ filter, earlier }, looking, field, limit)),
    );
  }

  private async largestFromRows(
    { filter, earlier }: { readonly filter: Filter; readonly earlier: Filter },
    looking: Looking,
    field: FieldName,
    limit: number,
  ): Promise<LargestValues> {
    const all = await this.byValue(filter, looking, field, { limit: MOST_VALUES });
    const given = all.filter(({ raw }) => raw !== null);
    const known = new Map(
      (await this.byValue(earlier, looking, field, { limit: MOST_VALUES })).map(({ raw, count }) => [
        raw,
        count,
      ]),
    );
    return {
      counts: given.map(({ count }) => count),
      values: given.slice(0, limit).map((value) => ({ ...value, before: known.get(value.raw) ?? 0 })),
    };
  }

  /** {@link byValue} from the columns; null where the database has to count. */
  private async fromColumns(
    filter: Filter,
    looking: Looking,
    field: FieldName,
    { limit, search }: { readonly limit: number; readonly search: string },
  ): Promise<RawCount[] | null> {
    const by = { kind: 'field' as const, field, now: looking.now.getTime() };
    if (search === '') {
      const asked = { kind: 'largest', listed: looking.listed, by: [by], limit, ...WHOLE } as const;
      const found = await this.ask(filter, looking, asked);
      return found && (found[0]?.rows ?? []).map(rawCount);
    }
    if (!PLAIN.test(search)) return null;
    const [rows] = (await this.tally(filter, looking, [[by]])) ?? [];
    if (!rows) return null;
    return largestFirst(rows)
      .map(rawCount)
      .filter(({ raw }) => this.isSought(field, raw, search))
      .slice(0, limit);
  }

  /** Incidents by one or two fields, those with the most open ones first. */
  async groups(
    filter: Filter,
    looking: Looking,
    fields: readonly FieldName[],
    limit: number,
  ): Promise<readonly CountedGroup[]> {
    const now = looking.now.getTime();
    const by = fields.map((field) => ({ kind: 'field' as const, field, now }));
    return (
      (await this.ask(filter, looking, { kind: 'groups', by, now, limit })) ??
      this.groupsFromRows(filter, looking, fields, limit)
    );
  }

  private async groupsFromRows(
    filter: Filter,
    looking: Looking,
    fields: readonly FieldName[],
    limit: number,
  ): Promise<CountedGroup[]> {
    const where = this.where(filter, looking);
    const [tables, condition] = divided(where.sql);
    const by = fields.map((field, at) => groupExpression(field, `g${at}`, looking));
    const joins = by.map(({ join }) => join).join(' ');
    const urgency = columnOf('urgency', looking);
    const rank = `FIELD(${columnOf('severity', looking)}, ${SEVERITIES.map((one) => `'${one}'`).join(',')})`;
    // A join can repeat an incident, so it needs COUNT(DISTINCT). A column cannot, and SUM is several times faster.
    const isJoined = joins.trim() !== '';
    const count = (test: string) =>
      isJoined ? `COUNT(DISTINCT CASE WHEN ${test} THEN i.number END)` : `COALESCE(SUM(${test}), 0)`;
    const rows = await this.rows<Record<string, string | number | Date | null>>({
      sql: `SELECT ${by.map(({ sql }, at) => `${sql} AS v${at}`).join(', ')},
          ${isJoined ? 'COUNT(DISTINCT i.number)' : 'COUNT(*)'} AS incidents,
          ${count("i.status <> 'decided'")} AS open,
          ${count("i.status <> 'decided' AND i.dueAt < ?")} AS overdue,
          ${count("i.outcome = 'false-positive'")} AS falsePositive,
          ${count("i.outcome = 'allowed'")} AS allowed,
          ${count("i.outcome = 'harm'")} AS harm,
          MAX(i.at) AS newest, MAX(${rank}) AS worst, MAX(${urgency}) AS urgency
        FROM ${tables} ${joins} WHERE ${condition}
        GROUP BY ${by.map((_, at) => `v${at}`).join(', ')} ORDER BY open DESC, incidents DESC LIMIT ?`,
      values: [...by.flatMap(({ values }) => values(looking.now)), looking.now, ...where.values, limit],
    });
    return rows.map((row) => groupOf(row, fields.length));
  }

  /** Whether the text of a value, or its name, contains what is sought. */
  private isSought(field: FieldName, raw: unknown, search: string): boolean {
    const { named } = fieldOf(field);
    if (raw === null) return false;
    const text = named ? this.names.nameOf(named, String(raw as string)) : String(raw as string);
    return [text, named ? String(raw as string) : ''].some((one) =>
      one.toLowerCase().includes(search.toLowerCase()),
    );
  }

  private sought(field: FieldName, expression: string, search: string): Sql {
    const { named } = fieldOf(field);
    if (!named) return { sql: `${expression} LIKE ?`, values: [likeAnywhere(search)] };
    const ids = this.names.idsWhere(named, (text) => text.toLowerCase().includes(search.toLowerCase()));
    if (ids.length === 0) return { sql: 'FALSE', values: [] };
    return { sql: `${expression} IN (${ids.map(() => '?').join(',')})`, values: ids };
  }

  private get context(): FilterContext {
    return { names: this.names, key: this.config.keys.installation };
  }

  /**
   * Asks the database. Few questions are under way at once: many that take seconds would leave no connection to whoever records.
   * Inside a transaction there is one connection only, which nobody else waits for.
   */
  async rows<Row>({ sql, values }: Sql): Promise<Row[]> {
    if (openTransaction()) return this.manager.query<Row[]>(sql, [...values]);
    while (this.underWay >= MOST_UNDER_WAY) await new Promise<void>((go) => this.next.push(go));
    this.underWay += 1;
    try {
      return await this.manager.query<Row[]>(sql, [...values]);
    } finally {
      this.underWay -= 1;
      this.next.shift()?.();
    }
  }
}

const rawCount = ({ keys: [raw = null], count }: TallyRow): RawCount => ({ raw, count });

function groupOf(row: Readonly<Record<string, string | number | Date | null>>, fields: number): CountedGroup {
  const number = (name: string) => Number(row[name] ?? 0);
  const newest = row['newest'];
  return {
    keys: Array.from({ length: fields }, (_, at) => {
      const value = row[`v${at}`] ?? null;
      return value instanceof Date ? value.toISOString().slice(0, 10) : value;
    }),
    ...{ incidents: number('incidents'), open: number('open'), overdue: number('overdue') },
    ...{ falsePositive: number('falsePositive'), allowed: number('allowed'), harm: number('harm') },
    newest: new Date(newest instanceof Date ? newest : String(newest)).getTime(),
    ...{ worst: number('worst'), urgency: number('urgency') },
  };
}
