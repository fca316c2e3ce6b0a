import type { FieldName, Filter, Listed } from '@lantern/core/incidents';
import { behind, type Period } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Sight } from '../../platform/auth/sight.js';
import { columnOf, ID_OF, type Looking } from '../../incidents/queue/columns.js';
import { divided, groupExpression } from '../../incidents/queue/group-expression.js';
import { Queue } from '../../incidents/queue/queue.service.js';

/** What is counted, and for whom. */
export interface Counted {
  readonly listed: Listed;
  readonly filter: Filter;
  readonly sight: Sight;
}

/** A value as it is stored, with its count. */
export interface RawCount {
  readonly raw: unknown;
  readonly count: number;
}

/** Counts of incidents, matches or movements by time and by value, over the same conditions as the lists. */
@Injectable()
export class Tally {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly queue: Queue,
  ) {}

  async count(counted: Counted, period: Period): Promise<number> {
    const { sql, values } = this.queue.where(behind(counted.filter, period), this.looking(counted));
    const [row] = await this.manager.query<{ n: string }[]>(`SELECT COUNT(*) AS n FROM ${sql}`, [...values]);
    return Number(row?.n ?? 0);
  }

  /** Counts of each bucket; buckets follow each other without gaps. */
  async byBucket(counted: Counted, buckets: readonly Period[]): Promise<number[]> {
    const period = spanOf(buckets);
    if (!period) return [];
    const looking = this.looking(counted);
    const { sql, values } = this.queue.where(behind(counted.filter, period), looking);
    const rows = await this.manager.query<{ b: string; n: string }[]>(
      `SELECT ${bucketExpression(buckets, looking)} AS b, COUNT(*) AS n FROM ${sql} GROUP BY b`,
      [...values],
    );
    const counts = buckets.map(() => 0);
    for (const { b, n } of rows) counts[Number(b)] = Number(n);
    return counts;
  }

  /** Counts by value of a field, the largest first, `limit` at most. What has several values counts for each of them. */
  async byValue(counted: Counted, period: Period, field: FieldName, limit: number): Promise<RawCount[]> {
    const { tables, condition, group, counts, values } = this.grouped(counted, period, field);
    const rows = await this.manager.query<{ v: unknown; n: string }[]>(
      `SELECT ${group} AS v, ${counts} AS n FROM ${tables} WHERE ${condition} GROUP BY v ORDER BY n DESC, v LIMIT ?`,
      [...values, limit],
    );
    return rows.map(({ v, n }) => ({ raw: v, count: Number(n) }));
  }

  /** Counts of some values, bucket by bucket. */
  async byValueAndBucket(
    counted: Counted,
    buckets: readonly Period[],
    field: FieldName,
    wanted: readonly unknown[],
  ): Promise<Map<unknown, number[]>> {
    const period = spanOf(buckets);
    const found = new Map<unknown, number[]>();
    if (!period || wanted.length === 0) return found;
    const named = wanted.filter((raw) => raw !== null);
    const { tables, condition, group, counts, values } = this.grouped(counted, period, field);
    const rows = await this.manager.query<{ v: unknown; b: string; n: string }[]>(
      `SELECT ${group} AS v, ${bucketExpression(buckets, this.looking(counted))} AS b, ${counts} AS n
       FROM ${tables} WHERE ${condition}
       AND (${named.length > 0 ? `${group} IN (${named.map(() => '?').join(', ')})` : 'FALSE'} OR ${group} IS NULL)
       GROUP BY v, b`,
      [...values, ...named],
    );
    for (const { v, b, n } of rows) {
      const known = found.get(v) ?? buckets.map(() => 0);
      known[Number(b)] = Number(n);
      found.set(v, known);
    }
    return found;
  }

  /**
   * Counts by value of several fields of one row each, in one pass: within a period, and within the history just before it.
   * Throws for a field of which one row may have several values.
   */
  async byColumns<Field extends FieldName>(
    counted: Counted,
    { history, period }: { readonly history: Period; readonly period: Period },
    fields: readonly Field[],
  ): Promise<Map<Field, { readonly now: Map<unknown, number>; readonly before: Map<unknown, number> }>> {
    const looking = this.looking(counted);
    const columns = fields.map((field, at) => {
      const column = columnOf(field, looking);
      if (!column) throw new Error(`${field} has several values`);
      return `${column} AS f${at}`;
    });
    const whole = { from: Math.min(history.from, period.from), to: period.to };
    const { sql, values } = this.queue.where(behind(counted.filter, whole), looking);
    const rows = await this.manager.query<Record<string, unknown>[]>(
      `SELECT ${columns.join(', ')}, ${columnOf('time', looking)} >= ? AS recent, COUNT(*) AS n FROM ${sql}
       GROUP BY ${fields.map((_, at) => `f${at}`).join(', ')}, recent`,
      [new Date(period.from), ...values],
    );
    const found = new Map(
      fields.map((field) => [field, { now: new Map<unknown, number>(), before: new Map<unknown, number>() }]),
    );
    for (const row of rows)
      for (const [at, field] of fields.entries()) {
        const side = found.get(field)?.[Number(row['recent']) === 1 ? 'now' : 'before'];
        const raw = row[`f${at}`];
        side?.set(raw, (side.get(raw) ?? 0) + Number(row['n']));
      }
    return found;
  }

  /** Counts of each half hour that has any, by its first instant in milliseconds since 1970. */
  async byHalfHour(
    counted: Counted,
    period: Period,
  ): Promise<{ readonly at: number; readonly count: number }[]> {
    const looking = this.looking(counted);
    const { sql, values } = this.queue.where(behind(counted.filter, period), looking);
    const rows = await this.manager.query<{ h: string; n: string }[]>(
      `SELECT TIMESTAMPDIFF(SECOND, '1970-01-01', ${columnOf('time', looking)}) DIV 1800 AS h, COUNT(*) AS n FROM ${sql} GROUP BY h`,
      [...values],
    );
    return rows.map(({ h, n }) => ({ at: Number(h) * 1_800_000, count: Number(n) }));
  }

  private grouped(counted: Counted, period: Period, field: FieldName) {
    const looking = this.looking(counted);
    const where = this.queue.where(behind(counted.filter, period), looking);
    const [tables, condition] = divided(where.sql);
    const { sql, join, values } = groupExpression(field, 'g0', looking);
    return {
      tables: `${tables} ${join}`,
      condition,
      group: sql,
      // A join repeats what has several values.
      counts: join === '' ? 'COUNT(*)' : `COUNT(DISTINCT ${ID_OF[looking.listed]})`,
      values: [...values(looking.now), ...where.values],
    };
  }

  private looking({ listed, sight }: Counted): Looking {
    return { listed, sight, now: new Date() };
  }
}

function spanOf(buckets: readonly Period[]): Period | null {
  const [first] = buckets;
  const last = buckets.at(-1);
  return first && last ? { from: first.from, to: last.to } : null;
}

/** Index of the bucket that a row stands in. Buckets begin at whole seconds, but for the first. */
function bucketExpression(buckets: readonly Period[], looking: Looking): string {
  const starts = buckets.slice(1).map(({ from }) => Math.floor(from / 1_000));
  if (starts.length === 0) return '0';
  return `INTERVAL(TIMESTAMPDIFF(SECOND, '1970-01-01', ${columnOf('time', looking)}), ${starts.join(', ')})`;
}
