import type { ListedPeriodQuery, WhyView } from '@lantern/contracts';
import type { FieldName } from '@lantern/core/incidents';
import { explain, type Period, type ValueCount, weeksBefore } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
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
const MOST_VALUES = 500;

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
    const count = await this.tally.count(counted, period);
    let earlier = 0;
    for (const week of weeks) earlier += await this.tally.count(counted, week);
    const usual = weeks.length === 0 ? 0 : earlier / weeks.length;
    const values: ValueCount<FieldName>[] = [];
    for (const field of EXPLAINING) values.push(...(await this.values(counted, period, weeks, field)));
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

  private async values(
    counted: Counted,
    period: Period,
    weeks: readonly Period[],
    field: FieldName,
  ): Promise<ValueCount<FieldName>[]> {
    const now = await this.tally.byValue(counted, period, field, MOST_VALUES);
    const before = new Map<string, number>();
    for (const week of weeks)
      for (const { raw, count } of await this.tally.byValue(counted, week, field, MOST_VALUES))
        before.set(keyOf(raw), (before.get(keyOf(raw)) ?? 0) + count);
    const usual = (key: string) => (before.get(key) ?? 0) / Math.max(1, weeks.length);
    const seen = new Set(now.map(({ raw }) => keyOf(raw)));
    // What is missing explains a quiet day.
    const gone = [...before.keys()].filter((key) => !seen.has(key));
    return [
      ...now.map(({ raw, count }) => ({ raw: keyOf(raw), count })),
      ...gone.map((raw) => ({ raw, count: 0 })),
    ]
      .filter(({ raw }) => raw !== NONE)
      .map(({ raw, count }) => ({ field, value: raw, count, usual: usual(raw) }));
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
/** No value is the empty text: rows without one explain nothing. */
const NONE = '';
const keyOf = (raw: unknown): string => (raw === null || raw === undefined ? NONE : String(raw as string));
