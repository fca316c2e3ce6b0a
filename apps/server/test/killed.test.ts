/** The real server process, killed without warning at moments that matter, and started again. */
import { jest } from '@jest/globals';
import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { PostView, ReplayView, RevisionView, SessionView } from '@lantern/contracts';
import { createTransport } from 'nodemailer';
import { DataSource } from 'typeorm';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { RevisionEntity } from '../src/published/revision.entity.js';
import { databaseOptions } from '../src/app/database.js';
import { CARDS, mailForm, OUTSIDE, PASSWORD, policyOf, publish, ruleOf, start } from './harness.js';

const MAIN = fileURLToPath(new URL('../dist/main.js', import.meta.url));
const ORLA = 'orla.fenwick@merrowstrait.example';

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

interface Process {
  readonly child: ChildProcess;
  readonly smtp: number;
  call<Answer>(method: string, path: string, body?: unknown): Promise<{ status: number; body: Answer }>;
  kill(): Promise<void>;
}

/** Starts the server on the database that the environment names, and signs in. */
async function startProcess(places: string): Promise<Process> {
  const [port, smtp, post] = [await freePort(), await freePort(), await freePort()];
  const child = spawn(process.execPath, [MAIN], {
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      PORT: String(port),
      LANTERN_SMTP_PORT: String(smtp),
      LANTERN_POST_PORT: String(post),
      LANTERN_PLACES: places,
      LANTERN_DEMO: 'none',
      LANTERN_STAND_INS: 'on',
    },
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  const address = `http://127.0.0.1:${port}`;
  for (;;) {
    if (child.exitCode !== null) throw new Error('The server did not start');
    const answer = await fetch(`${address}/api/health`).catch(() => null);
    if (answer?.ok) break;
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
  const signed = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'analyst@merrowstrait.example', password: PASSWORD }),
  });
  const session = (await signed.json()) as SessionView;
  const headers = {
    cookie: signed.headers.get('set-cookie')?.split(';')[0] ?? '',
    'x-csrf-token': session.csrfToken,
    'content-type': 'application/json',
  };
  return {
    child,
    smtp,
    call: async <Answer>(method: string, path: string, body?: unknown) => {
      const response = await fetch(`${address}/api${path}`, {
        method,
        headers,
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      return {
        status: response.status,
        body: (response.status === 204 ? undefined : await response.json()) as Answer,
      };
    },
    kill: () =>
      new Promise((resolve) => {
        if (child.exitCode !== null || child.signalCode !== null) return resolve();
        child.once('exit', () => resolve());
        child.kill('SIGKILL');
      }),
  };
}

// Each test starts the server several times, which takes seconds each where the machine has other work.
jest.setTimeout(240_000);

describe('a server that is killed', () => {
  let places: string;
  let database: DataSource;
  let server: Process;

  beforeAll(async () => {
    if (!existsSync(MAIN)) throw new Error(`Build the server first: ${MAIN} is missing`);
    const running = await start();
    const client = await running.client();
    await publish(client, 'Cards', [ruleOf()]);
    const orla = (await running.person('Orla Fenwick')).id;
    for (let index = 0; index < 40; index += 1)
      await client.send(
        'POST',
        '/stand-ins/mail/messages',
        mailForm({ person: orla, to: [OUTSIDE], body: index % 2 ? CARDS : 'nothing' }),
      );
    const { config } = running;
    places = join(config.places, '..');
    await running.stop();
    database = await new DataSource({
      ...databaseOptions(config),
      migrationsRun: false,
    } as never).initialize();
    server = await startProcess(places);
  });
  afterAll(async () => {
    await server.kill();
    await database.destroy();
  });

  const restart = async (): Promise<void> => {
    await server.kill();
    server = await startProcess(places);
  };

  it('in the middle of publishing, leaves a whole revision or none', async () => {
    for (let round = 0; round < 6; round += 1) {
      const name = `Round ${round}`;
      const saved = await server.call('POST', '/policies', policyOf(name, [ruleOf({ answer: 'note' })]));
      expect(saved.status).toBe(201);
      const before = await database.getRepository(RevisionEntity).count();
      const publishing = server
        .call<RevisionView>('POST', '/revisions', { name, reason: 'killed' })
        .then(({ status }) => status)
        .catch(() => 0);
      await new Promise((resolve) => setTimeout(resolve, round * 12));
      await server.kill();
      const answered = await publishing;
      const revisions = await database.getRepository(RevisionEntity).find({ order: { number: 'ASC' } });
      // Answered means published; unanswered may be either, and nothing in between.
      expect(revisions.length - before).toBeGreaterThanOrEqual(answered === 201 ? 1 : 0);
      expect(revisions.length - before).toBeLessThanOrEqual(1);
      const newest = revisions.at(-1);
      expect(newest?.document.policies.some((policy) => policy.name === name)).toBe(
        revisions.length > before,
      );
      server = await startProcess(places);
      const { body: health } = await server.call<{ revision: number }>('GET', '/health');
      expect(health.revision).toBe(newest?.number);
      const draft = await server.call<{ follows: number; changes: { name: string }[] }>(
        'GET',
        '/revisions/draft',
      );
      expect(draft.body.follows).toBe(newest?.number);
      expect(draft.body.changes.some((change) => change.name === name)).toBe(revisions.length === before);
      if (draft.body.changes.length > 0)
        expect((await server.call('POST', '/revisions', { name, reason: 'again' })).status).toBe(201);
    }
  });

  it('in the middle of a replay, says that it was cut off, and can start another', async () => {
    const period = { since: '2000-01-01T00:00:00Z', until: '2099-01-01T00:00:00Z' };
    const { body: begun } = await server.call<ReplayView>('POST', '/replays', period);
    await restart();
    const { body: found } = await server.call<ReplayView>('GET', `/replays/${begun.id}`);
    expect(['cut-off', 'done']).toContain(found.state);
    const { body: again } = await server.call<ReplayView>('POST', '/replays', period);
    for (;;) {
      const { body } = await server.call<ReplayView>('GET', `/replays/${again.id}`);
      if (body.state === 'done') {
        expect(body.judged).toBe(40);
        break;
      }
      expect(['waiting', 'running']).toContain(body.state);
      await new Promise((resolve) => setTimeout(resolve, 150));
    }
  });

  it('while mail comes in, loses nothing that it said it took, and doubles nothing', async () => {
    const before = await database.getRepository(MovementEntity).count();
    const ids = Array.from({ length: 24 }, () => `<${randomUUID()}@test.example>`);
    const taken = new Set<string>();
    const sendAll = async (): Promise<void> => {
      const mailer = createTransport({
        host: '127.0.0.1',
        port: server.smtp,
        pool: true,
        maxConnections: 4,
        tls: { rejectUnauthorized: false },
      });
      await Promise.all(
        ids
          .filter((id) => !taken.has(id))
          .map((id) =>
            mailer
              .sendMail({
                envelope: { from: ORLA, to: [OUTSIDE] },
                raw: `From: ${ORLA}\r\nTo: ${OUTSIDE}\r\nMessage-ID: ${id}\r\nSubject: ${id}\r\n\r\nGood morning\r\n`,
              })
              .then(() => taken.add(id))
              .catch(() => undefined),
          ),
      );
      mailer.close();
    };
    for (const pause of [250, 400, 600]) {
      const sending = sendAll();
      await new Promise((resolve) => setTimeout(resolve, pause));
      await server.kill();
      await sending;
      // Everything that was answered with 250 is on record already.
      expect((await database.getRepository(MovementEntity).count()) - before).toBeGreaterThanOrEqual(
        taken.size,
      );
      server = await startProcess(places);
    }
    // A client keeps what was not taken and tries again, with the same message id.
    await sendAll();
    expect(taken.size).toBe(ids.length);
    expect((await database.getRepository(MovementEntity).count()) - before).toBe(ids.length);
    for (;;) {
      const { body } = await server.call<PostView>('GET', '/stand-ins/post');
      if (body.underway.some(({ state }) => state === 'queued')) {
        await new Promise((resolve) => setTimeout(resolve, 300));
        continue;
      }
      const arrived = body.arrived.map(({ subject }) => subject).filter((subject) => ids.includes(subject));
      expect(arrived.sort()).toEqual([...ids].sort());
      break;
    }
  });
});
