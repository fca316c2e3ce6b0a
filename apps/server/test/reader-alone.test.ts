/** A reader on a network of its own, which reaches the workbench by way of another one, and rests when it should. */
import { createServer } from 'node:net';
import type { ReaderView } from '@lantern/contracts';
import type { DiscoveryPlaceView, RunView } from '@lantern/contracts/discovery';
import { freePort, type NetworkApart, networkApart } from '@lantern/testkit';
import { type Client, type Running, start } from './harness.js';
import { ReaderBeside, until } from './reader-program.js';

let running: Running;
let client: Client;
let relay: ReaderBeside;
let alone: ReaderBeside;
/** A network namespace of its own, where this machine lets us make one; else the same network. */
let apart: NetworkApart | null = null;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  apart = networkApart(77);
});

afterAll(async () => {
  await alone.close();
  await relay.close();
  apart?.remove();
  await running.stop();
});

const readers = async () => (await client.get<ReaderView[]>('/discovery/readers')).body;
const named = async (name: string) => (await readers()).find((each) => each.name === name);

describe('a reader without a way out of its own', () => {
  it('is enrolled and works through another one, which passes on nothing else', async () => {
    const port = await freePort();
    const host = apart?.here ?? '127.0.0.1';
    relay = new ReaderBeside(running, client, 'pier office');
    await relay.enrol('gate-01');
    relay.start(['--relay-on', `${host}:${port}`]);
    const through = `http://${host}:${port}`;
    alone = new ReaderBeside(running, client, 'pier', apart?.within ?? []);
    if (apart) await expect(alone.enrol('pier-01')).rejects.toMatchObject({ code: 1 });
    await until(
      () =>
        fetch(through).then(
          (answer) => answer.status,
          () => 0,
        ),
      (status) => status === 404,
    );
    expect((await fetch(`${through}/api/incidents`)).status).toBe(404);
    expect((await fetch(`${through}/api/reader/../incidents`)).status).toBe(404);
    expect((await fetch(`${through}/api/reader/patterns`)).status).toBe(401);
    // Of both addresses it uses the one that answers in its network: the nearest where both do.
    await alone.enrol('pier-01', ...(apart ? [running.address] : []), through);
    alone.start();
    alone.put('notes/crew.txt', 'Card 4111 1111 1111 1111 and the gate');
    alone.put('notes/gate.txt', 'The gate opens at five.');
    const place = await alone.place({ name: 'Pier share' });
    const done = await alone.runs(await alone.job([place]));
    expect(done).toMatchObject({ items: 2, readItems: 2 });
    const told = await until(
      () => named('pier-01'),
      (reader) => reader?.through === 'gate-01' && reader.roundTripMs !== null,
    );
    expect(Math.abs(told?.clockAheadMs ?? 0)).toBeLessThan(5_000);
    // Something to do makes it say what it knows of itself.
    await relay.place({ name: 'Gate share' });
    expect(
      await until(
        () => named('gate-01'),
        (reader) => reader?.serves === 1,
      ),
    ).toMatchObject({ through: null });
  });
});

describe('a reader that rests', () => {
  it('goes through no place outside its hours, does what people wait for, and goes on in them', async () => {
    const reader = await named('pier-01');
    const cost = { processor: null, bytesPerSecond: null, itemsPerSecond: null };
    const path = `/discovery/readers/${reader?.id ?? ''}/cost`;
    const wrong = await client.send('PUT', path, { ...cost, hours: { from: '25:00', to: '08:00' } });
    expect(wrong.status).toBe(400);
    // An hour that is half a day away.
    const hour = (ahead: number) => `${String((new Date().getHours() + ahead) % 24).padStart(2, '0')}:00`;
    const hours = { from: hour(12), to: hour(13) };
    expect((await client.send('PUT', path, { ...cost, hours })).status).toBe(204);
    await until(
      () => named('pier-01'),
      (each) => each?.resting === 'hours',
    );
    alone.put('notes/new.txt', 'Card 5555 5555 5555 4444');
    const pier = async () =>
      (await client.get<DiscoveryPlaceView[]>('/discovery/places')).body.find(
        ({ name }) => name === 'Pier share',
      );
    const place = await pier();
    const job = await alone.job([place?.id ?? ''], { name: 'Again' });
    const started = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
    expect((await client.send('POST', `/discovery/places/${place?.id ?? ''}/check`)).status).toBe(204);
    const checked = await until(
      async () => (await pier())?.check,
      (check) => check?.state === 'well',
    );
    expect(checked).toMatchObject({ items: 3 });
    const state = async () => (await client.get<RunView>(`/discovery/runs/${started.body.id}`)).body;
    expect(await state()).toMatchObject({ state: 'running', isListed: false });
    expect((await client.send('PUT', path, cost)).status).toBe(204);
    expect(await until(state, (each) => each.state === 'done')).toMatchObject({ items: 3, readItems: 1 });
  });
});

describe('the address of a relay', () => {
  it('is refused where it is none, or taken', async () => {
    await expect(relay.command(['run', '--data', relay.data, '--relay-on', 'nowhere'])).rejects.toMatchObject(
      {
        stderr: expect.stringContaining('--relay-on takes a port, or host:port.'),
      },
    );
    const server = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    const address = server.address();
    const port = typeof address === 'object' && address ? address.port : 0;
    await expect(
      relay.command(['run', '--data', relay.data, '--relay-on', `127.0.0.1:${port}`]),
    ).rejects.toMatchObject({ stderr: expect.stringContaining('EADDRINUSE') });
    server.close();
  });
});
