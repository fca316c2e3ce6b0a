import { createHash } from 'node:crypto';
import { type OwnPattern, unpackFindings } from '@lantern/core/detection';
import { patternsOfRule } from '@lantern/core/policy';
import { NO_FILE_LABELS } from '@lantern/files';
import { type FaultReason, type Outcome, PoolIsFull, ProcessPool } from '@lantern/processes';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { DocumentSources } from './sources/document-sources.js';
import { RecordSources } from './sources/record-sources.js';
import { demandNoTransaction } from '../platform/database/transaction-context.js';
import { AppError } from '../platform/errors/app-error.js';
import { PublishedRevision } from '../published/published-revision.js';
import { compiled } from '../platform/processes/compiled.js';
import { NO_WIRE_FINDINGS } from './wire-findings.js';
import { type InspectedItem, type ItemToInspect, unreadablePart } from '@lantern/files/inspect';
import type { PackedItem, PatternsOfPool, WiredItem } from './reading-tasks.js';

/** Whether reading came to its end, beside what it gave. */
export interface Inspection extends InspectedItem {
  readonly finished: boolean;
}

/** An item that takes longer is answered as unreadable; honest mails take milliseconds. */
const TIME_LIMIT_MS = 30_000;
/** Heap of one process: one item expanded to its limit, its text as UTF-16, and room to work. */
const HEAP_MEGABYTES = 1_024;
/** Memory of one process with what stands outside its heap: buffers, pictures while they are recognised. */
const RESIDENT_MEGABYTES = 1_800;
/** Items that may wait; more means the sender should come back later. */
const MAX_WAITING = 200;
/** Items read at the same time: one more than processors, so that one slow item leaves room beside it. */
const PROCESSES = 3;
/** Pools beside the one for live movements: the drafts, and what is published for comparison. */
const MOST_DRAFT_POOLS = 2;
/** An idle pool for drafts is closed after this. */
const DRAFT_POOL_KEPT_MS = 60_000;

/** Inspects items in processes of their own, with the published patterns or with given ones for drafts. */
@Injectable()
export class InspectionService implements OnApplicationShutdown {
  private readonly log = new Logger('inspection');
  private pool: ProcessPool | undefined;
  /** Pools for drafts and for what they are held to, newest last. */
  private readonly drafts = new Map<string, { readonly pool: ProcessPool; readonly timer: NodeJS.Timeout }>();

  constructor(
    private readonly published: PublishedRevision,
    private readonly records: RecordSources,
    private readonly documents: DocumentSources,
  ) {}

  /** Lets running items finish with the patterns they began with; new ones take the revision now published. */
  refresh(): void {
    const old = this.pool;
    this.pool = undefined;
    if (old) void old.close();
  }

  /** Reads an item once with the published patterns. Never throws for what it holds. */
  inspect(item: ItemToInspect, timeoutMs = TIME_LIMIT_MS): Promise<Inspection> {
    this.pool ??= makePool(this.publishedSet(), PROCESSES);
    return this.attempt(this.pool, item, timeoutMs);
  }

  /**
   * Inspects with given patterns, beside what inspects live movements; `key` changes when they do. `wanted` names those that
   * are worth excerpts although they are found everywhere.
   */
  inspectWith(
    key: string,
    own: readonly OwnPattern[],
    item: ItemToInspect,
    wanted: readonly string[] = [],
  ): Promise<Inspection> {
    const wholeKey = `${key} ${this.records.state} ${this.documents.state}`;
    return this.attempt(this.poolOf(wholeKey, own, wanted), item, TIME_LIMIT_MS);
  }

  /**
   * The same for somebody who looks at the findings: the first with their evidence, the others packed as they go on to
   * the browser, so that a million of them hold nobody up.
   */
  async look(key: string, own: readonly OwnPattern[], item: ItemToInspect): Promise<WiredItem> {
    demandNoTransaction('An inspection');
    const pool = this.poolOf(`${key} ${this.records.state} ${this.documents.state}`, own);
    const outcome = await runBounded<WiredItem>(() => pool.run('look', item, { timeoutMs: TIME_LIMIT_MS }));
    if (outcome.status === 'done') return outcome.value;
    const unread = notFinished(item, this.reasonOf(outcome));
    const wire = NO_WIRE_FINDINGS;
    return { ...unread, parts: unread.parts.map((part) => ({ ...part, wire })) };
  }

