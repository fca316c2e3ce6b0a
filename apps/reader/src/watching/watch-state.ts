import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { WatchedFolder } from '@lantern/contracts/discovery';

/** A file in quarantine. */
export interface KeptFile {
  readonly id: string;
  /** Where it arrived. */
  readonly path: string;
  /** Where it lies now. */
  readonly kept: string;
  /** Id of its movement at the workbench; null while it was not handed in. */
  readonly movement: string | null;
  readonly state: 'waiting' | 'refused';
  readonly why: string;
}

/** A movement that waits to be handed in, with its content in a file beside. */
export interface WaitingMovement {
  readonly id: string;
  readonly at: number;
  readonly bytes: number;
  readonly stopped: boolean;
  readonly matched: boolean;
  readonly path: string;
  readonly name: string;
  readonly marker: string;
  readonly folder: WatchedFolder;
}

interface Kept {
  /** Watched folders that were gone through once, by path, with the disk they were on. */
  folders: Record<string, string>;
  /** What was judged, by path. */
  seen: Record<string, string>;
  kept: KeptFile[];
  backlog: WaitingMovement[];
  dropped: number;
}

const FILE = 'watched.json';
/** What is written down is written at most so often; a stop in between judges some files twice, under the same key. */
const WRITE_EVERY_MS = 500;

/** What a machine remembers of its watching, through a stop of the program. */
export class WatchState {
  readonly now: Kept;
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly folder: string) {
    this.now = readState(folder);
  }

  static read(folder: string): Readonly<Kept> {
    return readState(folder);
  }

  changed(): void {
    this.timer ??= setTimeout(() => this.write(), WRITE_EVERY_MS);
  }

  /** What must not be forgotten by a stop. */
  write(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const beside = join(this.folder, `.${FILE}.${randomUUID()}`);
    writeFileSync(beside, JSON.stringify(this.now), { mode: 0o600 });
    renameSync(beside, join(this.folder, FILE));
  }
}

function readState(folder: string): Kept {
  const file = join(folder, FILE);
  const empty: Kept = { folders: {}, seen: {}, kept: [], backlog: [], dropped: 0 };
  return existsSync(file) ? { ...empty, ...(JSON.parse(readFileSync(file, 'utf8')) as Kept) } : empty;
}
