import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { DocumentsJob, DocumentsRequest, SampleSide } from '@lantern/contracts';
import { MAX_SAMPLES } from '@lantern/core/detection';
import { ProcessPool } from '@lantern/processes';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { DataSource, Not, Repository } from 'typeorm';
import { compiled } from '../../platform/processes/compiled.js';
import { InspectionService } from '../../inspection/inspection.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Config, CONFIG } from '../../platform/config.js';
import { sealedUpload } from '../../platform/http/sealed-uploads.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { sealJson, unsealJson } from '../../platform/sealing.js';
import { demandFreeName } from '../free-name.js';
import {
  DocumentPatternEntity,
  DocumentPieceEntity,
  DocumentSampleEntity,
} from '../../inspection/sources/document-pattern.entity.js';
import { DocumentSources } from '../../inspection/sources/document-sources.js';
import type { KnownSample, LearnMessage, LearnOrder, LearntSample } from './learn-tasks.js';

/** What becomes of learning can be asked this long. */
const JOB_KEPT_MS = 60 * 60_000;
/** Heap of the process that reads and learns: all samples as text, and one file expanded to its limit. */
const HEAP_MEGABYTES = 1_536;
/** The most samples there may be, each at its slowest. */
const WITHIN_MS = 30 * 60_000;
const LONGEST_NAME = 200;

/** A file that was uploaded as a sample. */
export interface SampleFile {
  readonly path: string;
  readonly name: string;
  readonly side: SampleSide;
}

interface Learning {
  readonly request: DocumentsRequest;
  readonly caller: Caller;
  readonly before: DocumentPatternEntity | null;
}

const placeOf = (id: string): string => `sample ${id}`;

/** Learns patterns from sample documents in a thread of its own; samples stay sealed, to be learnt from again. */
@Injectable()
export class DocumentsService implements OnApplicationShutdown {
  private readonly jobs = new Map<string, DocumentsJob>();
  private readonly pool = new ProcessPool({
    module: compiled('./learn-tasks.js', import.meta.url),
    processes: 1,
    heapMegabytes: HEAP_MEGABYTES,
    residentMegabytes: HEAP_MEGABYTES + 800,
    timeoutMs: WITHIN_MS,
  });

