/** The audit trail sent on as syslog over TLS (RFC 5424, 5425) to a collector that we did not write: Debian's rsyslog. */
import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TrailForwardingView } from '@lantern/contracts';
import { freePort, ownCertificate } from '@lantern/testkit';
import { CONFIG } from '../src/platform/config.js';
import { InstallationEntity } from '../src/platform/installation.entity.js';
import { Trail } from '../src/platform/trail/trail.service.js';
import { TrailForwarder } from '../src/platform/trail/trail-forwarder.service.js';
import { type Collected, type LogCollector, logCollector } from './log-collector.js';
import { type Client, type Running, start } from './harness.js';

let running: Running;
let client: Client;
let forwarder: TrailForwarder;
let port: number;
let trusted: string;
let folder: string;
let collector: LogCollector | null = null;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-trusted-'));
  trusted = join(folder, 'trusted.pem');
  port = await freePort();
  running = await start();
  client = await running.client();
  Object.assign(running.application.get<object>(CONFIG), {
    syslog: { host: '127.0.0.1', port, authority: trusted },
  });
  forwarder = running.application.get(TrailForwarder);
});
afterAll(async () => {
  await running.stop();
  await collector?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const view = async () => (await client.get<TrailForwardingView>('/trail/forwarding')).body;

async function collect(): Promise<void> {
  collector = await logCollector(port);
  copyFileSync(collector.authority, trusted);
}

/** What arrived, once there are so many. */
async function arrived(count: number): Promise<Collected[]> {
  for (let waited = 0; waited < 10_000; waited += 100) {
    const all = collector?.collected() ?? [];
    if (all.length >= count) return all;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return collector?.collected() ?? [];
}
const numbers = (all: readonly Collected[]): number[] =>
  all.map(({ data }) => Number(/number="(\d+)"/u.exec(data)?.[1]));

it('waits in the trail while nobody collects, and says so', async () => {
  ownCertificate(join(folder, 'other-key.pem'), trusted);
  await running.application
    .get(Trail)
    .add({ actor: 'ada"]\n<13>1 forged', action: 'sign-in-failed', target: 'Übung' });
  await forwarder.look();
  expect(await view()).toMatchObject({
    to: `127.0.0.1:${port}`,
    sent: 0,
    failing: { why: expect.any(String) },
  });
});

it('arrives whole and in order when somebody does, and is understood', async () => {
  await collect();
  const { waiting } = await view();
  await forwarder.look();
  const all = await arrived(waiting);
  expect(numbers(all)).toEqual(Array.from({ length: waiting }, (_, at) => at + 1));
  const failed = all.find(({ id }) => id === 'sign-in-failed');
  expect(failed).toMatchObject({
    priority: '108',
    app: 'lantern',
    message: expect.stringContaining('Übung'),
  });
  expect(failed?.data).toContain('actor="ada\\"\\]');
  expect(await view()).toMatchObject({ sent: waiting, waiting: 0, failing: null });
});

it('goes on where it was after the collector was away', async () => {
  const before = (await view()).sent;
  await collector?.stop();
  collector = null;
  const trail = running.application.get(Trail);
  for (let at = 0; at < 700; at += 1) await trail.add({ actor: 'ada', action: 'PUT /x', target: String(at) });
  await forwarder.look();
  await forwarder.look();
  const { sent } = await view();
  expect(sent).toBeGreaterThanOrEqual(before);
  await collect();
  // What was on its way when the connection broke cannot be known to have arrived; the rest must have.
  await running.database
    .getRepository(InstallationEntity)
    .update({ name: 'trail-forwarded' }, { value: String(before) });
  await forwarder.look();
  const all = numbers(await arrived(700));
  expect(all).toEqual(Array.from({ length: 700 }, (_, at) => before + 1 + at));
});

it('sends nothing to a machine that does not show the certificate that is trusted', async () => {
  ownCertificate(join(folder, 'other-key.pem'), trusted);
  const { sent } = await view();
  // A new connection is made after the old one ended.
  await collector?.stop();
  collector = await logCollector(port);
  await running.application.get(Trail).add({ actor: 'ada', action: 'PUT /secret' });
  await forwarder.look();
  await forwarder.look();
  expect(await arrived(0)).toEqual([]);
  expect(await view()).toMatchObject({ failing: { why: expect.any(String) } });
  expect((await view()).sent).toBeGreaterThanOrEqual(sent);
});
