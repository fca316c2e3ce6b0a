import { type ListedPeriodQuery, MOST_FIELDS, type MostField, type MostView } from '@lantern/contracts';
import { printFilter, unusual } from '@lantern/core/incidents';
import { fewOf, type Period, weekHourOf } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
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
    const fields: MostView['fields'][number][] = [];
    for (const field of MOST_FIELDS)
      fields.push(await this.field(field, counted, { period, history, total }));
    return {
      filter: printFilter(counted.filter),
      total,
      fields,
      hours: await this.hours(counted, period, query.zone),
      usualDays: Math.max(0, Math.floor((history.to - history.from) / DAY_MS)),
    };
  }

  private async field(
    field: MostField,
    counted: Counted,
    { period, history, total }: { readonly period: Period; readonly history: Period; readonly total: number },
  ): Promise<MostView['fields'][number]> {
    const values = await this.tally.byValue(counted, period, field, MOST_VALUES);
    const given = values.filter(({ raw }) => raw !== null);
    const beforeDays = (history.to - history.from) / DAY_MS;
    const before = new Map(
      beforeDays > 0
        ? (await this.tally.byValue(counted, history, field, MOST_VALUES)).map(({ raw, count }) => [
            raw,
            count,
          ])
        : [],
    );
    const days = (period.to - period.from) / DAY_MS;
    return {
      field,
      few: fewOf(given.map(({ count }) => count)),
      values: given.slice(0, SHOWN).map(({ raw, count }) => {
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
