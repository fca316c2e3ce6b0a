import {
  type ChangesQuery,
  type ChangesView,
  FIGURES,
  type FigureView,
  MAX_CUT_VALUES,
  MAX_SERIES,
  type SeriesView,
} from '@lantern/contracts/insight';
import { allOf, fieldOf, printFilter } from '@lantern/core/incidents';
import {
  bucketsOf,
  type Clock,
  grainOf,
  historyOf,
  type Period,
  periodBefore,
  spikesOf,
  statedTrend,
} from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { periodOf } from './period.js';
import { FIGURE_FILTERS, Reading } from './reading.service.js';
import { type Counted, Tally } from './tally.service.js';

/** What changed: counts over time, cut by a field, with what stands out. */
@Injectable()
export class Changes {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly tally: Tally,
    private readonly reading: Reading,
    private readonly queue: Queue,
  ) {}

  async view(query: ChangesQuery, sight: Sight, now = Date.now()): Promise<ChangesView> {
    const period = periodOf(query);
    const counted: Counted = { listed: query.listed, filter: this.reading.filter(query.filter), sight };
    const grain = grainOf(period);
    const buckets = bucketsOf(period, grain, query.zone);
    const clock: Clock = { grain, zone: query.zone, now, since: await this.since() };
    const history = historyOf(buckets, clock);
    // Asked together, so that they are answered as of one instant.
    const [all, cut, before, figures] = await Promise.all([
      this.tally.byBucket(counted, [...history, ...buckets]),
      query.by ? this.cut(counted, buckets, query.by) : { series: [], more: false },
      this.tally.count(counted, periodBefore(period)),
      this.figures(counted, period),
    ]);
    const counts = all.slice(history.length);
    const total: SeriesView = {
      value: null,
      count: counts.reduce((sum, count) => sum + count, 0),
      before,
      counts,
    };
    return {
      filter: printFilter(counted.filter),
      grain,
      buckets: buckets.map(asText),
      figures,
      series: [total, ...cut.series],
      more: cut.more,
      spikes: spikesOf({ buckets, counts }, { buckets: history, counts: all }, clock),
      trend: statedTrend({ buckets, counts }, clock),
      since: clock.since === null ? null : new Date(clock.since).toISOString(),
    };
  }

  /** When the first movement was recorded, in milliseconds since 1970; null where there is none. */
  async since(): Promise<number | null> {
    const [row] = await this.manager.query<{ first: Date | null }[]>('SELECT MIN(at) AS first FROM movement');
    return row?.first ? new Date(row.first).getTime() : null;
  }

  private figures({ filter, sight }: Counted, period: Period): Promise<FigureView[]> {
    const earlier = periodBefore(period);
    return Promise.all(
      FIGURES.map(async (code) => {
        const own = FIGURE_FILTERS[code];
        const counted = { listed: own.listed, filter: allOf([filter, own.filter]), sight };
        const [count, before] = await Promise.all([
          this.tally.count(counted, period),
          this.tally.count(counted, earlier),
        ]);
        return {
          ...{ code, listed: own.listed, count, before },
          filter: this.reading.line(counted.filter, period),
          filterBefore: this.reading.line(counted.filter, earlier),
        };
      }),
    );
  }

  private async cut(
    counted: Counted,
    buckets: readonly Period[],
    by: NonNullable<ChangesQuery['by']>,
  ): Promise<{ readonly series: SeriesView[]; readonly more: boolean }> {
    const [first] = buckets;
    const last = buckets.at(-1);
    if (!first || !last) return { series: [], more: false };
    const period = { from: first.from, to: last.to };
    // Of a field with few choices all are spread at once; of others those that are shown.
    const isClosed = fieldOf(by).choices !== undefined;
    const [values, valuesBefore, all] = await Promise.all([
      this.tally.byValue(counted, period, by, MAX_CUT_VALUES + 1),
      this.tally.byValue(counted, periodBefore(period), by, MOST_VALUES),
      isClosed ? this.tally.byValueAndBucket(counted, buckets, by, null) : null,
    ]);
    const shown = values.slice(0, MAX_CUT_VALUES);
    const earlier = new Map(valuesBefore.map(({ raw, count }) => [raw, count]));
    const wanted = shown.slice(0, MAX_SERIES).map(({ raw }) => raw);
    const spread = all ?? (await this.tally.byValueAndBucket(counted, buckets, by, wanted));
    const series = shown.map(({ raw, count }, index) => ({
      value: this.queue.valueOf(by, raw, count),
      count,
      before: earlier.get(raw) ?? 0,
      counts: index < MAX_SERIES ? (spread.get(raw) ?? buckets.map(() => 0)) : [],
    }));
    return { series, more: values.length > MAX_CUT_VALUES };
  }
}

/** Values of the period before that are looked up: every one that a period of this product can have. */
const MOST_VALUES = 100_000;

const asText = ({ from, to }: Period) => ({
  from: new Date(from).toISOString(),
  to: new Date(to).toISOString(),
});
