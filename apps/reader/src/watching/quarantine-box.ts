import { randomUUID } from 'node:crypto';
import type { Stats } from 'node:fs';
import { lstat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { NOTE_ENDING, putBack, quarantine } from '../stores/folder.js';
import type { KeptFile, WatchState } from './watch-state.js';

/** Files that were kept from going on, each with a note in its place. */
export class QuarantineBox {
  constructor(
    private readonly folder: string,
    private readonly state: WatchState,
  ) {}

  get all(): readonly KeptFile[] {
    return this.state.now.kept;
  }

  /** Moves a file here; its id, or why it could not be moved. */
  async keep(
    path: string,
    about: Omit<KeptFile, 'id' | 'path' | 'kept'>,
  ): Promise<{ readonly id: string } | { readonly problem: string }> {
    const id = randomUUID();
    const kept = join(this.folder, 'quarantine', 'watched', id);
    try {
      await quarantine(path, kept, noteFor(id, about));
    } catch (error) {
      return { problem: (error as NodeJS.ErrnoException).code ?? 'failed' };
    }
    this.state.now.kept.push({ id, path, kept, ...about });
    await this.seeNote(path);
    this.state.write();
    return { id };
  }

  /** Puts a file back where it arrived; seen, so that it is not judged again. */
  async release({ id, path, kept }: KeptFile): Promise<'done' | 'taken' | 'not-here'> {
    const done = await putBack(kept, path);
    if (done === 'taken') return done;
    const facts = await lstat(path).catch(() => null);
    if (facts) this.state.now.seen[path] = markerOf(facts);
    this.state.now.kept = this.state.now.kept.filter((each) => each.id !== id);
    this.state.write();
    return done;
  }

  /** It may not go there for good: the note says so from now on. */
  async refuse({ id, path, why }: KeptFile): Promise<void> {
    this.change(id, { state: 'refused' });
    await writeFile(path + NOTE_ENDING, noteFor(id, { state: 'refused', why })).catch(() => undefined);
    await this.seeNote(path);
  }

  /** Our own note is no movement; what somebody else writes under its name is one. */
  private async seeNote(path: string): Promise<void> {
    const facts = await lstat(path + NOTE_ENDING).catch(() => null);
    if (facts) this.state.now.seen[path + NOTE_ENDING] = markerOf(facts);
    this.state.changed();
  }

  change(id: string, change: Partial<Pick<KeptFile, 'movement' | 'state'>>): void {
    this.state.now.kept = this.all.map((each) => (each.id === id ? { ...each, ...change } : each));
    this.state.write();
  }
}

/** Version of a file. The time of its last change of any kind is in it, since a copy can bring its other times along. */
export const markerOf = ({ mtimeMs, ctimeMs, size, ino }: Stats): string =>
  `${mtimeMs}-${ctimeMs}-${size}-${ino}`;

function noteFor(id: string, { state, why }: Pick<KeptFile, 'state' | 'why'>): string {
  return [
    state === 'waiting' ? 'This file waits: it may not go here yet.' : 'This file may not go here.',
    '',
    why,
    '',
    'Nothing was deleted: it lies in quarantine on this machine.',
    ...(state === 'waiting'
      ? [`See what it waits for, or answer: npm run -s reader -- waiting`, `Its number: ${id.slice(0, 8)}`]
      : ['Ask the data security desk if you need it here.']),
    '',
  ].join('\n');
}