  constructor(
    @InjectRepository(DocumentPatternEntity) private readonly entities: Repository<DocumentPatternEntity>,
    @InjectRepository(DocumentSampleEntity) private readonly samples: Repository<DocumentSampleEntity>,
    private readonly database: DataSource,
    private readonly sources: DocumentSources,
    private readonly inspection: InspectionService,
    private readonly live: LiveEvents,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** Begins to learn from files and, where `id` is given, from the samples it has; the files are removed at the end. */
  async begin(
    request: DocumentsRequest,
    files: readonly SampleFile[],
    caller: Caller,
    id?: string,
  ): Promise<DocumentsJob> {
    try {
      const before = id === undefined ? null : await this.get(id);
      if (before && before.version !== request.version) throw changed(before);
      await demandFreeName(this.database, request.name, id ?? '');
      const known = before ? await this.known(before.id, new Set(request.drop)) : [];
      if (known.length + files.length > MAX_SAMPLES)
        throw new AppError(
          'invalid-request',
          `At most ${MAX_SAMPLES} samples are learnt from, and this would make ${known.length + files.length}.`,
        );
      const learns = before?.learns ?? request.learns;
      return this.start({ request, caller, before }, { learns, known, files: files.map(withId) });
    } catch (error) {
      await forget(files);
      throw error;
    }
  }

  job(id: string): DocumentsJob {
    const job = this.jobs.get(id);
    if (!job) throw new AppError('not-found', 'This learning job does not exist.');
    return job;
  }

  list(): Promise<DocumentPatternEntity[]> {
    return this.entities.find({ order: { name: 'ASC' } });
  }

  samplesOf(id: string): Promise<DocumentSampleEntity[]> {
    return this.samples.find({ where: { pattern: id }, order: { place: 'ASC' } });
  }

  async remove(id: string): Promise<void> {
    await this.database.transaction(async (manager) => {
      await manager.delete(DocumentPieceEntity, { pattern: id });
      await manager.delete(DocumentSampleEntity, { pattern: id });
      await manager.delete(DocumentPatternEntity, { id });
    });
    this.sources.remove(id);
    this.inspection.refresh();
    this.live.publish({ kind: 'drafts-changed' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.pool.destroy();
  }

  private start(learning: Learning, order: LearnOrder): DocumentsJob {
    const job: DocumentsJob = {
      id: randomUUID(),
      status: 'running',
      step: 'reading',
      done: 0,
      of: order.files.length,
      pattern: null,
      refused: [],
      sentence: null,
    };
    this.jobs.set(job.id, job);
    setTimeout(() => this.jobs.delete(job.id), JOB_KEPT_MS).unref();
    const fail = (sentence: string): void => this.report(job.id, { status: 'failed', sentence });
    const heard = (message: unknown): void => this.heard(job.id, message as LearnMessage, learning, fail);
    void this.pool
      .run<LearnMessage>('learn', order, { onProgress: heard })
      .then((outcome) => {
        if (outcome.status === 'done') heard(outcome.value);
        else
          fail(
            outcome.reason === 'too-much-memory'
              ? 'There is not enough memory. The previous version is still in use.'
              : 'The samples could not be read completely. The previous version is still in use.',
          );
      })
      .finally(() => forget(order.files.map(({ upload }) => upload)));
    return job;
  }

  private heard(
    job: string,
    message: LearnMessage,
    learning: Learning,
    fail: (sentence: string) => void,
  ): void {
    if (message.kind === 'progress') {
      const { step, done, of } = message;
      this.report(job, { step, done, of });
      return;
    }
    const { refused } = message;
    if (message.kind === 'failed') {
      this.report(job, { status: 'failed', sentence: message.sentence, refused });
      return;
    }
    this.keep(message, learning).then(
      (pattern) => this.report(job, { status: 'done', pattern, refused }),
      (error: unknown) =>
        fail(
          error instanceof AppError
            ? error.message
            : 'The result could not be stored. The previous version is still in use.',
        ),
    );
  }

  private async keep(
    { source, samples, report }: Extract<LearnMessage, { kind: 'done' }>,
    { request, caller, before }: Learning,
  ): Promise<string> {
    const id = before?.id ?? randomUUID();
    const version = (before?.version ?? 0) + 1;
    const fields = {
      name: request.name.trim(),
      about: request.about,
      leastShare: request.leastShare,
      report,
      version,
      updatedAt: new Date(),
      updatedBy: caller.name,
    };
    await this.database.transaction(async (manager) => {
      if (before) {
        const kept = await manager.update(DocumentPatternEntity, { id, version: before.version }, fields);
        if (kept.affected === 0) throw changed(before);
      } else {
        await manager.insert(DocumentPatternEntity, { id, learns: request.learns, ...fields });
      }
      await manager.delete(DocumentSampleEntity, { pattern: id });
      for (const [place, sample] of samples.entries())
        await manager.insert(DocumentSampleEntity, await this.rowOf(id, place, sample));
      for (const piece of await this.sources.piecesOf(id, version, source))
        await manager.insert(DocumentPieceEntity, piece);
      await manager.delete(DocumentPieceEntity, { pattern: id, version: Not(version) });
    });
    this.sources.put(id, version, source);
    this.inspection.refresh();
    this.live.publish({ kind: 'drafts-changed' });
    return id;
  }

  private async rowOf(pattern: string, place: number, sample: LearntSample): Promise<DocumentSampleEntity> {
    const { id, name, side, text, fingerprints, certainty } = sample;
    const sealed = await sealJson(this.config.keys.installation, placeOf(id), text);
    return { id, pattern, name, side, place, characters: text.length, fingerprints, certainty, sealed };
  }

  private async known(pattern: string, dropped: ReadonlySet<string>): Promise<KnownSample[]> {
    const known: KnownSample[] = [];
    for (const { id, name, side } of await this.samplesOf(pattern)) {
      if (dropped.has(id)) continue;
      const { sealed } = await this.samples.findOneOrFail({
        select: { id: true, sealed: true },
        where: { id },
      });
      const text = (await unsealJson(this.config.keys.installation, placeOf(id), sealed)) as string;
      known.push({ id, name, side, text });
    }
    return known;
  }

  private async get(id: string): Promise<DocumentPatternEntity> {
    const entity = await this.entities.findOneBy({ id });
    if (!entity) throw new AppError('not-found', 'There is no such pattern.');
    return entity;
  }

  private report(id: string, changes: Partial<DocumentsJob>): void {
    const job = this.jobs.get(id);
    if (job && job.status === 'running') this.jobs.set(id, { ...job, ...changes });
  }
}

const withId = ({ path, name, side }: SampleFile) => ({
  id: randomUUID(),
  upload: sealedUpload(path),
  name: name.slice(-LONGEST_NAME),
  side,
});

const changed = ({ updatedBy, version }: DocumentPatternEntity): AppError =>
  new AppError(
    'changed-meanwhile',
    `${updatedBy} changed these samples in the meantime. Check them before you learn again.`,
    { details: { by: updatedBy, version } },
  );

async function forget(files: readonly { readonly path: string }[]): Promise<void> {
  await Promise.all(files.map(({ path }) => rm(path, { force: true })));
}
