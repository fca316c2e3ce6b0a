import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { letGo } from '@lantern/core/discovery';
import type { WaitingMovement, WatchState } from './watch-state.js';

/** Movements and bytes of content that wait on a machine at most; see {@link letGo} for what goes first. */
export const BACKLOG_LIMITS = { records: 5_000, bytes: 500 * 1024 * 1024 };

/** Movements that happened while the workbench was away, with their content, in the order in which they happened. */
export class Backlog {
  constructor(
    private readonly folder: string,
    private readonly state: WatchState,
  ) {}

  get all(): readonly WaitingMovement[] {
    return this.state.now.backlog;
  }

  /** Keeps a movement with its content; a full store lets the least go first. */
  async add(movement: WaitingMovement, bytes: Uint8Array): Promise<void> {
    await mkdir(join(this.folder, 'backlog'), { recursive: true, mode: 0o700 });
    await writeFile(this.fileOf(movement.id), bytes, { mode: 0o600 });
    this.state.now.backlog.push(movement);
    const gone = letGo(this.all, BACKLOG_LIMITS);
    for (const id of gone) await this.drop(id);
    this.state.now.dropped += gone.length;
    this.state.write();
  }

  /** Null where its content was lost. */
  contentOf({ id }: WaitingMovement): Promise<Buffer | null> {
    return readFile(this.fileOf(id)).catch(() => null);
  }

  async drop(id: string): Promise<void> {
    await rm(this.fileOf(id), { force: true });
    this.state.now.backlog = this.all.filter((each) => each.id !== id);
    this.state.write();
  }

  private fileOf(id: string): string {
    return join(this.folder, 'backlog', id);
  }
}
