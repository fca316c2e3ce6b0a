import { createHash, randomUUID } from 'node:crypto';
import { lstat, readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import type { IntakeAnswer, IntakeVerdict } from '@lantern/contracts';
import type { WatchedFolder, WatchingTold, WatchOrders } from '@lantern/contracts/discovery';
import { MAX_FILE_BYTES } from '@lantern/files/reading';
import { Refused, type Workbench } from '../workbench.js';
import { Backlog } from './backlog.js';
import { FolderWatch } from './folder-watch.js';
import { type OfflineTask, type OfflineVerdict, spotOf } from './judge-offline.js';
import { markerOf, QuarantineBox } from './quarantine-box.js';
import { type KeptFile, type WaitingMovement, WatchState } from './watch-state.js';

/** How often the workbench is asked about files that wait. */
const ASK_EVERY_MS = 5_000;
/** How often folders are looked at that were missing, or on which another disk may lie by now. */
const LOOK_EVERY_MS = 3_000;
/** What changed is told so often. */
const SAY_EVERY_MS = 500;
/** Files that are judged side by side. */
const AT_ONCE = 2;
/** A movement is judged here where the workbench did not answer within this. */
const ANSWER_WITHIN_MS = 20_000;

/** What a watcher needs of the program around it. */
export interface WatcherParts {
  /** Where its identity, its quarantine and its state lie. */
  readonly folder: string;
  readonly machine: string;
  readonly allowed: readonly string[];
  readonly workbench: Workbench;
  /** Judges by the revision that is held; null where none is. */
  readonly judge: (task: OfflineTask) => Promise<OfflineVerdict | null>;
  readonly say: (line: string) => void;
}

/** What came of handing one in. */
type HandedIn = IntakeVerdict | 'nothing-to-judge' | 'cannot-judge';

/** One file that arrived. */
interface Arrival {
  readonly path: string;
  readonly folder: WatchedFolder;
  readonly marker: string;
  readonly at: number;
}

/** Watches folders: what arrives there is a movement, and is kept from going on where the answer says so. */
export class Watcher {
  private readonly state: WatchState;
  private readonly box: QuarantineBox;
  private readonly backlog: Backlog;
  private orders: WatchOrders | null = null;
  private watches: FolderWatch[] = [];
  private readonly queue: { readonly path: string; readonly folder: WatchedFolder }[] = [];
  private busy = 0;
  private handing: Promise<void> = Promise.resolve();
  private readonly timers: NodeJS.Timeout[];
  private saidLast = '';
  private saying: Promise<unknown> | null = null;
  private asking: Promise<void> | null = null;
  /** Versions of files that are being judged now. */
  private readonly judging = new Set<string>();
  trouble: string | null = null;

  constructor(private readonly parts: WatcherParts) {
    this.state = new WatchState(parts.folder);
    this.box = new QuarantineBox(parts.folder, this.state);
    this.backlog = new Backlog(parts.folder, this.state);
    this.timers = [
      setInterval(() => this.askSoon(), ASK_EVERY_MS),
      setInterval(() => void this.lookAgain(), LOOK_EVERY_MS),
      setInterval(() => this.sayHowItStands(), SAY_EVERY_MS),
    ];
  }

  get version(): number {
    return this.orders?.version ?? 0;
  }

  /** Begins with other orders: what stays the same is watched on. */
  async take(orders: WatchOrders): Promise<void> {
    this.orders = orders;
    const same = (watch: FolderWatch): boolean =>
      orders.folders.some((folder) => JSON.stringify(folder) === JSON.stringify(watch.folder));
    const stays = this.watches.filter(same);
    await Promise.all(this.watches.filter((watch) => !same(watch)).map((watch) => watch.close()));
    const fresh = orders.folders.filter(
      (folder) => !stays.some((watch) => JSON.stringify(watch.folder) === JSON.stringify(folder)),
    );
    this.watches = [...stays, ...fresh.map((folder) => this.watch(folder))];
    await Promise.all(this.watches.map((watch) => watch.look()));
  }

  private watch(folder: WatchedFolder): FolderWatch {
    return new FolderWatch(folder, this.parts.allowed, {
      diskOf: () => this.state.now.folders[folder.path] ?? null,
      begun: (disk) => {
        this.state.now.folders[folder.path] = disk;
        this.state.changed();
      },
      known: (path, marker) => {
        this.state.now.seen[path] = marker;
        this.state.changed();
      },
      arrived: (path) => this.arrived(path, folder),
      left: (path) => {
        delete this.state.now.seen[path];
        this.state.changed();
      },
    });
  }

  /** What the workbench is told; null where nothing is watched. */
  told(): WatchingTold | null {
    if (!this.orders || this.orders.version === 0) return null;
    return {
      version: this.orders.version,
      folders: this.watches.map(({ folder, state }) => ({ path: folder.path, state })),
      ...{ kept: this.box.all.length, backlog: this.backlog.all.length, dropped: this.state.now.dropped },
    };
  }

  /** Says what changed soon after it did; what is lost on the way comes with the next request for work. */
  private sayHowItStands(): void {
    const told = this.told();
    const text = JSON.stringify(told);
    if (!told || text === this.saidLast || this.saying) return;
    this.saidLast = text;
    this.saying = this.parts.workbench
      .attempt('watching', told, ANSWER_WITHIN_MS)
      .catch(() => null)
      .finally(() => {
        this.saying = null;
      });
  }

  async close(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    await Promise.all(this.watches.map((watch) => watch.close()));
    this.state.write();
  }

  private async lookAgain(): Promise<void> {
    await Promise.all(this.watches.map((watch) => watch.look())).catch(() => undefined);
  }

  private arrived(path: string, folder: WatchedFolder): void {
    if (this.queue.some((each) => each.path === path)) return;
    this.queue.push({ path, folder });
    void this.next();
  }

  private async next(): Promise<void> {
    if (this.busy >= AT_ONCE) return;
    const one = this.queue.shift();
    if (!one) return;
    this.busy += 1;
    try {
      await this.judge(one.path, one.folder);
    } catch (error) {
      this.tell(`${basename(one.path)}: ${error instanceof Error ? error.message : 'failed'}`);
    } finally {
      this.busy -= 1;
      void this.next();
    }
  }

  private async judge(path: string, folder: WatchedFolder): Promise<void> {
    const facts = await lstat(path).catch(() => null);
    const orders = this.orders;
    if (!facts?.isFile() || !orders) return;
    const marker = markerOf(facts);
    const version = `${path} ${marker}`;
    if (this.state.now.seen[path] === marker || this.judging.has(version)) return;
    this.judging.add(version);
    try {
      const arrival: Arrival = { path, folder, marker, at: Date.now() };
      // Written down once it was decided: a stop in the middle judges it again, under the same key.
      if (!(await this.isKept(arrival, facts.size, orders))) this.see(arrival);
    } finally {
      this.judging.delete(version);
    }
  }

  /** Judges a file and says whether it went into quarantine. */
  private async isKept(arrival: Arrival, size: number, orders: WatchOrders): Promise<boolean> {
    if (size === 0) return false;
    if (!orders.person) {
      this.tell('The directory names no owner for this machine, so its files cannot be judged.');
      return this.unfinished(arrival);
    }
    if (size > MAX_FILE_BYTES) {
      this.tell(`${basename(arrival.path)} is too large to be read.`);
      return this.unfinished(arrival);
    }
    const bytes = await readFile(arrival.path);
    // What waits from before goes first, so that movements are judged in their order.
    const verdict = this.backlog.all.length > 0 ? null : await this.handInOne(arrival, bytes);
    return verdict ? this.follow(arrival, verdict) : this.judgeHere(arrival, bytes, orders);
  }

  private see({ path, marker }: Pick<Arrival, 'path' | 'marker'>): void {
    this.state.now.seen[path] = marker;
    this.state.changed();
  }

  /** Nobody could judge it: what is stated for readings that do not finish holds. */
  private async unfinished(arrival: Arrival): Promise<boolean> {
    if (!this.orders || this.orders.unfinished === 'let-go') return false;
    return this.keep(arrival, {
      ...{ movement: null, state: 'refused' },
      why: 'It could not be looked into, and what cannot be looked into may not go here.',
    });
  }

  /** Hands one movement in; null where the workbench cannot be reached. A refusal to judge it is told as trouble. */
  private async handInOne(
    { path, folder, marker, at }: Pick<Arrival, 'path' | 'folder' | 'marker' | 'at'>,
    bytes: Buffer,
  ): Promise<HandedIn | null> {
    const key = createHash('sha256').update(`${path}\n${marker}`).digest('base64url');
    const movement = {
      ...{ key, channel: 'endpoint', activity: 'copy', at: new Date(at).toISOString() },
      // Whose it is and which machine it was is known at the workbench.
      ...{ person: 'somebody@machine.invalid', machine: this.parts.machine },
      files: [{ name: basename(path), base64: bytes.toString('base64') }],
      putInto: [spotOf(folder)],
    };
    const answer = await this.parts.workbench
      .attempt<IntakeAnswer>('movements', { movements: [movement] }, ANSWER_WITHIN_MS)
      .catch((error: unknown) => {
        // Refused as a whole, as where nobody is known to work here: told, and held to what is stated.
        if (!(error instanceof Refused) || error.status === 401) throw error;
        this.tell(`${basename(path)}: ${error.message}`);
        return 'cannot-judge' as const;
      });
    if (answer === 'cannot-judge') return answer;
    const [result] = answer?.results ?? [];
    if (!result) return null;
    if (result.status === 'judged') return result;
    if (result.code === 'empty-movement') return 'nothing-to-judge';
    this.tell(`${basename(path)}: ${result.message}`);
    return 'cannot-judge';
  }

  private async follow(arrival: Arrival, verdict: HandedIn): Promise<boolean> {
    if (verdict === 'cannot-judge') return this.unfinished(arrival);
    if (verdict === 'nothing-to-judge' || verdict.state === 'went-on') return false;
    return this.keep(arrival, {
      movement: verdict.id,
      state: verdict.state === 'waiting' ? 'waiting' : 'refused',
      why: verdict.notice?.text || 'A rule of the organisation does not allow it.',
    });
  }

  /** The workbench is away: the last revision that is held decides, and the movement is handed in later. */
  private async judgeHere(arrival: Arrival, bytes: Buffer, orders: WatchOrders): Promise<boolean> {
    const { path, folder, marker, at } = arrival;
    const name = basename(path);
    const { person, policies, domains } = orders;
    if (!person) return false;
    const { machine } = this.parts;
    const verdict = await this.parts.judge({ name, bytes, at, machine, folder, person, policies, domains });
    const answer = verdict?.answer ?? (verdict ? null : unfinishedAnswer(orders));
    const stopped = answer === 'block' || answer === 'hold' || answer === 'ask';
    const id = randomUUID();
    await this.backlog.add(
      {
        ...{ id, at, bytes: bytes.length, stopped, matched: answer !== null },
        ...{ path, name, marker, folder },
      },
      bytes,
    );
    if (!stopped) return false;
    return this.keep(arrival, {
      movement: null,
      state: answer === 'block' ? 'refused' : 'waiting',
      why: `Because of ${verdict?.because ?? 'what is stated for files that cannot be read'}. The workbench cannot be reached now; it decides as soon as it can.`,
    });
  }

  /** Moves a file into quarantine; false where it could not be moved, or is gone by itself. */
  private async keep(arrival: Arrival, about: Omit<KeptFile, 'id' | 'path' | 'kept'>): Promise<boolean> {
    const kept = await this.box.keep(arrival.path, about);
    if ('id' in kept) {
      this.parts.say(`Kept ${basename(arrival.path)} from ${arrival.folder.name}`);
      return true;
    }
    // Gone by itself, as a file that a program wrote for a moment only.
    if (kept.problem === 'ENOENT') return false;
    this.tell(
      `${basename(arrival.path)} may not go to ${arrival.folder.name}, but could not be moved: ${kept.problem}.`,
    );
    return false;
  }

  /** Hands in what happened while the workbench was away, the oldest first, and follows what it decides. */
  handIn(): Promise<void> {
    this.handing = this.handing.then(() => this.handInAll()).catch(() => undefined);
    return this.handing;
  }

  private async handInAll(): Promise<void> {
    for (let next = this.backlog.all[0]; next; next = this.backlog.all[0]) {
      const bytes = await this.backlog.contentOf(next);
      const verdict = bytes ? await this.handInOne(next, bytes) : 'cannot-judge';
      if (verdict === null) return;
      // Dropped last: a stop in between hands it in again, under the same key.
      await this.settle(next, verdict);
      await this.backlog.drop(next.id);
    }
  }

  private async settle(movement: WaitingMovement, verdict: HandedIn): Promise<void> {
    const kept = this.box.all.find((each) => each.path === movement.path && each.movement === null);
    // What was kept without the workbench stays where nobody can judge it.
    if (verdict === 'nothing-to-judge' || (verdict === 'cannot-judge' && kept)) return;
    if (!kept || verdict === 'cannot-judge') {
      const facts = await lstat(movement.path).catch(() => null);
      // What is still there as it went goes no further now.
      if (facts && markerOf(facts) === movement.marker) await this.follow(movement, verdict);
      return;
    }
    this.box.change(kept.id, {
      movement: verdict.id,
      state: verdict.state === 'waiting' ? 'waiting' : 'refused',
    });
    if (verdict.state === 'went-on') await this.release(kept);
  }

  /** One round after the other. A refusal, as for a movement nobody knows any more, leaves the file where it is. */
  private askSoon(): void {
    this.asking ??= this.askAboutWaiting()
      .catch((error: unknown) => this.tell(error instanceof Error ? error.message : 'failed'))
      .finally(() => {
        this.asking = null;
      });
  }

  private async askAboutWaiting(): Promise<void> {
    for (const kept of this.box.all.filter(({ state }) => state === 'waiting')) {
      if (kept.movement === null) continue;
      const verdict = await this.parts.workbench.attempt<IntakeVerdict>(
        `movements/${kept.movement}/page`,
        { open: true },
        ANSWER_WITHIN_MS,
      );
      if (!verdict || verdict.state === 'waiting') continue;
      if (verdict.state === 'went-on') await this.release(kept);
      else await this.box.refuse(kept);
    }
  }

  private async release(kept: KeptFile): Promise<void> {
    const done = await this.box.release(kept);
    if (done === 'taken')
      return this.tell(`${basename(kept.path)} may go on, but another file has its name by now.`);
    this.parts.say(`Let ${basename(kept.path)} go on`);
  }

  private tell(trouble: string): void {
    this.trouble = trouble.slice(0, 300);
    this.parts.say(this.trouble);
  }
}

/** Reading did not come to an end: what is stated for that holds. */
function unfinishedAnswer({ unfinished }: WatchOrders): 'hold' | 'block' | null {
  return unfinished === 'let-go' ? null : unfinished;
}
