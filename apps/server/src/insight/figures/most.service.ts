import {
  type ListedPeriodQuery,
  MOST_FIELDS,
  type MostField,
  type MostView,
} from '@lantern/contracts/insight';
import { printFilter, unusual } from '@lantern/core/incidents';
import { fewOf, type Period, weekHourOf, within } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import type { LargestValues } from '../../incidents/counts/row-counts.service.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { Changes } from './changes.service.js';
import { periodOf } from './period.js';
import { Reading } from './reading.service.js';
import { type Counted, Tally } from './tally.service.js';

const DAY_MS = 86_400_000;
/** How far back the usual is looked for. */
const USUAL_DAYS = 84;
/** Values shown of each field. */
const SHOWN = 8;

/** Who, where and when most of it is. */
@Injectable()
export class Most {
  constructor(
    private readonly tally: Tally,
    private readonly reading: Reading,
    private readonly queue: Queue,
    private readonly changes: Changes,
  ) {}

  async view(query: ListedPeriodQuery, sight: Sight): Promise<MostView> {
    const period = periodOf(query);
    const counted: Counted = { listed: query.listed, filter: this.reading.filter(query.filter), sight };
    const since = await this.changes.since();
    const history = {
      from: Math.max(since ?? period.from, period.from - USUAL_DAYS * DAY_MS),
      to: period.from,
    };
    const spans = { history, period };
    // Asked together, so that they are answered as of one instant.
    const [total, hours, counts] = await Promise.all([
      this.tally.count(counted, period),
      this.hours(counted, period, query.zone),
      this.tally.largest(counted, { period, earlier: within(history) }, MOST_FIELDS, SHOWN),
    ]);
    return {
      filter: printFilter(counted.filter),
      total,
      fields: MOST_FIELDS.map((field, at) =>
        this.field(field, counts[at] ?? { values: [], counts: [] }, { counted, spans, total }),
      ),
      hours,
      usualDays: Math.max(0, Math.floor((history.to - history.from) / DAY_MS)),
    };
  }

  private field(
    field: MostField,
    { values, counts }: LargestValues,
    { counted, spans, total }: { readonly counted: Counted; readonly spans: Spans; readonly total: number },
  ): MostView['fields'][number] {
    const { history, period } = spans;
    const days = (period.to - period.from) / DAY_MS;
    const beforeDays = (history.to - history.from) / DAY_MS;
    return {
      field,
      few: fewOf(counts),
      values: values.map(({ raw, count, before }) => {
        const value = this.queue.valueOf(field, raw, count);
        const rate = unusual({ count, days }, { before, beforeDays });
        return {
          value,
          share: total === 0 ? 0 : count / total,
          usual: rate?.usual ?? null,
          chance: rate?.chance ?? null,
          filter: this.reading.line(counted.filter, period, { field, value: value.value }),
        };
      }),
    };
  }

  private async hours(counted: Counted, period: Period, zone: string): Promise<MostView['hours']> {
    const sums = new Map<string, MostView['hours'][number]>();
    for (const { at, count } of await this.tally.byHalfHour(counted, period)) {
      const { weekday, hour } = weekHourOf(at, zone);
      const key = `${weekday} ${hour}`;
      sums.set(key, { weekday, hour, count: (sums.get(key)?.count ?? 0) + count });
    }
    return [...sums.values()].sort((one, other) => one.weekday - other.weekday || one.hour - other.hour);
  }
}

/** A period and the history just before it. */
interface Spans {
  readonly history: Period;
  readonly period: Period;
}
