/** An installation of a story's own: a folder, free ports, and the start command. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort } from '@lantern/testkit';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));

export interface OwnInstallation {
  readonly address: string;
  /** Port of its SMTP door. */
  readonly smtp: number;
  /** What the start command printed. */
  readonly said: string;
  stop(): Promise<void>;
}

/** A folder for an installation. `remove` deletes it with everything in it. */
export function ownFolder(name: string): { readonly data: string; remove(): void } {
  const data = mkdtempSync(join(tmpdir(), `lantern-${name}-`));
  return { data, remove: () => rmSync(data, { recursive: true, force: true }) };
}

/** Starts the installation in a folder, without the demo. Rejects with what it said where it ends instead. */
export async function startIn(data: string): Promise<OwnInstallation> {
  const [port, smtp, post] = [await freePort(), await freePort(), await freePort()];
  const program = spawn(process.execPath, ['scripts/start.mjs', '--empty'], {
    cwd: ROOT,
    env: {
      ...process.env,
      ...{ PORT: String(port), LANTERN_DATA: data },
      ...{ LANTERN_SMTP_PORT: String(smtp), LANTERN_POST_PORT: String(post) },
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  await new Promise<void>((resolve, reject) => {
    program.once('exit', (code) => reject(new Error(`It ended with ${code}: ${said}`)));
    program.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString('utf8');
      if (said.includes('Ctrl-C')) resolve();
    });
  });
  return { address: `http://127.0.0.1:${port}`, smtp, said, stop: () => ended(program) };
}

async function ended(program: ChildProcess): Promise<void> {
  if (program.exitCode !== null) return;
  const over = new Promise((resolve) => program.once('exit', resolve));
  program.kill('SIGTERM');
  await over;
}
