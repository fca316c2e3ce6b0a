/** Folders watched by the real program: what arrives is judged, kept with a note, put back, also without the workbench. */
import { randomUUID } from 'node:crypto';
import { type ChildProcess, execFile, spawn } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer, request as ask, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { ErrorBody, ReaderCode, ReaderView } from '@lantern/contracts';
import type { WatchGroupView } from '@lantern/contracts/discovery';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { CARDS, type Client, publish, ruleOf, type Running, start } from './harness.js';
import { READER } from './reader-program.js';

const run = promisify(execFile);
/** Another disk than the reader's own folder, as a stick is: a file system in memory. */
const ELSEWHERE = existsSync('/dev/shm') ? '/dev/shm' : tmpdir();
const NOTE = '.in-quarantine.txt';

let running: Running;
let client: Client;
let stick: string;
let data: string;
let reader: ChildProcess | undefined;
/** Between the machine and the workbench, so that the way can be cut. */
let way: Server;
let isCut = false;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  stick = mkdtempSync(join(ELSEWHERE, 'lantern-stick-'));
  data = mkdtempSync(join(tmpdir(), 'lantern-watcher-'));
  const asking = {
    ...{ answer: 'ask', when: { kind: 'file', names: ['ask*'] } },
    ask: { reasons: [{ words: 'It is mine', leads: 'goes-on' }], minutes: 60, otherwise: 'stays' },
  };
  await publish(client, 'Sticks', [ruleOf(), ruleOf(asking)], { channels: ['endpoint'] });
  way = createServer((incoming, outgoing) => {
    if (isCut) return void incoming.socket.destroy();
    const target = new URL(running.address);
    const passed = ask(
      {
        port: target.port,
        host: target.hostname,
        path: incoming.url,
        method: incoming.method,
        headers: incoming.headers,
      },
      (answer) => {
        outgoing.writeHead(answer.statusCode ?? 500, answer.headers);
        answer.pipe(outgoing);
      },
    );
    passed.on('error', () => outgoing.destroy());
    incoming.pipe(passed);
    outgoing.on('close', () => passed.destroy());
  });
  await new Promise<void>((resolve) => way.listen(0, '127.0.0.1', resolve));
});

afterAll(async () => {
  await stopReader();
  way.closeAllConnections();
  way.close();
  await running.stop();
  for (const each of [stick, data]) rmSync(each, { recursive: true, force: true });
});

function startReader(): void {
  reader = spawn(process.execPath, [READER, 'run', '--data', data, '--processes', '1'], { stdio: 'ignore' });
}

async function stopReader(): Promise<void> {
  const child = reader;
  reader = undefined;
  if (!child || child.exitCode !== null) return;
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await ended;
}

async function until(right: () => boolean | Promise<boolean>, what: string): Promise<void> {
  for (let waited = 0; waited < 45_000; waited += 100) {
    if (await right()) return;
    await wait(100);
  }
  throw new Error(`It never came: ${what}; there is ${readdirSync(stick).join(', ')}`);
}

const at = (name: string): string => join(stick, name);
const machine = async (): Promise<ReaderView | undefined> =>
  (await client.get<ReaderView[]>('/discovery/readers')).body[0];
const draft = (over: object) =>
  client.send<{ id: string } & ErrorBody>('PUT', '/discovery/watching/desks/draft', {
    folders: [{ path: stick, as: 'device', name: 'Stick', trusted: false }],
    ...over,
  });
const use = (id: string) => client.send('POST', '/discovery/watching/desks/settings', { draft: id });
const group = async (): Promise<WatchGroupView | undefined> =>
  (await client.get<WatchGroupView[]>('/discovery/watching')).body.find((one) => one.group === 'desks');
const movements = (where: object = {}) =>
  running.database.getRepository(MovementEntity).findBy({ channel: 'endpoint', ...where });

