import {
  type ListedPeriodQuery,
  MOST_FIELDS,
  type MostField,
  type MostView,
} from '@lantern/contracts/insight';
import { allOf, type Filter, printFilter, unusual } from '@lantern/core/incidents';
import { fewOf, type Period, sliceFilter, weekHourOf } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { Changes } from './changes.service.js';
import { periodOf } from './period.js';
import { Reading } from './reading.service.js';
import { type Counted, type RawCount, Tally } from './tally.service.js';

const DAY_MS = 86_400_000;
/** How far back the usual is looked for. */
const USUAL_DAYS = 84;
/** Fields of which each movement has one value: they are counted in one pass. */
const COLUMNS = ['person', 'department', 'machine', 'network', 'channel'] as const;
/** Values shown of each field. */
const SHOWN = 8;
/** Values counted: more people, machines or domains than an organisation of this size has in a period. */
const MOST_VALUES = 100_000;

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
    const total = await this.tally.count(counted, period);
    const since = await this.changes.since();
    const history = {
      from: Math.max(since ?? period.from, period.from - USUAL_DAYS * DAY_MS),
      to: period.from,
    };
    const spans = { history, period };
    const columns = await this.tally.byColumns(counted, spans, COLUMNS);
    const fields: MostView['fields'][number][] = [];
    for (const field of MOST_FIELDS) {
      const known = columns.get(field as (typeof COLUMNS)[number]);
      const counts = known ? fromColumns(known) : await this.fromTraits(field, counted, spans);
      fields.push(this.field(field, counts, { counted, spans, total }));
    }
    return {
      filter: printFilter(counted.filter),
      total,
      fields,
      hours: await this.hours(counted, period, query.zone),
      usualDays: Math.max(0, Math.floor((history.to - history.from) / DAY_MS)),
    };
  }

  /** Counts of a field of which one movement may have several values; the history of those alone that are shown. */
  private async fromTraits(field: MostField, counted: Counted, { history, period }: Spans): Promise<Counts> {
    const values = (await this.tally.byValue(counted, period, field, MOST_VALUES)).filter(
      ({ raw }) => raw !== null,
    );
    const shown = values
      .slice(0, SHOWN)
      .map(({ raw }) => sliceFilter({ field, value: String(raw as string) }));
    const among: Filter = { kind: 'or', parts: shown };
    const before =
      shown.length === 0 || history.to <= history.from
        ? []
        : await this.tally.byValue(
            { ...counted, filter: allOf([counted.filter, among]) },
            history,
            field,
            MOST_VALUES,
          );
    return { values, before: new Map(before.map(({ raw, count }) => [raw, count])) };
  }

  private field(
    field: MostField,
    { values, before }: Counts,
    { counted, spans, total }: { readonly counted: Counted; readonly spans: Spans; readonly total: number },
  ): MostView['fields'][number] {
    const { history, period } = spans;
    const days = (period.to - period.from) / DAY_MS;
    const beforeDays = (history.to - history.from) / DAY_MS;
    return {
      field,
      few: fewOf(values.map(({ count }) => count)),
      values: values.slice(0, SHOWN).map(({ raw, count }) => {
        const value = this.queue.valueOf(field, raw, count);
        const rate = unusual({ count, days }, { before: before.get(raw) ?? 0, beforeDays });
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

/** Values of a field, the largest count first, and what they counted before. */
interface Counts {
  readonly values: readonly RawCount[];
  readonly before: ReadonlyMap<unknown, number>;
}

function fromColumns({
  now,
  before,
}: {
  now: ReadonlyMap<unknown, number>;
  before: ReadonlyMap<unknown, number>;
}): Counts {
  const values = [...now]
    .filter(([raw]) => raw !== null)
    .map(([raw, count]) => ({ raw, count }))
    .sort((one, other) => other.count - one.count || String(one.raw).localeCompare(String(other.raw)));
  return { values, before };
}
