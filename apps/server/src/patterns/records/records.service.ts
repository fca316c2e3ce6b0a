import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { RecordJob, RecordPreview, RecordsRequest } from '@lantern/contracts';
import type { RecordShape } from '@lantern/core/detection';
import { ProcessPool } from '@lantern/processes';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { DataSource, Not, Repository } from 'typeorm';
import { compiled } from '../../platform/processes/compiled.js';
import { InspectionService } from '../../inspection/inspection.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { sealedUpload } from '../../platform/http/sealed-uploads.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { demandFreeName } from '../free-name.js';
import type { ImportMessage, PreviewReading, ImportOrder } from './import-tasks.js';
import { RecordChunkEntity, RecordSourceEntity } from '../../inspection/sources/record-source.entity.js';
import { RecordSources } from '../../inspection/sources/record-sources.js';

/** An uploaded file that nobody imports is removed after this. */
const UPLOAD_KEPT_MS = 60 * 60_000;
/** What becomes of an import can be asked this long. */
const JOB_KEPT_MS = 60 * 60_000;
/** Pieces of an index in the database: well below what one packet takes. */
const CHUNK_BYTES = 4 * 1024 * 1024;
/** Heap of the thread that hashes: a million rows with all columns, and room to read them. */
const IMPORT_HEAP_MEGABYTES = 1_024;
/** The first rows of a file take less than a second. */
const PREVIEW_WITHIN_MS = 20_000;
/** A million rows with their hashes take some minutes. */
const WITHIN_MS = 30 * 60_000;

interface Upload {
  readonly path: string;
  readonly preview: RecordPreview;
  readonly timer: NodeJS.Timeout;
}

/** Takes records in: a file is looked at first, then hashed in a thread of its own, and gone. */
@Injectable()
export class RecordsService implements OnApplicationShutdown {
  private readonly uploads = new Map<string, Upload>();
  private readonly jobs = new Map<string, RecordJob>();
  private readonly pool = new ProcessPool({
    module: compiled('./import-tasks.js', import.meta.url),
    // A look at one file beside the import of another.
    processes: 2,
    heapMegabytes: IMPORT_HEAP_MEGABYTES,
    residentMegabytes: IMPORT_HEAP_MEGABYTES + 800,
    timeoutMs: WITHIN_MS,
  });

  constructor(
    @InjectRepository(RecordSourceEntity) private readonly entities: Repository<RecordSourceEntity>,
    private readonly database: DataSource,
    private readonly sources: RecordSources,
    private readonly inspection: InspectionService,
    private readonly live: LiveEvents,
  ) {}

  /** Says what an uploaded file holds, before anything is imported. */
  async preview(path: string): Promise<RecordPreview> {
    const outcome = await this.pool.run<PreviewReading>('preview', sealedUpload(path), {
      timeoutMs: PREVIEW_WITHIN_MS,
    });
    if (outcome.status === 'done' && outcome.value.status === 'read') {
      const upload = randomUUID();
      const preview = { upload, ...outcome.value.preview };
      const timer = setTimeout(() => void this.forget(upload), UPLOAD_KEPT_MS).unref();
      this.uploads.set(upload, { path, preview, timer });
      return preview;
    }
    await rm(path, { force: true });
    const sentence =
      outcome.status === 'done' && outcome.value.status === 'refused'
        ? outcome.value.sentence
        : 'It could not be read as a table in time.';
    throw new AppError('file-refused', `The file was not imported. ${sentence}`);
  }

  /** Begins to import an uploaded file as new records, or in place of those of `id`. */
  async begin(request: RecordsRequest, caller: Caller, id?: string): Promise<RecordJob> {
    const upload = this.uploads.get(request.upload);
    if (!upload)
      throw new AppError('not-found', 'The uploaded file is no longer available. Choose it again.');
    const before = id === undefined ? null : await this.get(id);
    await demandFreeName(this.database, request.name, id ?? '');
    const order = orderOf(request, upload, this.sources.key);
    const job: RecordJob = { id: randomUUID(), status: 'running', rows: 0, source: null, sentence: null };
    this.jobs.set(job.id, job);
    setTimeout(() => this.jobs.delete(job.id), JOB_KEPT_MS).unref();
    const fail = (sentence: string): void => this.report(job.id, { status: 'failed', sentence });
    const onProgress = (message: unknown): void => {
      const heard = message as ImportMessage;
      if (heard.kind === 'progress') this.report(job.id, { rows: heard.rows });
    };
    void this.pool
      .run<ImportMessage>('build', order, { onProgress })
      .then(async (outcome) => {
        if (outcome.status !== 'done')
          return fail(
            outcome.reason === 'too-much-memory'
              ? 'There is not enough memory. The previous records are still in use.'
              : 'The file could not be read completely. The previous records are still in use.',
          );
        const message = outcome.value;
        if (message.kind === 'failed') return fail(message.sentence);
        if (message.kind !== 'done') return;
        await this.keep(message, { request, caller, before, shape: order.shape }).then(
          (source) => this.report(job.id, { status: 'done', source, rows: message.report.rows }),
          () => fail('The result could not be stored. The previous records are still in use.'),
        );
      })
      .finally(() => this.forget(request.upload));
    return job;
  }