  private poolOf(key: string, own: readonly OwnPattern[], wanted: readonly string[] = []): ProcessPool {
    const known = this.drafts.get(key);
    known?.timer.refresh();
    return known?.pool ?? this.draftPool(key, own, wanted);
  }

  private draftPool(key: string, own: readonly OwnPattern[], wanted: readonly string[]): ProcessPool {
    const [oldest] = this.drafts.keys();
    if (this.drafts.size >= MOST_DRAFT_POOLS && oldest !== undefined) this.closeDraft(oldest);
    const patterns = { own, wanted, records: this.records.all(), documents: this.documents.all() };
    const pool = makePool(patterns, 1);
    this.drafts.set(key, { pool, timer: setTimeout(() => this.closeDraft(key), DRAFT_POOL_KEPT_MS).unref() });
    return pool;
  }

  onApplicationShutdown(): void {
    for (const key of [...this.drafts.keys()]) this.closeDraft(key);
    this.pool?.destroy();
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

  private closeDraft(key: string): void {
    const draft = this.drafts.get(key);
    if (!draft) return;
    clearTimeout(draft.timer);
    void draft.pool.close();
    this.drafts.delete(key);
  }

  private async attempt(pool: ProcessPool, item: ItemToInspect, timeoutMs: number): Promise<Inspection> {
    demandNoTransaction('An inspection');
    const outcome = await runBounded<PackedItem>(() => pool.run('inspect', item, { timeoutMs }));
    if (outcome.status === 'done') return { ...unpacked(outcome.value), finished: true };
    return { ...notFinished(item, this.reasonOf(outcome)), finished: false };
  }

  private reasonOf({
    reason,
    name,
  }: Extract<Outcome<unknown>, { readonly reason: FaultReason }>): (typeof REASONS)[FaultReason] {
    if (reason !== 'took-too-long') this.log.warn(`An inspection did not finish: ${reason} ${name}`);
    return REASONS[reason];
  }
}

/** Runs a task of a pool; what is too much for it is the refusal `busy`. */
export async function runBounded<Value>(run: () => Promise<Outcome<Value>>): Promise<Outcome<Value>> {
  try {
    return await run();
  } catch (error) {
    if (!(error instanceof PoolIsFull)) throw error;
    throw new AppError(
      'busy',
      'Too many items are waiting to be inspected. Nothing was kept. Try again in a few seconds.',
    );
  }
}

/** Changes whenever the patterns do. */
export function patternsKey(own: readonly OwnPattern[]): string {
  return createHash('sha256').update(JSON.stringify(own)).digest('hex');
}

function makePool(patterns: PatternsOfPool, processes: number): ProcessPool {
  return new ProcessPool({
    module: compiled('./reading-tasks.js', import.meta.url),
    data: patterns,
    processes,
    keep: 1,
    maxWaiting: MAX_WAITING,
    heapMegabytes: HEAP_MEGABYTES,
    residentMegabytes: RESIDENT_MEGABYTES,
    timeoutMs: TIME_LIMIT_MS,
  });
}

function unpacked({ parts, ...item }: PackedItem): InspectedItem {
  return {
    ...item,
    parts: parts.map(({ packed, ...inspected }) =>
      packed && inspected.part.status === 'read'
        ? {
            ...inspected,
            part: { ...inspected.part, findings: [...inspected.part.findings, ...unpackFindings(packed)] },
          }
        : inspected,
    ),
  };
}

/** What a process that did not finish says about what it was reading. */
const REASONS: Readonly<Record<FaultReason, 'took-too-long' | 'expands-too-far' | 'corrupt'>> = {
  'took-too-long': 'took-too-long',
  'too-much-memory': 'expands-too-far',
  ended: 'corrupt',
  threw: 'corrupt',
  stopped: 'took-too-long',
};

/** An inspection that could not finish is no silent pass: every part counts as unreadable, which rules can ask for. */
function notFinished(item: ItemToInspect, reason: (typeof REASONS)[FaultReason]): InspectedItem {
  return {
    parts: [
      ...item.texts.map(({ role, path }) => unreadablePart(role, path, reason)),
      ...item.files.map(({ role, name }) => unreadablePart(role, [name], reason)),
      ...(item.mail ? [unreadablePart('body', ['mail'], reason)] : []),
    ],
    files: item.files.map(({ name, bytes }) => ({
      name,
      kind: 'other',
      bytes: bytes.length,
      misnamed: false,
    })),
    labels: item.files.map(() => NO_FILE_LABELS),
    mail: null,
    digest: null,
  };
}
