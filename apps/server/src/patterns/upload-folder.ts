import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Where uploaded records and samples wait to be read: nobody else on the machine may look into it, and it goes with the server. */
export const UPLOAD_FOLDER = mkdtempSync(join(tmpdir(), 'lantern-uploads-'));
process.once('exit', () => rmSync(UPLOAD_FOLDER, { recursive: true, force: true }));
