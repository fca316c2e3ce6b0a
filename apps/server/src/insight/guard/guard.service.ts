import type { GuardView, PeriodQuery } from '@lantern/contracts/insight';
import { allOf, EVERYTHING, type Filter, printFilter } from '@lantern/core/incidents';
import {
  behind,
  bucketsOf,
  grainOf,
  guardedChannels,
  peopleGuarded,
  type Period,
} from '@lantern/core/insight';
import type { LabelledHow, LabelShift } from '@lantern/core/labels';
import { CHANNELS } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachineEntity } from '../../directory/machines/machine.entity.js';
import { PeopleService } from '../../directory/people.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { periodOf } from '../figures/period.js';
import { Reading } from '../figures/reading.service.js';
import { type Counted, Tally } from '../figures/tally.service.js';
import { StateReader } from '../improve/state-facts.service.js';
import { GuardDayEntity } from './guard-day.entity.js';

const DAY_MS = 86_400_000;
/** A machine counts for a day if something was heard of it in so many days before. */
const HEARD_DAYS = 28;
/** Machines that are named because nothing was heard of them. */
const MOST_NAMED = 50;
/** Machines that are looked for: more than an organisation of this size has. */
const MOST_MACHINES = 100_000;
/** Whether a machine is heard of is no question of who asks. */
const WHOLE_SIGHT: Sight = { silent: true, limits: null };
/** Days of the record that are shown. */
const DAYS_SHOWN = 90;
const SENSITIVE: Filter = { kind: 'present', field: 'pattern' };
const LABELLED: Filter = { kind: 'present', field: 'label' };

type Cells = Parameters<typeof guardedChannels>[0];

/** How well what is sensitive is guarded: labels, rules, people and machines, over time. */
@Injectable()
export class Guard {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly reading: Reading,
    private readonly tally: Tally,
    private readonly state: StateReader,
    private readonly published: PublishedRevision,
    private readonly people: PeopleService,
  ) {}

  async view(query: PeriodQuery, sight: Sight): Promise<GuardView> {
    const period = periodOf(query);
    const grain = grainOf(period);
    const buckets = bucketsOf(period, grain, query.zone);
    const filter = this.reading.filter(query.filter);
    const cells = await this.coverage();
    const labelled = allOf([filter, SENSITIVE, LABELLED]);
    // Asked together, so that they are answered as of one instant, and none waits for another.
    const [machines, labelChanges, sensitive, withLabel, channels, people, days] = await Promise.all([
      this.machines(period),
      this.labelChanges(buckets),
      this.counted({ listed: 'incidents', filter: allOf([filter, SENSITIVE]), sight }, buckets),
      this.counted({ listed: 'incidents', filter: labelled, sight }, buckets),
      this.channels(cells, period, { filter, sight }),
      this.people.all(),
      this.record(cells).then(() => this.days()),
    ]);
    return {
      grain,
      buckets: buckets.map(({ from, to }) => ({ from: asText(from), to: asText(to) })),
      ...{ labelChanges, sensitive, labelled: withLabel, channels, machines, days },
      people: { all: people.length, guarded: peopleGuarded(cells) },
    };
  }

  /** Writes down how today stands; the last look of a day stays. */
  async recordToday(): Promise<void> {
    await this.record(await this.coverage());
  }

  private async record(cells: Cells): Promise<void> {
    const now = Date.now();
    const channels = guardedChannels(cells, CHANNELS);
    const { heard } = await this.machines({ from: now - HEARD_DAYS * DAY_MS, to: now });
    const sum = (of: 'kinds' | 'guardedForAll') =>
      channels.reduce((total, channel) => total + channel[of], 0);
    const today: GuardDayEntity = {
      day: asText(now).slice(0, 10),
      kinds: Math.max(0, ...channels.map(({ kinds }) => kinds)),
      guarded: sum('guardedForAll'),
      possible: sum('kinds'),
      people: peopleGuarded(cells),
      machines: heard,
    };
    // Mostly it stands so already, and reading takes less than writing.
    if (!(await this.manager.existsBy(GuardDayEntity, today)))
      await this.manager.upsert(GuardDayEntity, today, ['day']);
  }

  private async coverage(): Promise<Cells> {
    const document = this.published.current?.document;
    return document ? this.state.coverage(document, Date.now()) : [];
  }

  private async counted(counted: Counted, buckets: readonly Period[]): Promise<GuardView['sensitive']> {
    const counts = await this.tally.byBucket(counted, buckets);
    const [first] = buckets;
    const last = buckets.at(-1);
    const period = { from: first?.from ?? 0, to: last?.to ?? 0 };
    return {
      count: counts.reduce((sum, count) => sum + count, 0),
      counts,
      filter: printFilter(behind(counted.filter, period)),
    };
  }

  private async channels(
    cells: Cells,
    period: Period,
    { filter, sight }: Pick<Counted, 'filter' | 'sight'>,
  ): Promise<GuardView['channels']> {
    const moved = await this.tally.byValue(
      { listed: 'movements', filter, sight },
      period,
      'channel',
      CHANNELS.length,
    );
    const counts = new Map(moved.map(({ raw, count }) => [raw, count]));
    return guardedChannels(cells, CHANNELS).map((channel) => ({
      ...channel,
      movements: counts.get(channel.channel) ?? 0,
      filter: this.reading.line(filter, period, { field: 'channel', value: channel.channel }),
    }));
  }

  private async labelChanges(buckets: readonly Period[]): Promise<GuardView['labelChanges']> {
    const [first] = buckets;
    const last = buckets.at(-1);
    if (!first || !last) return [];
    const rows = await this.manager.query<
      { how: LabelledHow; shift: Exclude<LabelShift, 'same'>; at: Date }[]
    >('SELECT how, shift, at FROM label_change WHERE at >= ? AND at < ?', [
      new Date(first.from),
      new Date(last.to),
    ]);
    const found = new Map<
      string,
      { how: LabelledHow; shift: Exclude<LabelShift, 'same'>; counts: number[] }
    >();
    for (const { how, shift, at } of rows) {
      const known = found.get(`${how} ${shift}`) ?? { how, shift, counts: buckets.map(() => 0) };
      const bucket = buckets.findIndex(({ to }) => new Date(at).getTime() < to);
      known.counts[bucket] = (known.counts[bucket] ?? 0) + 1;
      found.set(`${how} ${shift}`, known);
    }
    const sum = (counts: readonly number[]) => counts.reduce((total, count) => total + count, 0);
    return [...found.values()].sort((one, other) => sum(other.counts) - sum(one.counts));
  }

  private async machines({ from, to }: Period): Promise<GuardView['machines']> {
    const all = await this.manager.find(MachineEntity, { select: { name: true }, order: { name: 'ASC' } });
    const counted: Counted = { listed: 'movements', filter: EVERYTHING, sight: WHOLE_SIGHT };
    const rows =
      all.length > 0 ? await this.tally.byValue(counted, { from, to }, 'machine', MOST_MACHINES) : [];
    const heard = new Set(rows.map(({ raw }) => String(raw).toLowerCase()));
    const silent = all.flatMap(({ name }) => (heard.has(name.toLowerCase()) ? [] : [name]));
    return { all: all.length, heard: all.length - silent.length, silent: silent.slice(0, MOST_NAMED) };
  }

  private async days(): Promise<GuardView['days']> {
    const rows = await this.manager.find(GuardDayEntity, { order: { day: 'DESC' }, take: DAYS_SHOWN });
    return rows.reverse().map(({ possible, ...day }) => ({ ...day, of: possible }));
  }
}

const asText = (at: number): string => new Date(at).toISOString();
