import { randomUUID } from 'node:crypto';
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { WatchOrders } from '@lantern/contracts/discovery';
import type { Revision } from '../reading/revision.js';

/** The revision and the orders that a machine holds, so that it watches from its first second on. */
export interface Held {
  readonly revision: Revision;
  readonly orders: WatchOrders;
}

const FILE = 'held.json';

export function keepHeld(folder: string, held: Held): void {
  const beside = join(folder, `.${FILE}.${randomUUID()}`);
  writeFileSync(beside, JSON.stringify(held), { mode: 0o600 });
  renameSync(beside, join(folder, FILE));
}

/** Null where none was kept, or where it cannot be read: then the workbench is asked first. */
export function readHeld(folder: string): Held | null {
  const file = join(folder, FILE);
  if (!existsSync(file)) return null;
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Held;
  } catch {
    return null;
  }
}
