import { randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import {
  type ActedResult,
  LONGEST_WAIT_SECONDS,
  MAX_LISTED_AT_ONCE,
  type ReadResult,
  type StoreAddress,
  type Work,
  type WatchOrders,
  type WorkAnswer,
  type WorkRequest,
} from '@lantern/contracts/discovery';
import type { ReaderCost } from '@lantern/contracts';
import { pathFits } from '@lantern/core/discovery';
import type { Label } from '@lantern/core/labels';
import {
  type Identity,
  identityIn,
  keepIdentity,
  makeKeys,
  openSecret,
  publicKeys,
  withNextKeys,
} from './identity.js';
import { actOn } from './acting.js';
import { Pace } from './pace.js';
import type { Relay } from './relay.js';
import type { Revision } from './reading/revision.js';
import { ReadingProcesses } from './reading/reading-processes.js';
import { unreadable } from './reading/unreadable.js';
import { wholeOf } from './reading/whole-of.js';
import { FolderStore } from './stores/folder.js';
import { openStore } from './stores/open-store.js';
import { reportable } from './stores/reportable.js';
import { type OpenStore, StoreFault, type StoreItem } from './stores/store.js';
import { keepHeld, readHeld } from './watching/held.js';
import { Watcher } from './watching/watcher.js';
import { Self } from './self.js';
import { Refused, Workbench } from './workbench.js';

export const READER_VERSION = '1';
const NO_LIMITS: ReaderCost = { processor: null, bytesPerSecond: null, itemsPerSecond: null };
/** This start of the program. */
const INSTANCE = randomUUID();
/** Results are handed in together, some at a time: a stop loses little. */
const RESULTS_AT_ONCE = 25;
/** A check counts for so long; a large place is told as "at least". */
const CHECK_WITHIN_MS = 20_000;
/** Keys are renewed when less of their life is left than this. */
const RENEW_BEFORE_MS = 45 * 86_400_000;

export interface ReaderOptions {
  /** Where its identity and what it put into quarantine lies. */
  readonly folder: string;
  readonly processes: number;
  readonly signal: AbortSignal;
  readonly say: (line: string) => void;
  /** Passes other readers on; left out for none. */
  readonly relay?: Relay | null;
}

/** Takes work from the workbench, reads where the data lies, and hands in what it found. */
export class Reader {
  private readonly workbench: Workbench;
  private cost: ReaderCost = NO_LIMITS;
  private readonly pace = new Pace(NO_LIMITS);
  private readonly self: Self;
  private readonly processes: ReadingProcesses;
  private trouble: string | null = null;
  private readonly watcher: Watcher;
  private watchedBy: string | null = null;
  private isFresh = true;

  constructor(
    private identity: Identity,
    private readonly options: ReaderOptions,
  ) {
    this.self = new Self(options.relay ?? null);
    this.processes = new ReadingProcesses(options.processes);
    this.workbench = new Workbench(
      () => this.identity,
      options.signal,
      (trouble) => {
        if (trouble) options.say(trouble);
      },
    );
    this.watcher = new Watcher({
      ...{ folder: options.folder, machine: identity.name, allowed: identity.allowed, say: options.say },
      workbench: this.workbench,
      judge: async (task) => this.processes.pool?.judge(task) ?? null,
    });
  }

  /** Works until it is stopped, or withdrawn. */
  async run(): Promise<void> {
    const { signal } = this.options;
    try {
      await this.beginWithHeld();
      while (!signal.aborted) await this.step();
    } catch (error) {
      if (signal.aborted) return;
      throw error;
    } finally {
      await this.watcher.close();
      this.processes.close();
    }
  }

  /** What was held when it stopped: it watches by that until the workbench says otherwise. */
  private async beginWithHeld(): Promise<void> {
    const held = readHeld(this.options.folder);
    if (!held) return;
    this.processes.hold(held.revision);
    await this.watcher.take(held.orders);
  }

  private async step(): Promise<void> {
    await this.workbench.chooseWay();
    // Whatever is in the way of it is in the way of the next request too, which says so.
    await this.self.measure(() => this.workbench.ask<{ readonly now: string }>('clock').catch(() => null));
    const answer = await this.workbench.post<WorkAnswer>('work', {
      wait: LONGEST_WAIT_SECONDS,
      ...(this.isFresh ? { isFresh: true } : {}),
      instance: INSTANCE,
      revision: this.processes.held?.revision ?? null,
      version: READER_VERSION,
      used: this.pace.used(Math.round(process.memoryUsage().rss / 1_048_576)),
      trouble: this.trouble ?? this.watcher.trouble,
      told: await this.self.told(this.cost),
      notLookedFor: this.processes.held?.notHere ?? [],
      ...watchingOf(this.watcher),
    });
    this.isFresh = false;
    this.cost = answer.cost;
    this.pace.promise(answer.cost);
    if (answer.revision !== (this.processes.held?.revision ?? null) || !this.processes.pool)
      await this.takeRevision();
    await this.takeOrders(answer);
    await this.watcher.handIn();
    if (answer.work?.kind !== 'read') this.processes.forget();
    if (answer.work) await this.carryOut(answer.work);
    // After the work: its secret was sealed for the keys that asked for it.
    await this.renewInTime(answer.keyEndsAt);
  }

  private async takeRevision(): Promise<void> {
    const found = await this.workbench.get<
      Pick<Revision, 'revision' | 'own' | 'wanted' | 'notHere'> & {
        readonly labels: { readonly labels: readonly Label[]; readonly automatic: Revision['automatic'] };
      }
    >('patterns');
    this.processes.hold({ ...found, labels: found.labels.labels, automatic: found.labels.automatic });
  }

  /** What to watch, and by what to judge: with every revision, and with every change of its group. */
  private async takeOrders({ watchVersion, revision }: WorkAnswer): Promise<void> {
    if (watchVersion === 0 && this.watcher.version === 0) return;
    const by = `${watchVersion} ${revision ?? 0}`;
    if (by === this.watchedBy || !this.processes.held) return;
    const orders = await this.workbench.get<WatchOrders>('watch');
    await this.watcher.take(orders);
    this.watchedBy = by;
    keepHeld(this.options.folder, { revision: this.processes.held, orders });
  }

  /** New keys in the second half of their life: a reader that runs never needs a hand. */
  private async renewInTime(keyEndsAt: string): Promise<void> {
    if (Date.parse(keyEndsAt) - Date.now() > RENEW_BEFORE_MS) return;
    const nextKeys = makeKeys();
    keepIdentity(this.options.folder, { ...this.identity, nextKeys });
    const answer = await this.workbench.post<{ readonly keyEndsAt: string }>('keys', {
      keys: publicKeys(nextKeys),
    });
    this.identity = { ...this.identity, keys: nextKeys, keyEndsAt: answer.keyEndsAt };
    keepIdentity(this.options.folder, this.identity);
  }

  private async carryOut(work: Work): Promise<void> {
    this.options.say(`${WORDS[work.kind]} ${work.place.name}`);
    let store: OpenStore | null = null;
    try {
      store = await this.open(work);
      await this.carryOutIn(store, work);
      this.trouble = null;
    } catch (error) {
      if (this.options.signal.aborted) throw error;
      // Stopped, or given to another reader meanwhile: dropped.
      if (error instanceof Refused && error.status === 409) return;
      // Withdrawn: nothing can be reported any more.
      if (error instanceof Refused && error.status === 401) throw error;
      const problem = error instanceof StoreFault ? error.problem : 'failed';
      this.trouble = `${work.place.name}: ${problem}`.slice(0, 300);
      this.options.say(this.trouble);
      await this.report(work, 'failed', { problem });
    } finally {
      await store?.close().catch(() => undefined);
    }
  }

  private carryOutIn(store: OpenStore, work: Work): Promise<void> {
    switch (work.kind) {
      case 'check':
        return this.check(store, work);
      case 'list':
        return this.list(store, work);
      case 'read':
        return this.read(store, work);
      case 'act':
        return this.act(store, work);
      case 'fetch':
        return this.fetch(store, work);
    }
  }

  private async open({ place }: Work): Promise<OpenStore> {
    const { store, address, secret } = place;
    return openStore({
      ...{ store, address, allowed: this.identity.allowed },
      secret: secret === null ? null : await openSecret(this.identity.keys, secret),
    });
  }

  private async folderAt(address: StoreAddress): Promise<FolderStore | null> {
    const { allowed } = this.identity;
    const store = await openStore({ store: 'folder', address, allowed, secret: null });
    return store instanceof FolderStore ? store : null;
  }

  private async check(store: OpenStore, work: Work): Promise<void> {
    const until = Date.now() + CHECK_WITHIN_MS;
    const sums = { items: 0, bytes: 0, atLeast: false };
    for await (const item of store.list(() => false)) {
      sums.items += 1;
      sums.bytes += item.bytes;
      sums.atLeast = Date.now() > until;
      if (sums.atLeast) break;
    }
    await this.report(work, 'checked', sums);
  }

  private async list(store: OpenStore, work: Extract<Work, { kind: 'list' }>): Promise<void> {
    let page: StoreItem[] = [];
    const skips = (folder: string): boolean => work.scope.leaveOut.some((line) => pathFits(line, folder));
    for await (const found of store.list(skips)) {
      const item = reportable(found);
      if (!item) continue;
      page.push(item);
      if (page.length < MAX_LISTED_AT_ONCE) continue;
      await this.report(work, 'listed', { items: page, isLast: false });
      page = [];
    }
    await this.report(work, 'listed', { items: page, isLast: true });
  }

  private async read(store: OpenStore, work: Extract<Work, { kind: 'read' }>): Promise<void> {
    await this.learnFor(work);
    const waiting = [...work.items];
    let results: ReadResult[] = [];
    const one = async (): Promise<void> => {
      for (let item = waiting.shift(); item; item = waiting.shift()) {
        await this.pace.rest(this.options.signal);
        const result = await this.readItem(store, work, item);
        results.push(result);
        if (results.length < RESULTS_AT_ONCE || waiting.length === 0) continue;
        const full = results;
        results = [];
        await this.report(work, 'read', { results: full, isLast: false });
      }
    };
    // Only a folder can be opened by several processes at once; a mailbox or database is one connection.
    const lanes = store instanceof FolderStore ? this.options.processes : 1;
    await Promise.all(Array.from({ length: lanes }, one));
    await this.report(work, 'read', { results, isLast: true });
  }

  /** Own records and documents come for the run that this part is of, and go with it. */
  private async learnFor({ id, runId, knowledge }: Extract<Work, { kind: 'read' }>): Promise<void> {
    if (knowledge === null) return this.processes.forget();
    await this.processes.learn(`${runId} ${knowledge}`, async () => {
      const { bytes, key } = await this.workbench.knowledge(id);
      return { bytes, key: Buffer.from(await openSecret(this.identity.keys, key), 'base64') };
    });
  }

  private async readItem(
    store: OpenStore,
    { place, step }: Extract<Work, { kind: 'read' }>,
    { id, path }: { readonly id: string; readonly path: string },
  ): Promise<ReadResult> {
    const content = await store.content(path);
    if (content.kind === 'gone') return unreadable(id, 'gone');
    if (content.kind === 'unreadable') return unreadable(id, content.reason);
    if (!this.processes.pool) return unreadable(id, 'failed');
    const { result, processor } = await this.processes.pool.read({
      ...{ id, path, content, labels: step !== 'find' },
      place: {
        name: place.name,
        owner: place.owner,
        isOutside: place.reach === 'outside' || place.reach === 'anybody-with-link',
      },
    });
    this.pace.add({ bytes: result.bytes, processor });
    return result;
  }

  private async act(store: OpenStore, work: Extract<Work, { kind: 'act' }>): Promise<void> {
    if (!(store instanceof FolderStore)) throw new StoreFault('not-allowed');
    const results: ActedResult[] = [];
    const to = work.to ? await this.folderAt(work.to) : null;
    for (const { id, path } of work.items) {
      const reason = await actOn(
        {
          store,
          to,
          folder: this.options.folder,
          labels: this.processes.held?.labels ?? [],
          pool: this.processes.pool,
        },
        work,
        { id, path },
      ).catch((error: NodeJS.ErrnoException) =>
        error instanceof StoreFault ? error.problem : (error.code ?? 'failed').toLowerCase(),
      );
      results.push({ id, done: reason === null, reason });
    }
    await this.report(work, 'acted', { results });
  }

  /** Hands in one item as it is: somebody asked for it, with a reason that the workbench keeps. */
  private async fetch(store: OpenStore, work: Extract<Work, { kind: 'fetch' }>): Promise<void> {
    await this.report(work, 'fetched', await wholeOf(await store.content(work.item.path)));
  }

  private report(work: Work, what: string, body: unknown): Promise<void> {
    return this.workbench.post(`parts/${work.id}/${what}`, body);
  }
}

function watchingOf(watcher: Watcher): Pick<WorkRequest, 'watching'> {
  const watching = watcher.told();
  return watching ? { watching } : {};
}

const WORDS: Readonly<Record<Work['kind'], string>> = {
  check: 'Checking',
  list: 'Listing',
  read: 'Reading from',
  act: 'Changing items in',
  fetch: 'Fetching an item from',
};

/** Keeps a reader running: a fault of its own is told, and it goes on after a pause. */
export async function keepReading(identity: Identity, options: ReaderOptions): Promise<void> {
  let current = identity;
  while (!options.signal.aborted) {
    try {
      await new Reader(current, options).run();
    } catch (error) {
      if (options.signal.aborted) return;
      // Another program works with this identity now: going on would only take it back.
      if (error instanceof Refused && error.code === 'in-use') throw error;
      const kept = identityIn(options.folder);
      const isRefused = error instanceof Refused && error.status === 401;
      // The keys that were sent last may be the ones that are known by now.
      if (isRefused && !kept?.nextKeys) throw error;
      if (kept) current = isRefused ? withNextKeys(kept) : kept;
      if (isRefused) {
        keepIdentity(options.folder, current);
        continue;
      }
      options.say(
        `Something failed (${error instanceof Error ? error.name : 'unknown'}). Going on in 5 seconds.`,
      );
      await wait(5_000, undefined, { signal: options.signal }).catch(() => undefined);
    }
  }
}
