import { access, constants, lstat, realpath, stat } from 'node:fs/promises';
import type { WatchedFolder, WatchState } from '@lantern/contracts/discovery';
import { type FSWatcher, watch } from 'chokidar';
import { isWithin } from '../stores/folder.js';
import { markerOf } from './quarantine-box.js';

/** A file counts as written when its size stood still for so long. */
const STILL_MS = 700;
const LOOK_MS = 100;
/** What a watched folder says, and what is remembered of it. */
export interface FolderEvents {
  /** The disk that lay there when its files were counted as known; null for never. */
  readonly diskOf: () => string | null;
  readonly begun: (disk: string) => void;
  /** Lay there before anybody watched. */
  readonly known: (path: string, marker: string) => void;
  readonly arrived: (path: string) => void;
  readonly left: (path: string) => void;
}

/** One folder that is watched, also while it comes and goes as a stick does. */
export class FolderWatch {
  state: WatchState = 'missing';
  private watcher: FSWatcher | null = null;
  private disk: string | null = null;
  private looking: Promise<void> = Promise.resolve();

  constructor(
    readonly folder: WatchedFolder,
    private readonly allowed: readonly string[],
    private readonly events: FolderEvents,
  ) {}

  /** Begins to watch, begins anew where another disk lies there, and stops where nothing does. */
  look(): Promise<void> {
    // One look after the other: two at once would begin two watches.
    this.looking = this.looking.then(() => this.lookNow()).catch(() => undefined);
    return this.looking;
  }

  private async lookNow(): Promise<void> {
    const { path } = this.folder;
    const facts = await stat(path).catch(() => null);
    const real = facts?.isDirectory() ? await realpath(path) : null;
    if (real === null || !facts) return this.stop('missing');
    const roots = await Promise.all(this.allowed.map((each) => realpath(each).catch(() => each)));
    if (!roots.some((root) => isWithin(root, real))) return this.stop('not-allowed');
    const disk = `${facts.dev}:${facts.ino}`;
    if (this.watcher && this.disk === disk) return;
    await this.stop('missing');
    this.disk = disk;
    this.state = (await mayChange(real)) ? 'watching' : 'cannot-change';
    this.begin(path, disk);
  }

  close(): Promise<void> {
    return this.stop('missing');
  }

  private begin(path: string, disk: string): void {
    // What lay there before, or came on a disk that was plugged in, did not arrive from this machine.
    const isKnown = this.events.diskOf() === disk;
    let isReady = false;
    const watcher = watch(path, {
      ...{ followSymlinks: false, ignoreInitial: false, ignorePermissionErrors: true, atomic: true },
      awaitWriteFinish: { stabilityThreshold: STILL_MS, pollInterval: LOOK_MS },
    });
    const came = (file: string): void => {
      if (isReady || isKnown) return this.events.arrived(file);
      void lstat(file).then(
        (facts) => this.events.known(file, markerOf(facts)),
        () => undefined,
      );
    };
    watcher.on('add', came).on('change', came).on('unlink', this.events.left);
    watcher.on('ready', () => {
      isReady = true;
      this.events.begun(disk);
    });
    // The next look begins anew.
    watcher.on('error', () => void this.stop('missing'));
    this.watcher = watcher;
  }

  private async stop(state: WatchState): Promise<void> {
    this.state = state;
    const { watcher } = this;
    this.watcher = null;
    this.disk = null;
    await watcher?.close();
  }
}

const mayChange = (path: string): Promise<boolean> =>
  access(path, constants.W_OK | constants.X_OK).then(
    () => true,
    () => false,
  );
