import { randomUUID } from 'node:crypto';
import type { JobEstimate, JobRequest, JobView } from '@lantern/contracts/discovery';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, LessThanOrEqual } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { nextRun } from '../../platform/schedule.js';
import { DiscoveryPlaces } from '../places/places.service.js';
import { Readers } from '../readers/readers.service.js';
import { type JobDefinition, JobEntity, RunEntity } from './job.entity.js';
import { Runs } from './runs.service.js';

const SWEEP_MS = 20_000;
/** Runs of a job that its view lists. */
const LISTED_RUNS = 10;
/** Items a second of a reader that was never measured: a careful guess for a small machine. */
const GUESSED_PACE = 40;

/** Named jobs: where to look, for what, when, and how far to go. */
@Injectable()
export class Jobs implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('discovery');
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: DiscoveryPlaces,
    private readonly readers: Readers,
    private readonly runs: Runs,
    private readonly live: LiveEvents,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async list(): Promise<JobView[]> {
    const jobs = await this.manager.find(JobEntity, { order: { name: 'ASC' } });
    return Promise.all(
      jobs.map(async (job) => {
        const runs = await this.manager.find(RunEntity, {
          where: { jobId: job.id },
          order: { startedAt: 'DESC' },
          take: LISTED_RUNS,
        });
        const names = new Map(
          (await this.places.find(job.definition.places)).map(({ id, name }) => [id, name]),
        );
        return {
          ...{ id: job.id, name: job.name, definition: job.definition, active: job.active },
          placeNames: job.definition.places.flatMap((id) => names.get(id) ?? []),
          nextAt: job.nextAt?.toISOString() ?? null,
          version: job.version,
          runs: await this.runs.views(runs, new Map([[job.id, job.name]])),
        };
      }),
    );
  }

  async save(id: string | null, request: JobRequest, now = new Date()): Promise<{ readonly id: string }> {
    const { name: given, active, version, ...definition } = request;
    const name = given.trim();
    const places = await this.places.find(definition.places);
    if (places.length < definition.places.length)
      throw new AppError('not-found', 'One of these places no longer exists. Nothing was saved.');
    if (definition.step === 'protect' && !definition.protect)
      throw new AppError('invalid-request', 'Say what is to be protected. Nothing was saved.');
    const next = active && definition.schedule ? nextRun(definition.schedule, now.getTime()) : null;
    const row = {
      ...{ name, active, definition: definition as JobDefinition },
      nextAt: next === null ? null : new Date(next),
    };
    const jobId = id ?? randomUUID();
    if (id === null) await this.manager.insert(JobEntity, { id: jobId, ...row, version: 1 });
    else {
      const known = await this.get(id);
      const changed = await this.manager.update(
        JobEntity,
        { id, version: version ?? known.version },
        { ...row, version: known.version + 1 },
      );
      if (!changed.affected)
        throw new AppError(
          'changed-meanwhile',
          'Somebody changed this job meanwhile. Nothing was saved. Look at it again.',
          { details: { by: '' } },
        );
    }
    this.live.publish({ kind: 'discovery-changed' });
    return { id: jobId };
  }

  /** Removes a job with its runs; what they found stays at its places. */
  async remove(id: string): Promise<void> {
    await this.get(id);
    if (await this.runs.isAtWork(id))
      throw new AppError('in-use', 'This job is running. Stop its run first. Nothing was removed.');
    await this.manager.delete(JobEntity, { id });
    this.live.publish({ kind: 'discovery-changed' });
  }

  async start(id: string, by: string): Promise<{ readonly id: string }> {
    return this.runs.start(await this.get(id), by);
  }

  /** What the job would take, by what is known of its places. */
  async estimate(ids: readonly string[]): Promise<JobEstimate> {
    const places = await this.places.find(ids);
    const atWork = await this.readers.groupsAtWork();
    const rows = await this.manager.query<{ placeId: string; items: string; bytes: string }[]>(
      `SELECT placeId, COUNT(*) AS items, SUM(bytes) AS bytes FROM discovery_item
       WHERE state <> 'gone' AND placeId IN (?) GROUP BY placeId`,
      [ids.length > 0 ? ids : ['']],
    );
    const known = new Map(rows.map((row) => [row.placeId, row]));
    const counted = places.map(({ id, checked }) => ({
      items: Math.max(Number(known.get(id)?.items ?? 0), checked.items ?? 0),
      bytes: Math.max(Number(known.get(id)?.bytes ?? 0), checked.bytes ?? 0),
    }));
    const items = counted.reduce((sum, place) => sum + place.items, 0);
    const pace = await this.runs.measuredPace();
    const namesOf = (some: typeof places): string[] => some.map(({ name }) => name);
    return {
      items,
      bytes: counted.reduce((sum, { bytes }) => sum + bytes, 0),
      seconds: Math.ceil(items / (pace ?? GUESSED_PACE)),
      isGuess: pace === null,
      unknown: namesOf(places.filter(({ checked }) => checked.items === null)),
      empty: namesOf(places.filter(({ checked }) => checked.state === 'empty')),
      withoutReader: namesOf(places.filter(({ groupName }) => !atWork.has(groupName))),
    };
  }

  /** Starts what is due; a run that was missed while the server was away is made up for, once. */
  async sweep(now: Date): Promise<void> {
    const due = await this.manager.find(JobEntity, { where: { active: true, nextAt: LessThanOrEqual(now) } });
    for (const job of due) {
      const next = job.definition.schedule ? nextRun(job.definition.schedule, now.getTime()) : null;
      // Whoever moves the time on starts the run: two servers never both.
      const { affected } = await this.manager.update(
        JobEntity,
        { id: job.id, nextAt: In([job.nextAt]) },
        { nextAt: next === null ? null : new Date(next) },
      );
      if (!affected || (await this.runs.isAtWork(job.id))) continue;
      await this.runs.start(job, 'Schedule').catch((error: unknown) => {
        this.log.warn(`A planned run did not start: ${error instanceof Error ? error.name : 'unknown'}`);
      });
    }
  }

  private async get(id: string): Promise<JobEntity> {
    const job = await this.manager.findOneBy(JobEntity, { id });
    if (!job) throw new AppError('not-found', 'There is no such job.');
    return job;
  }
}