describe('a machine that watches a stick', () => {
  it('watches what its group was told to, once its own owner allowed it', async () => {
    const { body } = await client.send<ReaderCode>('POST', '/discovery/readers/codes', { group: 'desks' });
    const address = `http://127.0.0.1:${(way.address() as AddressInfo).port}`;
    await run(process.execPath, [
      ...[READER, 'enrol', '--address', address, '--code', body.code, '--name', 'desk-07'],
      ...['--data', data, '--may-read', stick],
    ]);
    writeFileSync(at('before.txt'), CARDS);
    startReader();
    const elsewhere = { path: '/etc', as: 'place', name: '/Elsewhere', trusted: true };
    const folder = { path: `${stick}/`, as: 'device', name: 'Stick', trusted: false };
    const saved = await draft({ folders: [folder, elsewhere], person: 'orla.fenwick@merrowstrait.example' });
    expect(saved.status).toBe(200);
    // Nothing is in force yet, and nobody's draft is written over unseen.
    expect((await draft({})).status).toBe(409);
    const again = { draft: saved.body.id };
    expect((await draft({ ...again, folders: [{ ...folder, path: 'stick' }] })).status).toBe(400);
    expect((await draft({ ...again, folders: [folder, { ...folder, path: stick }] })).status).toBe(400);
    expect(await group()).toMatchObject({ version: 0, folders: [], machines: 1, draft: { by: 'analyst' } });
    expect((await use(randomUUID())).status).toBe(409);
    expect((await use(saved.body.id)).status).toBe(204);
    expect((await use(saved.body.id)).status).toBe(409);
    await until(async () => (await machine())?.watching?.version === 1, 'the first orders');
    await until(
      async () => (await machine())?.watching?.folders.some(({ state }) => state === 'watching') === true,
      'the watching',
    );
    expect((await machine())?.watching?.folders).toEqual([
      { path: stick, state: 'watching' },
      { path: '/etc', state: 'not-allowed' },
    ]);
    expect(await group()).toMatchObject({
      ...{ version: 1, changedBy: 'analyst', draft: null },
      history: [{ version: 1, by: 'analyst', writtenBy: 'analyst' }],
    });
  });

  it('costs its machine what its group says, or what was said for it alone', async () => {
    const hours = { from: '18:00', to: '18:00' };
    const saved = await draft({ cost: { batteryAbove: 40, hours } });
    const promised = async () => (await machine())?.promised;
    expect(await promised()).toMatchObject({ batteryAbove: null, hours: null });
    // Folders as they are, with the person: this test changes what it may cost alone.
    const { folders = [], person } = (await group()) ?? {};
    const again = await draft({ cost: { batteryAbove: 40 }, folders, person, draft: saved.body.id });
    expect((await use(saved.body.id)).status).toBe(409);
    expect((await use(again.body.id)).status).toBe(204);
    expect(await promised()).toMatchObject({ batteryAbove: 40, hours: null, processor: null });
    const { id = '' } = (await machine()) ?? {};
    expect((await client.send('PUT', `/discovery/readers/${id}/cost`, { processor: 2 })).status).toBe(204);
    expect(await machine()).toMatchObject({ ownCost: true, promised: { processor: 2, batteryAbove: null } });
    expect((await group())?.ownCosts).toBe(1);
    expect((await client.send('DELETE', `/discovery/readers/${id}/cost`)).status).toBe(204);
    expect(await machine()).toMatchObject({ ownCost: false, promised: { batteryAbove: 40 } });
    const gone = await draft({ folders, person });
    const path = `/discovery/watching/desks/draft/${gone.body.id}`;
    expect((await client.send('DELETE', path)).status).toBe(204);
    expect((await client.send('DELETE', path)).status).toBe(409);
    expect((await use(gone.body.id)).status).toBe(409);
    expect((await group())?.version).toBe(2);
    await until(async () => (await machine())?.watching?.version === 2, 'the second orders');
  });

  it('lets through what no rule stops, and keeps what one does, with a note in its place', async () => {
    writeFileSync(at('rota.txt'), 'The rota of Tuesday');
    writeFileSync(at('refunds.txt'), CARDS);
    const note = (): string =>
      existsSync(at(`refunds.txt${NOTE}`)) ? readFileSync(at(`refunds.txt${NOTE}`), 'utf8') : '';
    await until(() => note() !== '', 'the note');
    expect(existsSync(at('refunds.txt'))).toBe(false);
    expect(note()).toContain('This file may not go here.');
    await until(async () => (await movements()).length === 2, 'both movements');
    expect(await movements({ machine: 'desk-07' })).toHaveLength(2);
    expect(readFileSync(at('rota.txt'), 'utf8')).toBe('The rota of Tuesday');
    // What lay there before did not arrive from this machine.
    expect(existsSync(at('before.txt'))).toBe(true);
    await until(async () => (await machine())?.watching?.kept === 1, 'the count');
  });

  it('says whose movement it is: what the program claims counts for nothing', async () => {
    const found = await movements({ machine: 'desk-07' });
    expect(new Set(found.map(({ personAddress }) => personAddress))).toEqual(
      new Set(['orla.fenwick@merrowstrait.example']),
    );
  });

  it('judges by what it holds while the workbench is away, and hands in later', async () => {
    isCut = true;
    way.closeAllConnections();
    mkdirSync(at('deep/down'), { recursive: true });
    writeFileSync(at('deep/down/offline.txt'), CARDS);
    writeFileSync(at('harmless.txt'), 'Tide tables');
    await until(() => existsSync(at(`deep/down/offline.txt${NOTE}`)), 'the note without the workbench');
    expect(readFileSync(at(`deep/down/offline.txt${NOTE}`), 'utf8')).toContain(
      'rule 1 of the policy "Sticks"',
    );
    await wait(1_500);
    expect(existsSync(at('harmless.txt'))).toBe(true);
    expect(await movements()).toHaveLength(2);
    // A stop in the middle forgets nothing.
    await stopReader();
    isCut = false;
    startReader();
    await until(async () => (await movements()).length === 4, 'what was handed in later');
    await until(async () => (await machine())?.watching?.backlog === 0, 'an empty backlog');
    expect(existsSync(at('deep/down/offline.txt'))).toBe(false);
  });

  it('goes by no name: unfinished, hidden and what looks like a note of its own are judged too', async () => {
    const names = ['cards.part', '.cards', `cards${NOTE}`];
    for (const name of names) writeFileSync(at(name), CARDS);
    for (const name of names) await until(() => existsSync(at(name + NOTE)), `the note for ${name}`);
    expect(names.filter((name) => existsSync(at(name)))).toEqual([]);
  });

  it('judges what arrived while it did not run', async () => {
    await stopReader();
    writeFileSync(at('meanwhile.txt'), CARDS);
    startReader();
    await until(() => existsSync(at(`meanwhile.txt${NOTE}`)), 'the note for what came meanwhile');
  });

  it('puts back what somebody at the machine answers for', async () => {
    writeFileSync(at('ask me.txt'), 'The list of names');
    await until(() => existsSync(at(`ask me.txt${NOTE}`)), 'the question');
    expect(readFileSync(at(`ask me.txt${NOTE}`), 'utf8')).toContain('This file waits');
    const { stdout } = await run(process.execPath, [READER, 'waiting', '--data', data]);
    expect(stdout).toContain('refunds.txt');
    expect(stdout).toContain('- It is mine');
    const number = /answer ([\da-f]{8})/u.exec(stdout)?.[1] ?? '';
    const command = [READER, 'answer', number, 'goes-on', 'It is mine', '--data', data];
    expect((await run(process.execPath, command)).stdout).toContain('It may go on.');
    // The note goes last: a stop in between leaves a note too many, never a file too few.
    await until(() => !existsSync(at(`ask me.txt${NOTE}`)), 'the note that is taken away');
    expect(readFileSync(at('ask me.txt'), 'utf8')).toBe('The list of names');
    const before = (await movements()).length;
    await wait(2_000);
    // It was judged once.
    expect(await movements()).toHaveLength(before);
  });
});