  job(id: string): RecordJob {
    const job = this.jobs.get(id);
    if (!job) throw new AppError('not-found', 'There is no such import.');
    return job;
  }

  async get(id: string): Promise<RecordSourceEntity> {
    const entity = await this.entities.findOneBy({ id });
    if (!entity) throw new AppError('not-found', 'These records do not exist.');
    return entity;
  }

  list(): Promise<RecordSourceEntity[]> {
    return this.entities.find({ order: { name: 'ASC' } });
  }

  async remove(id: string): Promise<void> {
    await this.database.transaction(async (manager) => {
      await manager.delete(RecordChunkEntity, { source: id });
      await manager.delete(RecordSourceEntity, { id });
    });
    this.sources.remove(id);
    this.inspection.refresh();
    this.live.publish({ kind: 'drafts-changed' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.pool.destroy();
    await Promise.all([...this.uploads.keys()].map((id) => this.forget(id)));
  }

  private async keep(
    { bytes: hashes, facts, report }: Extract<ImportMessage, { kind: 'done' }>,
    about: { request: RecordsRequest; caller: Caller; before: RecordSourceEntity | null; shape: RecordShape },
  ): Promise<string> {
    const { request, caller, before, shape } = about;
    const id = before?.id ?? randomUUID();
    const version = (before?.version ?? 0) + 1;
    const bytes = Buffer.from(hashes.buffer, hashes.byteOffset, hashes.length);
    await this.database.transaction(async (manager) => {
      for (let number = 0; number * CHUNK_BYTES < bytes.length; number += 1) {
        const piece = bytes.subarray(number * CHUNK_BYTES, (number + 1) * CHUNK_BYTES);
        await manager.insert(RecordChunkEntity, { source: id, version, number, bytes: Buffer.from(piece) });
      }
      await manager.save(RecordSourceEntity, {
        id,
        name: request.name.trim(),
        about: request.about,
        shape,
        facts,
        report,
        version,
        updatedAt: new Date(),
        updatedBy: caller.name,
      });
      await manager.delete(RecordChunkEntity, { source: id, version: Not(version) });
    });
    this.sources.put(id, version, {
      index: { shape, ...facts, buffer: new Uint8Array(bytes).buffer },
      key: this.sources.key,
    });
    this.inspection.refresh();
    this.live.publish({ kind: 'drafts-changed' });
    return id;
  }

  private report(id: string, changes: Partial<RecordJob>): void {
    const job = this.jobs.get(id);
    if (job && job.status === 'running') this.jobs.set(id, { ...job, ...changes });
  }

  private async forget(id: string): Promise<void> {
    const upload = this.uploads.get(id);
    if (!upload) return;
    this.uploads.delete(id);
    clearTimeout(upload.timer);
    await rm(upload.path, { force: true });
  }
}

function orderOf(request: RecordsRequest, { path, preview }: Upload, key: Uint8Array): ImportOrder {
  const { columns } = preview;
  const place = ({ column, kind }: RecordsRequest['key']) => {
    const found = columns[column];
    if (!found) throw new AppError('invalid-request', `The file has no column ${column + 1}.`);
    return { name: found.name, kind };
  };
  const places = [request.key.column, ...request.others.map(({ column }) => column)];
  if (new Set(places).size !== places.length)
    throw new AppError('invalid-request', 'A column can be used once: as the key or beside it.');
  if (request.needed > request.others.length)
    throw new AppError(
      'invalid-request',
      `${request.needed} columns cannot be required near the key: only ${request.others.length} are chosen.`,
    );
  const shape: RecordShape = {
    key: place(request.key),
    others: request.others.map(place),
    needed: request.needed,
    window: request.window,
  };
  return { upload: sealedUpload(path), shape, places, key };
}
