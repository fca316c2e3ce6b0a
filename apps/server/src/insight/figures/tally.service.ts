import { allOf, type FieldName, type Filter, type Listed } from '@lantern/core/incidents';
import { behind, type Dimension, type Period } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import type { Sight } from '../../platform/auth/sight.js';
import { columnOf, ID_OF, type Looking } from '../../incidents/queue/columns.js';
import { divided, groupExpression } from '../../incidents/queue/group-expression.js';
import { type LargestValues, type RawCount, RowCounts } from '../../incidents/counts/row-counts.service.js';

/** What is counted, and for whom. */
export interface Counted {
  readonly listed: Listed;
  readonly filter: Filter;
  readonly sight: Sight;
}

const HALF_HOUR_MS = 1_800_000;

/** Counts of incidents, matches or movements by time and by value, over the same conditions as the lists. */
@Injectable()
export class Tally {
  constructor(private readonly counts: RowCounts) {}

  count(counted: Counted, period: Period): Promise<number> {
    return this.counts.count(behind(counted.filter, period), this.looking(counted));
  }

  /** Counts of each bucket; buckets follow each other without gaps. */
  async byBucket(counted: Counted, buckets: readonly Period[]): Promise<number[]> {
    const period = spanOf(buckets);
    if (!period) return [];
    const looking = this.looking(counted);
    const filter = behind(counted.filter, period);
    const counts = buckets.map(() => 0);
    const [found] = (await this.counts.tally(filter, looking, [[bucketsFrom(buckets)]])) ?? [];
    if (found) {
      for (const { keys, count } of found) counts[Number(keys[0])] = count;
      return counts;
    }
    const { sql, values } = this.counts.where(filter, looking);
    const rows = await this.counts.rows<{ b: string; n: string }>({
      sql: `SELECT ${bucketExpression(buckets, looking)} AS b, COUNT(*) AS n FROM ${sql} GROUP BY b`,
      values: [...values],
    });
    for (const { b, n } of rows) counts[Number(b)] = Number(n);
    return counts;
  }

  /** Counts by value of a field, the largest first, `limit` at most. What has several values counts for each of them. */
  byValue(counted: Counted, period: Period, field: FieldName, limit: number): Promise<RawCount[]> {
    return this.counts.byValue(behind(counted.filter, period), this.looking(counted), field, { limit });
  }

  /** {@link byValue} for several fields, each for itself. */
  byValues(
    counted: Counted,
    period: Period,
    fields: readonly FieldName[],
    limit: number,
  ): Promise<readonly (readonly RawCount[])[]> {
    return this.counts.byValues(behind(counted.filter, period), this.looking(counted), fields, limit);
  }

  /** Counts of some values, or of all, bucket by bucket. */
  async byValueAndBucket(
    counted: Counted,
    buckets: readonly Period[],
    field: FieldName,
    wanted: readonly unknown[] | null,
  ): Promise<Map<unknown, number[]>> {
    const period = spanOf(buckets);
    const found = new Map<unknown, number[]>();
    if (!period || wanted?.length === 0) return found;
    const known = await this.spread(counted, buckets, field, wanted);
    if (known) return known;
    const named = (wanted ?? []).filter((raw) => raw !== null);
    const marks = named.map(() => '?').join(', ');
    const { tables, condition, group, counts, values } = this.grouped(counted, period, field);
    const rows = await this.counts.rows<{ v: unknown; b: string; n: string }>({
      sql: `SELECT ${group} AS v, ${bucketExpression(buckets, this.looking(counted))} AS b, ${counts} AS n
       FROM ${tables} WHERE ${condition}
       AND (${wanted === null ? 'TRUE' : marks ? `${group} IN (${marks})` : 'FALSE'} OR ${group} IS NULL)
       GROUP BY v, b`,
      values: [...values, ...named],
    });
    for (const { v, b, n } of rows) {
      const known = found.get(v) ?? buckets.map(() => 0);
      known[Number(b)] = Number(n);
      found.set(v, known);
    }
    return found;
  }

  /** The values of some fields with the largest counts of a period, and what they count in an earlier one. */
  largest(
    counted: Counted,
    { period, earlier }: { readonly period: Period; readonly earlier: Filter },
    fields: readonly FieldName[],
    limit: number,
  ): Promise<LargestValues[]> {
    const filters = { filter: behind(counted.filter, period), earlier: allOf([earlier, counted.filter]) };
    return this.counts.largest(filters, this.looking(counted), fields, limit);
  }

  /** Counts of each half hour that has any, by its first instant in milliseconds since 1970. */
  async byHalfHour(
    counted: Counted,
    period: Period,
  ): Promise<{ readonly at: number; readonly count: number }[]> {
    const looking = this.looking(counted);
    const filter = behind(counted.filter, period);
    const [found] = (await this.counts.tally(filter, looking, [[{ kind: 'half-hours' }]])) ?? [];
    if (found) return found.map(({ keys, count }) => ({ at: Number(keys[0]) * HALF_HOUR_MS, count }));
    const { sql, values } = this.counts.where(filter, looking);
    const rows = await this.counts.rows<{ h: string; n: string }>({
      sql: `SELECT TIMESTAMPDIFF(SECOND, '1970-01-01', ${columnOf('time', looking)}) DIV 1800 AS h, COUNT(*) AS n FROM ${sql} GROUP BY h`,
      values: [...values],
    });
    return rows.map(({ h, n }) => ({ at: Number(h) * HALF_HOUR_MS, count: Number(n) }));
  }

  /** {@link byValueAndBucket} from columns in memory; null where the database has to count. */
  private async spread(
    counted: Counted,
    buckets: readonly Period[],
    field: FieldName,
    wanted: readonly unknown[] | null,
  ): Promise<Map<unknown, number[]> | null> {
    const period = spanOf(buckets);
    const looking = this.looking(counted);
    const [rows] =
      (period &&
        (await this.counts.tally(behind(counted.filter, period), looking, [
          [{ kind: 'field', field, now: looking.now.getTime() }, bucketsFrom(buckets)],
        ]))) ??
      [];
    if (!rows) return null;
    const found = new Map<unknown, number[]>();
    for (const { keys, count } of rows) {
      const [raw = null, bucket] = keys;
      if (raw !== null && wanted?.includes(raw) === false) continue;
      const known = found.get(raw) ?? buckets.map(() => 0);
      known[Number(bucket)] = count;
      found.set(raw, known);
    }
    return found;
  }

  private grouped(counted: Counted, period: Period, field: FieldName) {
    const looking = this.looking(counted);
    const where = this.counts.where(behind(counted.filter, period), looking);
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

const bucketsFrom = (buckets: readonly Period[]): Dimension => ({
  kind: 'buckets',
  starts: buckets.slice(1).map(({ from }) => from),
});
