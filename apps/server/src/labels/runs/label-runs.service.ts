import { randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import type { LabelRunItemsQuery, LabelRunPage, LabelRunRequest, LabelRunView } from '@lantern/contracts';
import { NO_LABELS, type WholeLabelSet } from '@lantern/core/labels';
import type { RunFile, RunFileResult } from '@lantern/files';
import { ProcessPool } from '@lantern/processes';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { DocumentSources } from '../../inspection/sources/document-sources.js';
import { OwnPatternsService } from '../../patterns/own-patterns.service.js';
import { RecordSources } from '../../inspection/sources/record-sources.js';
import type { Caller } from '../../platform/auth/permit.js';
import { likeAnywhere } from '../../platform/database/like.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { LabelChangeEntity } from '../label-change.entity.js';
import { LabelDraftsService } from '../label-drafts.service.js';
import { LabelRunEntity, LabelRunItemEntity } from './label-run.entity.js';
import { type PlaceEntity } from '../../directory/place.entity.js';
import { type PlaceFile, PlacesService } from './places.service.js';
import { LabelRunUndo } from './label-run-undo.service.js';
import { NO_FIGURES, withFile } from './run-figures.js';
import { runFiles } from './run-files.js';
import { compiled } from '../../platform/processes/compiled.js';
import { labelsOf } from '../../published/published-labels.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { demandPublished } from './published-rules.js';
import { changeOf, toItem, toView } from './run-rows.js';
import type { RunData } from './run-tasks.js';

/** Files handed to a worker together. */
const FILES_A_CALL = 8;
/** Files in work at once: two workers, each with one call in hand and one waiting. */
const FILES_AT_ONCE = FILES_A_CALL * 4;
const KEPT_RUNS = 50;
const MOST_ITEMS = 1_000;
const HEAP_MEGABYTES = 1_024;
const RESIDENT_MEGABYTES = 1_800;
const PROCESSES = 2;
/** A file that takes longer is passed over, and the run goes on. */
const FILE_WITHIN_MS = 30_000;

interface Work {
  readonly place: PlaceEntity;
  readonly file: PlaceFile;
}

/** Automatic rules over places: look first, then label, stop, go on and undo. One run at a time. */
@Injectable()
export class LabelRunsService implements OnModuleInit, OnApplicationShutdown {
  private readonly log = new Logger('label runs');
  private line: Promise<unknown> = Promise.resolve();
  private readonly stopped = new Set<string>();
  private readonly stoppers = new Map<string, AbortController>();
  private closing = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: PlacesService,
    private readonly drafts: LabelDraftsService,
    private readonly published: PublishedRevision,
    private readonly ownPatterns: OwnPatternsService,
    private readonly records: RecordSources,
    private readonly documents: DocumentSources,
    private readonly live: LiveEvents,
    private readonly undoer: LabelRunUndo,
  ) {}

  /** A server that died while one ran says so; the run can go on from where it was. */
  async onModuleInit(): Promise<void> {
    await this.manager.update(LabelRunEntity, { state: In(['waiting', 'running']) }, { state: 'cut-off' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    for (const stopper of this.stoppers.values()) stopper.abort();
    await this.line.catch(() => undefined);
  }

  async list(): Promise<LabelRunView[]> {
    const rows = await this.manager.find(LabelRunEntity, { order: { startedAt: 'DESC' }, take: KEPT_RUNS });
    return this.toViews(rows);
  }

  async get(id: string): Promise<LabelRunView> {
    const [view] = await this.toViews([await this.find(id)]);
    if (!view) throw new AppError('not-found', 'There is no such run.');
    return view;
  }

  async start(request: LabelRunRequest, caller: Caller): Promise<LabelRunView> {
    if (request.look !== undefined) return this.carryOut(request.look, caller);
    const places = await this.places.find(request.places);
    if (request.places.length > 0 && places.length < new Set(request.places).size)
      throw new AppError('not-found', 'One of these places no longer exists. Nothing was started.');
    const set = await this.drafts.set();
    const known = new Set(set.automatic.map(({ id }) => String(id)));
    const rules = request.rules.length > 0 ? request.rules : [...known];
    if (rules.length === 0 || rules.some((id) => !known.has(id)))
      throw new AppError('not-found', 'This automatic rule does not exist. Nothing was started.');
    const must = (await this.drafts.problems(set)).filter(
      ({ id, of }) => of === 'automatic' && rules.includes(id),
    );
    const [fault] = must.filter(({ code }) => code !== 'no-condition');
    if (fault)
      throw new AppError(
        'problems-remain',
        `"${fault.name}" has problems. Fix them before you run it. Nothing was started.`,
        {
          details: { problems: must.length },
        },
      );
    const automatic = set.automatic.filter(({ id }) => rules.includes(id));
    if (request.does === 'label') demandPublished(automatic, labelsOf(this.published.current?.document));
    const run = this.manager.create(LabelRunEntity, {
      id: randomUUID(),
      does: request.does,
      state: 'waiting',
      startedAt: new Date(),
      startedBy: caller.name,
      places: places.map(({ id }) => id),
      rules,
      snapshot: { automatic, labels: set.labels },
      pace: request.pace ?? null,
      total: 0,
      seen: 0,
      seconds: 0,
      figures: NO_FIGURES,
    });
    await this.manager.save(run);
    this.enqueue(run.id);
    return this.get(run.id);
  }

  /** Labels what a finished look said it would, by the same rules whatever became of the drafts, and no faster. */
  private async carryOut(lookId: string, caller: Caller): Promise<LabelRunView> {
    const look = await this.find(lookId);
    if (look.does !== 'look' || look.state !== 'done' || !look.snapshot)
      throw new AppError('act-refused', 'Only a finished preview can be applied. Run the preview again.');
    const { places, rules, pace, snapshot } = look;
    demandPublished(snapshot.automatic, labelsOf(this.published.current?.document));
    const run = this.manager.create(LabelRunEntity, {
      ...{ id: randomUUID(), does: 'label', state: 'waiting', startedAt: new Date(), startedBy: caller.name },
      ...{ places, rules, pace, snapshot, total: 0, seen: 0, seconds: 0, figures: NO_FIGURES },
    });
    await this.manager.save(run);
    this.enqueue(run.id);
    return this.get(run.id);
  }

  async stop(id: string): Promise<void> {
    const run = await this.find(id);
    if (run.state !== 'waiting' && run.state !== 'running') return;
    this.stopped.add(id);
    this.stopper(id).abort();
    if (run.state === 'waiting') await this.note(id, { state: 'stopped' });
  }

  /** Goes on from the file after the last one seen. */
  async resume(id: string): Promise<LabelRunView> {
    const run = await this.find(id);
    if (run.state !== 'stopped' && run.state !== 'cut-off')
      throw new AppError('act-refused', 'Only a stopped or interrupted run can be continued.');
    this.stopped.delete(id);
    this.stoppers.delete(id);
    await this.note(id, { state: 'waiting' });
    this.enqueue(id);
    return this.get(id);
  }

  /** Puts back what every file carried before, except where somebody changed its label since. */
  async undo(id: string, caller: Caller): Promise<LabelRunView> {
    const run = await this.find(id);
    if (run.does !== 'label' || run.state === 'running' || run.state === 'waiting' || run.state === 'undone')
      throw new AppError('act-refused', 'Only a finished or stopped run that labelled can be undone.');
    await this.note(id, { state: 'running' });
    this.line = this.line
      .then(() => this.undoing(run, caller))
      .catch((error: unknown) => this.fail(id, error));
    return this.get(id);
  }

  async items(id: string, query: LabelRunItemsQuery): Promise<LabelRunPage> {
    await this.find(id);
    const builder = this.manager.createQueryBuilder(LabelRunItemEntity, 'i').where('i.runId = :id', { id });
    if (query.outcome) builder.andWhere('i.outcome = :outcome', { outcome: query.outcome });
    if (query.search) builder.andWhere('i.path LIKE :like', { like: likeAnywhere(query.search) });
    const total = await builder.getCount();
    if (query.after) builder.andWhere('i.id > :after', { after: query.after });
    const rows = await builder.orderBy('i.id', 'ASC').take(MOST_ITEMS).getMany();
    const set = await this.drafts.set();
    const places = new Map((await this.places.find([])).map((place) => [place.id, place.name]));
    return { items: rows.map((row) => toItem(row, set, places)), total };
  }

  /** Ends at once what a run is looking at. */
  private stopper(id: string): AbortController {
    const known = this.stoppers.get(id) ?? new AbortController();
    this.stoppers.set(id, known);
    return known;
  }

  private enqueue(id: string): void {
    this.line = this.line.then(() => this.run(id)).catch((error: unknown) => this.fail(id, error));
  }

  private async fail(id: string, error: unknown): Promise<void> {
    this.log.error(`A run ended by itself: ${error instanceof Error ? error.name : 'unknown'}`);
    await this.note(id, { state: 'failed' }).catch(() => undefined);
  }

  private async run(id: string): Promise<void> {
    const run = await this.find(id);
    if (run.state !== 'waiting' || this.closing) return;
    // As the rules were when it was started: what is drafted meanwhile is another run's.
    const set = run.snapshot ? { ...NO_LABELS, ...run.snapshot } : await this.drafts.set();
    const rules = set.automatic.filter((rule) => run.rules.includes(rule.id));
    const work = await this.workOf(run);
    await this.note(id, { state: 'running', total: work.length });
    const pool = await this.poolOf(run, rules, set);
    try {
      await this.through(run, work, { pool, rules, set });
    } finally {
      pool.destroy();
      this.stoppers.delete(id);
    }
    const state = this.closing ? 'cut-off' : this.stopped.has(id) ? 'stopped' : 'done';
    this.stopped.delete(id);
    await this.note(id, { state });
  }

  private async workOf(run: LabelRunEntity): Promise<Work[]> {
    const places = await this.places.find(run.places);
    const lists = await Promise.all(
      places.map(async (place) => (await this.places.filesOf(place)).map((file) => ({ place, file }))),
    );
    return lists.flat();
  }

  private async through(
    run: LabelRunEntity,
    work: readonly Work[],
    { pool, rules, set }: { pool: ProcessPool; rules: WholeLabelSet['automatic']; set: WholeLabelSet },
  ): Promise<void> {
    let { seen, figures, seconds } = run;
    let began = Date.now();
    const limits = new Map(
      rules.flatMap(({ id, atMost }) => (atMost === null ? [] : [[String(id), atMost] as const])),
    );
    // A rule with a limit is counted file by file.
    const atOnce = limits.size > 0 && run.does === 'label' ? 1 : FILES_AT_ONCE;
    while (seen < work.length && !this.stopped.has(run.id) && !this.closing) {
      const slice = work.slice(seen, seen + (run.pace === null ? atOnce : Math.min(run.pace, atOnce)));
      const spent = [...limits]
        .filter(([rule, most]) => (figures.byRule[rule] ?? 0) >= most)
        .map(([rule]) => rule);
      const results = await this.inProcesses(pool, slice, { spent, signal: this.stopper(run.id).signal });
      // What was cut off by a stop was not seen: the run goes on from there.
      if (this.stopped.has(run.id) || this.closing) break;
      slice.forEach(({ place }, index) => {
        const result = results[index];
        if (result) figures = withFile(figures, place.name, result, set.labels);
      });
      seen += slice.length;
      const now = Date.now();
      if (run.pace !== null) await wait(Math.max(0, (slice.length / run.pace) * 1_000 - (now - began)));
      seconds += (Date.now() - began) / 1_000;
      began = Date.now();
      await this.keep(run, { slice, results, set, seen, figures, seconds });
    }
  }

  private async inProcesses(
    pool: ProcessPool,
    slice: readonly Work[],
    { spent, signal }: { readonly spent: readonly string[]; readonly signal: AbortSignal },
  ): Promise<RunFileResult[]> {
    const calls: Promise<RunFileResult[]>[] = [];
    for (let at = 0; at < slice.length; at += FILES_A_CALL) {
      const files = slice.slice(at, at + FILES_A_CALL).map(({ place, file }): RunFile => ({
        folder: this.places.folderOf(place),
        path: file.path,
        placeName: place.name,
        owner: place.owner,
        sharedOutside: place.sharedOutside.length > 0,
        spent,
      }));
      calls.push(runFiles(pool, files, signal));
    }
    return (await Promise.all(calls)).flat();
  }

  /** Items, changes and figures in one transaction: a server that dies goes on exactly behind it. */
  private async keep(
    run: LabelRunEntity,
    done: {
      readonly slice: readonly Work[];
      readonly results: readonly RunFileResult[];
      readonly set: WholeLabelSet;
      readonly seen: number;
      readonly figures: LabelRunEntity['figures'];
      readonly seconds: number;
    },
  ): Promise<void> {
    const { slice, results, set, seen, figures, seconds } = done;
    const rows = slice.flatMap(({ place, file }, index) => {
      const result = results[index];
      return result ? [{ place, file, result }] : [];
    });
    await this.manager.transaction(async (manager) => {
      const items = rows
        .filter(({ result }) => result.outcome !== 'nothing')
        .map(({ place, file, result }) =>
          manager.create(LabelRunItemEntity, {
            runId: run.id,
            placeId: place.id,
            path: file.path.slice(0, 500),
            outcome: result.outcome,
            before: result.before,
            labelId: result.label,
            ruleId: result.rule,
            outranked: [...result.outranked],
            held: [...result.held],
            reason: result.reason,
            applied: result.applied,
            setAt: result.setAt,
          }),
        );
      await manager.save(items, { chunk: 200 });
      const changes = rows
        .filter(({ result }) => result.applied)
        .map(({ place, file, result }) => changeOf(run.id, place, file, { result, set }));
      await manager.save(
        changes.map((change) => manager.create(LabelChangeEntity, change)),
        { chunk: 200 },
      );
      await manager.update(LabelRunEntity, { id: run.id }, { seen, figures, seconds });
    });
    this.live.publish({ kind: 'label-run-changed', id: run.id });
  }

  private async poolOf(
    run: LabelRunEntity,
    rules: WholeLabelSet['automatic'],
    set: WholeLabelSet,
  ): Promise<ProcessPool> {
    const data: RunData = {
      rules,
      labels: set.labels,
      does: run.does,
      own: await this.ownPatterns.drafts(),
      records: this.records.all(),
      documents: this.documents.all(),
    };
    return new ProcessPool({
      module: compiled('./run-tasks.js', import.meta.url),
      data,
      processes: PROCESSES,
      // Both stay while it runs: one that is let go between two pages compiles everything anew.
      keep: PROCESSES,
      heapMegabytes: HEAP_MEGABYTES,
      residentMegabytes: RESIDENT_MEGABYTES,
      timeoutMs: FILE_WITHIN_MS,
    });
  }

  private async undoing(run: LabelRunEntity, caller: Caller): Promise<void> {
    const whole = await this.undoer.undo(run, caller, () => this.closing);
    await this.note(run.id, { state: whole ? 'undone' : 'cut-off' });
  }

  private async note(id: string, change: Partial<LabelRunEntity>): Promise<void> {
    await this.manager.update(LabelRunEntity, { id }, change);
    this.live.publish({ kind: 'label-run-changed', id });
  }

  private async find(id: string): Promise<LabelRunEntity> {
    const run = await this.manager.findOneBy(LabelRunEntity, { id });
    if (!run) throw new AppError('not-found', 'There is no such run.');
    return run;
  }

  private async toViews(rows: readonly LabelRunEntity[]): Promise<LabelRunView[]> {
    const names = new Map((await this.places.find([])).map(({ id, name }) => [id, name]));
    const patterns = await this.drafts.patternNames();
    return rows.map((row) => toView(row, names, patterns));
  }
}
