import { fileURLToPath } from 'node:url';
import { join } from 'node:path';

/** The folder of the project. */
export const ROOT = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
/** Everything a running installation keeps: database, keys, logs. Never committed. */
export const DATA = process.env.LANTERN_DATA ?? join(ROOT, '.data');
/** Stamps and scratch files of builds and tests. */
export const BUILD = join(ROOT, '.build');
/** Name of the file in {@link DATA} that holds ends of the audit trail, out of reach of the database. */
export const TRAIL_HEADS = 'trail-heads.jsonl';
