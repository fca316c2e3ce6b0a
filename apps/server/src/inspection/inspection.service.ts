import { createHash } from 'node:crypto';
import { type DocumentSource, type OwnPattern, patternsOfRule, type RecordSource } from '@lantern/core';
import { type FileLabels, NO_FILE_LABELS, type NamedBytes } from '@lantern/files';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { DocumentSources } from '../patterns/documents/document-sources.js';
import { RecordSources } from '../patterns/records/record-sources.js';
import { AppError } from '../platform/errors/app-error.js';
import { PublishedRevision } from '../policies/published-revision.js';
import type { InspectedItemPart, ItemToInspect } from './inspect-item.js';

/** What the workers of a pool look for. */
export interface PatternsOfPool {
  readonly own: readonly OwnPattern[];
  /** Patterns that rules ask for: their findings are kept as evidence first. */
  readonly wanted: readonly string[];
  /** Hashes of own records; threads share them. */
  readonly records: readonly [string, RecordSource][];
  /** What was learnt from sample documents. */
  readonly documents: readonly [string, DocumentSource][];
}

/** An item that takes longer is answered as unreadable; honest mails take milliseconds. */
const TIME_LIMIT_MS = 30_000;
/** Heap of one worker: one item expanded to its limit, its text as UTF-16, and room to work. */
const WORKER_HEAP_MEGABYTES = 1_024;
/** Items that may wait; more means the sender should come back later. */
const MAX_WAITING = 200;
/** Idle draft pools are closed after this. */
const DRAFT_POOL_KEPT_MS = 60_000;

/** Inspects items in worker threads with the published patterns, or with given ones for drafts. */
@Injectable()
export class InspectionService implements OnApplicationShutdown {
  private readonly log = new Logger('inspection');
  private pool: Piscina | undefined;
  private drafts: { key: string; pool: Piscina; timer: NodeJS.Timeout } | undefined;

  constructor(
    private readonly published: PublishedRevision,
    private readonly records: RecordSources,
    private readonly documents: DocumentSources,
  ) {}

  /** Lets running items finish with the patterns they began with; new ones take the revision now published. */
  refresh(): void {
    const old = this.pool;
    this.pool = undefined;
    if (old) void old.close().catch(() => undefined);
  }

  inspect(item: ItemToInspect): Promise<InspectedItemPart[]> {
    this.pool ??= makePool(this.publishedSet());
    return this.run(this.pool, item);
  }

  /** The same, and whether reading came to its end. */
  async inspectWhole(
    item: ItemToInspect,
  ): Promise<{ readonly parts: InspectedItemPart[]; readonly finished: boolean }> {
    this.pool ??= makePool(this.publishedSet());
    return this.attempt(this.pool, item);
  }

  /** Labels that files carry, in their order. Reading that does not finish finds none. */
  async labelsOf(files: readonly NamedBytes[]): Promise<FileLabels[]> {
    this.pool ??= makePool(this.publishedSet());
    try {
      const signal = AbortSignal.timeout(TIME_LIMIT_MS);
      return (await this.pool.run(files, { signal, name: 'labels' })) as FileLabels[];
    } catch {
      return files.map(() => NO_FILE_LABELS);
    }
  }

  /** Inspects with draft patterns; `key` changes when they do. */
  inspectWith(key: string, own: readonly OwnPattern[], item: ItemToInspect): Promise<InspectedItemPart[]> {
    const wholeKey = `${key} ${this.records.state} ${this.documents.state}`;
    if (this.drafts?.key !== wholeKey) {
      this.closeDrafts();
      const timer = setTimeout(() => this.closeDrafts(), DRAFT_POOL_KEPT_MS);
      this.drafts = {
        key: wholeKey,
        pool: makePool({ own, wanted: [], records: this.records.all(), documents: this.documents.all() }, 1),
        timer: timer.unref(),
      };
    }
    this.drafts.timer.refresh();
    return this.run(this.drafts.pool, item);
  }

  async onApplicationShutdown(): Promise<void> {
    this.closeDrafts();
    await this.pool?.destroy();
  }

  private publishedSet(): PatternsOfPool {
    const document = this.published.current?.document;
    const rules = document?.policies.flatMap((policy) => policy.rules) ?? [];
    return {
      own: document?.patterns ?? [],
      wanted: [...new Set(rules.flatMap(patternsOfRule))],
      records: this.records.all(),
      documents: this.documents.all(),
    };
  }

  private closeDrafts(): void {
    if (!this.drafts) return;
    clearTimeout(this.drafts.timer);
    void this.drafts.pool.close().catch(() => undefined);
    this.drafts = undefined;
  }

  private async run(pool: Piscina, item: ItemToInspect): Promise<InspectedItemPart[]> {
    return (await this.attempt(pool, item)).parts;
  }

  private async attempt(
    pool: Piscina,
    item: ItemToInspect,
  ): Promise<{ parts: InspectedItemPart[]; finished: boolean }> {
    const signal = AbortSignal.timeout(TIME_LIMIT_MS);
    try {
      return { parts: (await pool.run(item, { signal })) as InspectedItemPart[], finished: true };
    } catch (error) {
      if (signal.aborted) return { parts: notFinished(item, 'took-too-long'), finished: false };
      if (isOutOfMemory(error)) return { parts: notFinished(item, 'expands-too-far'), finished: false };
      if (error instanceof Error && /queue is at limit/i.test(error.message)) {
        throw new AppError(
          'busy',
          'Too many items are waiting to be inspected. Nothing was lost; try again in a few seconds.',
        );
      }
      this.log.error(`An inspection ended by itself: ${error instanceof Error ? error.name : 'unknown'}`);
      return { parts: notFinished(item, 'corrupt'), finished: false };
    }
  }
}

/** Changes whenever the patterns do. */
export function patternsKey(own: readonly OwnPattern[]): string {
  return createHash('sha256').update(JSON.stringify(own)).digest('hex');
}

/** Worker threads run compiled code, also where tests load this file from its source. */
const WORKER = new URL('./worker.js', import.meta.url.replace('/server/src/', '/server/dist/')).href;

function makePool(patterns: PatternsOfPool, threads = 2): Piscina {
  return new Piscina({
    filename: WORKER,
    workerData: patterns,
    minThreads: 1,
    maxThreads: threads,
    maxQueue: MAX_WAITING,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: WORKER_HEAP_MEGABYTES },
  });
}

function isOutOfMemory(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY';
}

/** An inspection that could not finish is no silent pass: every part counts as unreadable, which rules can ask for. */
function notFinished(
  item: ItemToInspect,
  reason: 'took-too-long' | 'expands-too-far' | 'corrupt',
): InspectedItemPart[] {
  const places = [
    ...item.texts.map(({ role, path }) => ({ role, path })),
    ...item.files.map(({ role, name }) => ({ role, path: [name] })),
  ];
  return places.map(({ role, path }) => ({
    part: { status: 'unreadable', role, path, reason },
    excerpts: [],
    notShown: 0,
    text: null,
  }));
}
