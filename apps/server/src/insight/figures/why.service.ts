import type { ListedPeriodQuery, WhyView } from '@lantern/contracts/insight';
import { allOf, type FieldName, type Filter } from '@lantern/core/incidents';
import { explain, type Period, type ValueCount, weeksBefore, within } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { RawCount } from '../../incidents/counts/row-counts.service.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { RevisionEntity } from '../../published/revision.entity.js';
import { Changes } from './changes.service.js';
import { periodOf } from './period.js';
import { Reading } from './reading.service.js';
import { type Counted, Tally } from './tally.service.js';

/** What may explain a difference, the most telling first. */
const EXPLAINING = [
  'rule',
  'person',
  'file',
  'domain',
  'source',
  'machine',
  'department',
  'channel',
  'policy',
] as const satisfies readonly FieldName[];
/** Values of a field that are looked at: what is below the first hundreds makes up no part of a difference. */
const MOST_VALUES = 200;

/** What makes up the difference of one stretch to the same stretch of earlier weeks. */
@Injectable()
export class Why {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly tally: Tally,
    private readonly reading: Reading,
    private readonly queue: Queue,
    private readonly changes: Changes,
  ) {}

  async view(query: ListedPeriodQuery, sight: Sight): Promise<WhyView> {
    const period = periodOf(query);
    const counted: Counted = { listed: query.listed, filter: this.reading.filter(query.filter), sight };
    const since = await this.changes.since();
    const weeks = weeksBefore(period, query.zone).filter(({ from }) => since !== null && from >= since);
    const earlier = inWeeks(counted, weeks);
    const [count, countBefore, now, before] = await Promise.all([
      this.tally.count(counted, period),
      earlier ? this.tally.count(earlier.counted, earlier.span) : 0,
      this.tally.byValues(counted, period, EXPLAINING, MOST_VALUES),
      earlier ? this.tally.byValues(earlier.counted, earlier.span, EXPLAINING, MOST_VALUES) : [],
    ]);
    const usual = weeks.length > 0 ? countBefore / weeks.length : 0;
    const values: ValueCount<FieldName>[] = EXPLAINING.flatMap((field, at) =>
      valueCounts<FieldName>(field, { now: now[at] ?? [], before: before[at] ?? [] }, weeks.length),
    );
    const parts = explain(values, count - usual).map(({ field, value, ...part }) => {
      const shown = this.queue.valueOf(field, value, part.count);
      const filter = this.reading.line(counted.filter, period, { field, value: shown.value });
      return { field, value: shown, ...part, filter };
    });
    return {
      ...{ count, usual, weeks: weeks.length, parts },
      published: await this.published(period),
      filter: this.reading.line(counted.filter, period),
    };
  }

  /** What was published on the day, or on the one before. */
  private async published({ from, to }: Period): Promise<WhyView['published']> {
    const found = await this.manager
      .createQueryBuilder(RevisionEntity, 'r')
      .select(['r.number', 'r.name', 'r.publishedAt', 'r.publishedBy'])
      .where('r.publishedAt >= :from AND r.publishedAt < :to', {
        from: new Date(from - DAY_MS),
        to: new Date(to),
      })
      .orderBy('r.number', 'ASC')
      .getMany();
    return found.map(({ number, name, publishedAt, publishedBy }) => ({
      revision: number,
      name,
      at: publishedAt.toISOString(),
      by: publishedBy,
    }));
  }
}

const DAY_MS = 86_400_000;

/** What is counted within any of some weeks, and the period that they lie in; null for no weeks. */
function inWeeks(
  counted: Counted,
  weeks: readonly Period[],
): { readonly counted: Counted; readonly span: Period } | null {
  const nearest = weeks[0];
  const earliest = weeks.at(-1);
  if (!nearest || !earliest) return null;
  const any: Filter = { kind: 'or', parts: weeks.map(within) };
  return {
    counted: { ...counted, filter: allOf([any, counted.filter]) },
    span: { from: earliest.from, to: nearest.to },
  };
}

/** Values of a field with their counts and with what is usual; rows without a value explain nothing. */
function valueCounts<Field extends FieldName>(
  field: Field,
  { now, before }: { readonly now: readonly RawCount[]; readonly before: readonly RawCount[] },
  weeks: number,
): ValueCount<Field>[] {
  const nowBy = byText(now);
  const beforeBy = byText(before);
  // What was there before and is missing now explains a quiet day.
  return [...new Set([...nowBy.keys(), ...beforeBy.keys()])].map((value) => ({
    ...{ field, value, count: nowBy.get(value) ?? 0 },
    usual: (beforeBy.get(value) ?? 0) / Math.max(1, weeks),
  }));
}

function byText(counts: readonly RawCount[]): Map<string, number> {
  return new Map(
    counts.flatMap(({ raw, count }) =>
      raw === null || raw === undefined || raw === '' ? [] : [[String(raw as string), count] as const],
    ),
  );
}
