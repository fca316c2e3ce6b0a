import { lstat, mkdir, readdir, readFile, realpath, rename, rm, stat, utimes } from 'node:fs/promises';
import { basename, join, sep } from 'node:path';
import { COMPANION_ENDING, MAX_FILE_BYTES, replaceFile } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../../../platform/config.js';
import { AppError } from '../../../platform/errors/app-error.js';
import type { PlaceEntity } from '../../../directory/place.entity.js';

/** Entries of one folder that are listed at most; a window shows no more. */
const MOST_ENTRIES = 5_000;
/** Read and written by whoever serves the place, read by the rest. */
const NEW_FILE_MODE = 0o644;

export interface DiskEntry {
  readonly name: string;
  readonly kind: 'folder' | 'file';
  readonly bytes: number;
  readonly changedAt: Date;
}

/** Folders and files of places as they lie on this machine. Links are not followed, so nothing outside is reached. */
@Injectable()
export class PlaceDisk {
  constructor(@Inject(CONFIG) private readonly config: Config) {}

  /** Folders first, then files, each by name. */
  async list(place: Pick<PlaceEntity, 'folder'>, below: string): Promise<DiskEntry[]> {
    if (below === '') await mkdir(this.pathOf(place, ''), { recursive: true });
    const root = await this.inside(place, below);
    const found = await readdir(root, { withFileTypes: true }).catch(gone);
    const shown = found.filter(
      (entry) =>
        (entry.isFile() || entry.isDirectory()) &&
        !entry.name.startsWith('.') &&
        !entry.name.endsWith(COMPANION_ENDING),
    );
    const entries = await Promise.all(
      shown.slice(0, MOST_ENTRIES).map(async (entry): Promise<DiskEntry[]> => {
        const known = await stat(join(root, entry.name)).catch(() => null);
        const kind = entry.isDirectory() ? 'folder' : 'file';
        return known ? [{ name: entry.name, kind, bytes: known.size, changedAt: known.mtime }] : [];
      }),
    );
    return entries
      .flat()
      .sort((left, right) =>
        left.kind === right.kind
          ? left.name.localeCompare(right.name, 'en', { numeric: true })
          : left.kind === 'folder'
            ? -1
            : 1,
      );
  }

  /** Size and time of a file; null where none lies there. */
  async look(
    place: Pick<PlaceEntity, 'folder'>,
    path: string,
  ): Promise<{ readonly bytes: number; readonly changedAt: Date } | null> {
    const known = await lstat(this.pathOf(place, path)).catch(() => null);
    return known?.isFile() ? { bytes: known.size, changedAt: known.mtime } : null;
  }

  async read(place: Pick<PlaceEntity, 'folder'>, path: string): Promise<Buffer> {
    const known = await this.look(place, path);
    if (!known) return gone();
    if (known.bytes > MAX_FILE_BYTES)
      throw new AppError('file-too-large', 'The file is too large for the drive.', {
        details: { limit: Math.floor(MAX_FILE_BYTES / 1024 / 1024) },
      });
    return readFile(await this.inside(place, path)).catch(gone);
  }

  /** Writes a file whole or not at all, in the folders it names; it says of itself that it changed then. */
  async write(
    place: Pick<PlaceEntity, 'folder'>,
    path: string,
    bytes: Uint8Array,
    changedAt: Date,
  ): Promise<void> {
    const folder = path.split('/').slice(0, -1).join('/');
    await mkdir(this.pathOf(place, folder), { recursive: true });
    const to = join(await this.inside(place, folder), basename(path));
    const known = await stat(to).catch(() => null);
    await replaceFile(to, bytes, known?.mode ?? NEW_FILE_MODE);
    await utimes(to, changedAt, changedAt);
  }

  async remove(place: Pick<PlaceEntity, 'folder'>, path: string): Promise<void> {
    const at = await this.inside(place, path);
    await rm(at);
    await rm(at + COMPANION_ENDING, { force: true });
  }

  /** Gives a file another name where it lies; its companion goes with it. */
  async rename(place: Pick<PlaceEntity, 'folder'>, path: string, name: string): Promise<string> {
    const to = [...path.split('/').slice(0, -1), name].join('/');
    if (await this.look(place, to))
      throw new AppError('name-taken', `"${name}" already exists in this folder. Nothing was renamed.`, {
        details: { name },
      });
    await this.inside(place, path);
    await rename(this.pathOf(place, path), this.pathOf(place, to)).catch(gone);
    await rename(
      this.pathOf(place, path) + COMPANION_ENDING,
      this.pathOf(place, to) + COMPANION_ENDING,
    ).catch(() => undefined);
    return to;
  }

  /** Where a path really lies: a folder of it may be a link that leads out of the place. */
  private async inside(place: Pick<PlaceEntity, 'folder'>, path: string): Promise<string> {
    const root = await realpath(join(this.config.places, place.folder)).catch(gone);
    const real = await realpath(this.pathOf(place, path)).catch(gone);
    return real === root || real.startsWith(root + sep) ? real : gone();
  }

  /** Where a path of a place lies; steps that lead out of it are refused. */
  private pathOf(place: Pick<PlaceEntity, 'folder'>, path: string): string {
    const steps = path.split('/').filter((step) => step !== '');
    if (steps.some((step) => step === '..' || step === '.' || step.startsWith('.') || step.includes('\0')))
      throw new AppError('not-found', 'This place has no such file.');
    return join(this.config.places, place.folder, ...steps);
  }
}

function gone(): never {
  throw new AppError('not-found', 'It is no longer in this place. Somebody moved or deleted it.');
}
