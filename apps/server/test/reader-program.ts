/** The real reader program, enrolled and run as somebody at a terminal would. */
import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { ReaderCode } from '@lantern/contracts';
import type { ItemPage, RunView } from '@lantern/contracts/discovery';
import type { Client, Running } from './harness.js';

/** The program itself. */
export const READER = fileURLToPath(new URL('../../reader/dist/main.js', import.meta.url));
const run = promisify(execFile);
const LONGEST_MS = 45_000;
/** Leaves nothing out of a place. */
export const ALL = { only: [], leaveOut: [], endings: [], mostBytes: null, changedWithinDays: null };

/** A folder with a reader beside it. */
export class ReaderBeside {
  readonly folder = mkdtempSync(join(tmpdir(), 'lantern-places-'));
  readonly data = mkdtempSync(join(tmpdir(), 'lantern-reader-'));
  private child: ChildProcess | undefined;

  constructor(
    private readonly running: Running,
    private readonly client: Client,
    private readonly group = 'head office',
    /** Words before its command: a network to run in. */
    private readonly within: readonly string[] = [],
  ) {}

  /** Runs the program to its end; rejects with what it said where it fails. */
  command(words: readonly string[]): Promise<{ readonly stdout: string }> {
    const [program = '', ...rest] = [...this.within, process.execPath, READER, ...words];
    return run(program, rest);
  }

  async enrol(name = 'files-01', ...addresses: readonly string[]): Promise<void> {
    const { body } = await this.client.send<ReaderCode>('POST', '/discovery/readers/codes', {
      group: this.group,
    });
    const options = { code: body.code, name, data: this.data, 'may-read': this.folder };
    const ways = addresses.length > 0 ? addresses : [this.running.address];
    await this.command([
      'enrol',
      ...ways.flatMap((address) => ['--address', address]),
      ...Object.entries(options).flatMap(([option, value]) => [`--${option}`, value]),
    ]);
  }

  start(more: readonly string[] = []): void {
    const words = ['run', '--data', this.data, '--processes', '2', ...more];
    const [program = '', ...rest] = [...this.within, process.execPath, READER, ...words];
    this.child = spawn(program, rest, { stdio: 'ignore' });
  }

  async stop(): Promise<void> {
    const { child } = this;
    this.child = undefined;
    if (!child || child.exitCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await ended;
  }

  async close(): Promise<void> {
    await this.stop();
    for (const each of [this.folder, this.data]) rmSync(each, { recursive: true, force: true });
  }

  put(path: string, content: string | Uint8Array): void {
    mkdirSync(join(this.folder, path, '..'), { recursive: true });
    writeFileSync(join(this.folder, path), content);
  }

  /** A place in this folder. Gives its id. */
  async place(over: object = {}): Promise<string> {
    const answer = await this.client.send<{ id: string }>('POST', '/discovery/places', {
      ...{ name: 'Harbour share', store: 'folder', address: { at: this.folder }, group: this.group },
      ...{ owner: 'orla.fenwick@merrowstrait.example', reach: 'organisation', unmanaged: false },
      ...{ unwanted: [], ...over },
    });
    expect(answer.status).toBe(201);
    return answer.body.id;
  }

  async job(places: readonly string[], over: object = {}): Promise<string> {
    const answer = await this.client.send<{ id: string }>('POST', '/discovery/jobs', {
      ...{ name: 'Everything', places, scope: ALL, step: 'find', everything: false, active: false, ...over },
    });
    expect(answer.status).toBe(201);
    return answer.body.id;
  }

  async runs(job: string): Promise<RunView> {
    const { body } = await this.client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
    return until(
      async () => (await this.client.get<RunView>(`/discovery/runs/${body.id}`)).body,
      ({ state }) => state === 'done',
    );
  }

  async items(filter = ''): Promise<ItemPage> {
    const query = new URLSearchParams({ order: 'path', filter });
    return (await this.client.get<ItemPage>(`/discovery/items?${query}`)).body;
  }
}

/** Asks until the answer is right; fails with the last one. */
export async function until<Value>(
  get: () => Promise<Value>,
  right: (value: Value) => boolean,
): Promise<Value> {
  for (let waited = 0; waited < LONGEST_MS; waited += 150) {
    const value = await get();
    if (right(value)) return value;
    await wait(150);
  }
  throw new Error(`It never came: ${JSON.stringify(await get()).slice(0, 2_000)}`);
}
