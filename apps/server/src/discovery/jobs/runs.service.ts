import { randomUUID } from 'node:crypto';
import type { RunPlaceView, RunView } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryContext } from '../discovery-context.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { Readers } from '../readers/readers.service.js';
import { ItemEntity } from '../results/item.entity.js';
import { PartEntity } from '../parts/part.entity.js';
import { Parts } from '../parts/parts.service.js';
import { WhatRunsLookFor } from './looked-for.service.js';
import { JobEntity, RunEntity, type RunFigures } from './job.entity.js';

const NOTHING: RunFigures = {
  ...{ items: 0, unchanged: 0, read: 0, unreadable: 0, sensitive: 0, labelled: 0, bytes: 0, leftOut: {} },
};
/** Pace is measured over this stretch. */
const PACE_MS = 60_000;

interface PartCount {
  readonly runId: string;
  readonly placeId: string;
  readonly kind: string;
  readonly state: string;
  readonly problem: RunPlaceView['problem'];
  readonly count: string;
}

/** Jobs at work: begun, paused, gone on with, stopped. Everything about a run stands in the database, so that it survives. */
@Injectable()
export class Runs {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly readers: Readers,
    private readonly parts: Parts,
    private readonly looked: WhatRunsLookFor,
    private readonly live: LiveEvents,
  ) {}

  /** Begins a run: each place is listed first, and read as it is listed. */
  async start(job: JobEntity, by: string): Promise<{ readonly id: string }> {
    const id = randomUUID();
    await this.manager.transaction(async (manager) => {
      // The row of the job is the lock: a job runs once at a time.
      await manager.findOne(JobEntity, { where: { id: job.id }, lock: { mode: 'pessimistic_write' } });
      if (await manager.existsBy(RunEntity, { jobId: job.id, state: In(['running', 'paused']) }))
        throw new AppError('act-refused', 'This job is running already. Nothing was started.');
      const places = await manager.findBy(DiscoveryPlaceEntity, { id: In(job.definition.places) });
      if (places.length === 0)
        throw new AppError('not-found', 'All places of this job were removed. Nothing was started.');
      const lookedFor = await this.looked.now(manager);
      await manager.insert(RunEntity, {
        ...{ id, jobId: job.id, definition: job.definition, state: 'running', startedAt: new Date() },
        ...{ endedAt: null, startedBy: by, revision: this.context.lookedFor.revision },
        ...{ lookedFor, figures: NOTHING },
      });
      await this.parts.add(
        manager,
        places.map((place) => ({ kind: 'list', place, runId: id, content: {} })),
      );
    });
    this.live.publish({ kind: 'discovery-changed' });
    return { id };
  }

  async pause(id: string): Promise<void> {
    await this.change(id, 'running', 'paused');
  }

  async resume(id: string): Promise<void> {
    await this.change(id, 'paused', 'running');
    this.parts.wake();
  }

  /** Ends a run: what was read stays, what is in hand is dropped. */
  async stop(id: string): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const changed = await manager.update(
        RunEntity,
        { id, state: In(['running', 'paused']) },
        { state: 'stopped', endedAt: new Date() },
      );
      if (!changed.affected) throw new AppError('act-refused', 'This run has ended.');
      await manager.update(
        PartEntity,
        { runId: id, state: In(['waiting', 'taken']) },
        { state: 'stopped', endedAt: new Date() },
      );
      await manager.update(ItemEntity, { dueRun: id }, { dueRun: null });
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  isAtWork(jobId: string): Promise<boolean> {
    return this.manager.existsBy(RunEntity, { jobId, state: In(['running', 'paused']) });
  }

  async get(id: string): Promise<RunEntity> {
    const run = await this.manager.findOneBy(RunEntity, { id });
    if (!run) throw new AppError('not-found', 'There is no such run.');
    return run;
  }

  /** Items a second of the last finished run that says enough; null where there is none. */
  async measuredPace(): Promise<number | null> {
    const [row] = await this.manager.query<{ pace: string }[]>(
      `SELECT JSON_VALUE(figures, '$.read') / (TIMESTAMPDIFF(MICROSECOND, startedAt, endedAt) / 1000000) AS pace
       FROM discovery_run WHERE state = 'done' AND JSON_VALUE(figures, '$.read') >= 20
       ORDER BY startedAt DESC LIMIT 1`,
    );
    const pace = Number(row?.pace ?? 0);
    return pace > 0 ? pace : null;
  }

  async view(id: string): Promise<RunView> {
    const run = await this.get(id);
    const job = await this.manager.findOneBy(JobEntity, { id: run.jobId });
    const [view] = await this.views([run], new Map([[run.jobId, job?.name ?? '']]));
    return view as RunView;
  }

  async views(runs: readonly RunEntity[], names: ReadonlyMap<string, string>): Promise<RunView[]> {
    if (runs.length === 0) return [];
    const ids = runs.map(({ id }) => id);
    const counts = await this.manager.query<PartCount[]>(
      `SELECT runId, placeId, kind, state, MAX(problem) AS problem, COUNT(*) AS count FROM discovery_part
       WHERE runId IN (?) GROUP BY runId, placeId, kind, state`,
      [ids],
    );
    const atWork = await this.readers.groupsAtWork();
    const places = new Map((await this.manager.find(DiscoveryPlaceEntity)).map((place) => [place.id, place]));
    return Promise.all(
      runs.map(async (run) => {
        const own = counts.filter(({ runId }) => runId === run.id);
        const { figures } = run;
        const leftOut = Object.values(figures.leftOut).reduce((sum, count) => sum + count, 0);
        const done = figures.read + figures.unreadable + figures.unchanged + leftOut;
        const pace = run.state === 'running' ? await this.paceOf(run) : null;
        return {
          ...{ id: run.id, jobId: run.jobId, jobName: names.get(run.jobId) ?? '', step: run.definition.step },
          ...{ state: run.state, startedAt: run.startedAt.toISOString(), startedBy: run.startedBy },
          ...{ endedAt: run.endedAt?.toISOString() ?? null, revision: run.revision },
          places: run.definition.places.flatMap((id): RunPlaceView[] => {
            const place = places.get(id);
            if (!place) return [];
            const of = own.filter(({ placeId }) => placeId === id);
            const state = stateOf(of);
            const open = state === 'waiting' || state === 'listing' || state === 'reading';
            const problem = of.find((part) => part.problem)?.problem ?? null;
            const withoutReader = open && run.state === 'running' && !atWork.has(place.groupName);
            return [{ id, name: place.name, state, problem, withoutReader }];
          }),
          items: figures.items,
          isListed: !own.some(
            ({ kind, state }) => kind === 'list' && (state === 'waiting' || state === 'taken'),
          ),
          ...{ done, readItems: figures.read, unchanged: figures.unchanged, leftOut: figures.leftOut },
          ...{ unreadable: figures.unreadable, sensitive: figures.sensitive, labelled: figures.labelled },
          ...{ toProtect: figures.toProtect ?? null, tooMany: figures.tooMany === true },
          ...{ bytes: figures.bytes, pace },
          secondsLeft: pace ? Math.ceil(Math.max(0, figures.items - done) / pace) : null,
        };
      }),
    );
  }

  private async paceOf({ id, startedAt }: RunEntity): Promise<number | null> {
    const now = Date.now();
    const since = Math.max(now - PACE_MS, startedAt.getTime());
    const [row] = await this.manager.query<{ read: string }[]>(
      `SELECT COUNT(*) AS \`read\` FROM discovery_item i JOIN discovery_run r ON r.id = ?
       WHERE i.seenRun = r.id AND i.readAt >= ?`,
      [id, new Date(since)],
    );
    const count = Number(row?.read ?? 0);
    return count > 0 ? count / Math.max(1, (now - since) / 1_000) : null;
  }

  private async change(id: string, from: 'running' | 'paused', state: 'running' | 'paused'): Promise<void> {
    const changed = await this.manager.update(RunEntity, { id, state: from }, { state });
    if (!changed.affected) throw new AppError('act-refused', `This run is not ${from}.`);
    this.live.publish({ kind: 'discovery-changed' });
  }
}

function stateOf(parts: readonly PartCount[]): RunPlaceView['state'] {
  const has = (kind: string, ...states: readonly string[]): boolean =>
    parts.some((part) => part.kind === kind && states.includes(part.state));
  if (has('list', 'failed') || has('read', 'failed')) return 'failed';
  if (has('list', 'stopped') || has('read', 'stopped')) return 'stopped';
  if (has('list', 'taken')) return 'listing';
  if (has('list', 'waiting')) return 'waiting';
  return has('read', 'waiting', 'taken') ? 'reading' : 'done';
}
