/**
 * Movements a second from end to end: a mail of about 10 KB with a Word document, through the core alone, through the
 * intake and through SMTP, with the database on and durable. Beside each a plain baseline in the same run: an intake and
 * an SMTP server that only store. Then the time to the verdict of a hundred movements while a load runs.
 */
import { randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { type InspectedMovement, type InspectedPart } from '@lantern/core/movement';
import { compilePolicies } from '@lantern/core/policy';
import { placeFiles, POLICIES, TEXTS } from '@lantern/demo';
import { Budget, readFile } from '@lantern/files';
import mysql from 'mysql2/promise';
import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { type Running, startAll } from './lib/running.js';

const MOVEMENTS = 400;
const AT_ONCE = 8;
const A_BATCH = 5;
const LOAD = 4;
const TIMED = 100;
const FROM = 'bench@merrowstrait.example';
const TO = 'desk@islandholidays.example';

/** Publishes the rules of the demo for mail, and gives an agent a key. */
async function prepare({ address, account }: Running): Promise<string> {
  const signed = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: account.email, password: account.password }),
  });
  const { csrfToken } = (await signed.json()) as { csrfToken: string };
  const cookie = signed.headers.get('set-cookie')?.split(';')[0] ?? '';
  const send = async <Answer>(path: string, body: object): Promise<Answer> => {
    const answer = await fetch(`${address}/api${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-csrf-token': csrfToken, cookie },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`);
    return (await answer.json()) as Answer;
  };
  const { id: text } = await send<{ id: string }>('/texts', { text: { ...TEXTS[0], id: undefined } });
  const cards = POLICIES[0];
  if (!cards) throw new Error('The demo has no policy');
  const { id: _id, ...policy } = cards;
  const rules = policy.rules.map((rule) => ({
    ...rule,
    unless: null,
    bands: rule.bands.map((band) => ({ ...band, text: band.text === null ? null : text })),
  }));
  await send('/policies', { policy: { ...policy, rules } });
  await send('/revisions', { name: 'bench', reason: 'bench' });
  return (await send<{ key: string }>('/agents', { name: 'Bench' })).key;
}

/** Runs `work` so often, `atOnce` side by side; gives how many a second. */
async function rate(
  times: number,
  atOnce: number,
  work: (index: number) => Promise<unknown>,
): Promise<number> {
  let next = 0;
  const began = performance.now();
  const one = async (): Promise<void> => {
    for (let index = next++; index < times; index = next++) await work(index);
  };
  await Promise.all(Array.from({ length: atOnce }, one));
  return (times * 1_000) / (performance.now() - began);
}

const file = await aDocument();
const body = 'Good morning,\n\nattached you find the list.\n'.repeat(160);

async function aDocument(): Promise<{ name: string; bytes: Uint8Array }> {
  for await (const { path, bytes } of placeFiles())
    if (path.endsWith('.docx')) return { name: path.split('/').at(-1) ?? path, bytes };
  throw new Error('The demo has no Word document');
}

const raw = (id: string): string =>
  [
    `From: ${FROM}`,
    `To: ${TO}`,
    `Message-ID: <${id}@bench.example>`,
    'Subject: The list',
    'MIME-Version: 1.0',
    'Content-Type: multipart/mixed; boundary=x',
    '',
    '--x',
    'Content-Type: text/plain',
    '',
    body.replaceAll('\n', '\r\n'),
    '--x',
    `Content-Type: application/octet-stream; name="${file.name}"`,
    'Content-Transfer-Encoding: base64',
    `Content-Disposition: attachment; filename="${file.name}"`,
    '',
    Buffer.from(file.bytes)
      .toString('base64')
      .replace(/(.{76})/g, '$1\r\n'),
    '--x--',
    '',
  ].join('\r\n');

const movement = (): object => ({
  key: randomUUID(),
  channel: 'mail',
  activity: 'send',
  person: FROM,
  to: [TO],
  texts: [{ role: 'subject', text: 'The list' }, { text: body }],
  files: [{ name: file.name, base64: Buffer.from(file.bytes).toString('base64') }],
});

async function coreAlone(): Promise<number> {
  const scanner = compileScanner(READY_PATTERNS);
  const judge = compilePolicies({ policies: POLICIES, texts: TEXTS, exchanges: [], spots: [] });
  return rate(MOVEMENTS, 1, async () => {
    const read = await readFile(file, new Budget());
    const parts = [{ status: 'read' as const, path: ['body'], text: body }, ...read].flatMap(
      (part): InspectedPart[] =>
        part.status === 'read'
          ? [
              {
                status: 'read',
                role: 'body',
                path: part.path,
                characters: part.text.length,
                findings: scanner.scan(part.text).findings,
              },
            ]
          : [],
    );
    const inspected: InspectedMovement = {
      channel: 'mail',
      at: Date.now(),
      sender: { address: FROM },
      recipients: [{ address: TO, outside: true }],
      parts,
      files: [],
      earlier: [],
    };
    judge.judge(inspected);
  });
}

const running = await startAll();
try {
  const key = await prepare(running);
  const { host, port, user, password, database } = running.database;
  const pool = mysql.createPool({ host, port, user, password, database, connectionLimit: AT_ONCE });
  await pool.query('CREATE TABLE bench_store (id int AUTO_INCREMENT PRIMARY KEY, content longblob NOT NULL)');
  const store = (content: Buffer): Promise<unknown> =>
    pool.query('INSERT INTO bench_store (content) VALUES (?)', [content]);

  const hand = async (address: string, count: number): Promise<void> => {
    const answer = await fetch(`${address}/api/intake/movements`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
      body: JSON.stringify({ movements: Array.from({ length: count }, movement) }),
    });
    if (!answer.ok) throw new Error(`The intake answered ${answer.status}`);
    await answer.arrayBuffer();
  };
  const mailer = (smtp: number) =>
    createTransport({
      host: '127.0.0.1',
      port: smtp,
      pool: true,
      maxConnections: AT_ONCE,
      maxMessages: Infinity,
      ignoreTLS: true,
    });
  const mail = (transport: ReturnType<typeof mailer>) =>
    transport.sendMail({ envelope: { from: FROM, to: [TO] }, raw: raw(randomUUID()) });

  const plainIntake: Server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const { movements } = JSON.parse(Buffer.concat(chunks).toString('utf8')) as { movements: object[] };
      Promise.all(movements.map((each) => store(Buffer.from(JSON.stringify(each)))))
        .then(() => response.end('{}'))
        .catch(() => response.writeHead(500).end());
    });
  });
  await new Promise<void>((resolve) => plainIntake.listen(0, '127.0.0.1', resolve));
  const plainSmtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData: (stream, _session, done) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => void store(Buffer.concat(chunks)).then(() => done(null, 'Stored'), done));
    },
  });
  await new Promise<void>((resolve) => plainSmtp.listen(0, '127.0.0.1', resolve));
  const portOf = (server: { address(): unknown }): number => (server.address() as AddressInfo).port;

  // The first ones warm everything up: threads compile the patterns.
  await hand(running.address, 5);
  const core = await coreAlone();
  const batches = MOVEMENTS / A_BATCH;
  const intake = A_BATCH * (await rate(batches, AT_ONCE, () => hand(running.address, A_BATCH)));
  const intakePlain =
    A_BATCH * (await rate(batches, AT_ONCE, () => hand(`http://127.0.0.1:${portOf(plainIntake)}`, A_BATCH)));
  const ours = mailer(running.smtp);
  const theirs = mailer(portOf(plainSmtp.server));
  const smtp = await rate(MOVEMENTS, AT_ONCE, () => mail(ours));
  const smtpPlain = await rate(MOVEMENTS, AT_ONCE, () => mail(theirs));

  let loading = true;
  const load = Promise.all(
    Array.from({ length: LOAD }, async () => {
      while (loading) await mail(ours);
    }),
  );
  const times: number[] = [];
  for (let index = 0; index < TIMED; index += 1) {
    const began = performance.now();
    await hand(running.address, 1);
    times.push(performance.now() - began);
  }
  loading = false;
  await load;
  times.sort((left, right) => left - right);
  const at = (share: number): number =>
    Math.round(times[Math.min(times.length - 1, Math.floor(times.length * share))] ?? 0);
  ours.close();
  theirs.close();
  plainIntake.close();
  await new Promise<void>((resolve) => plainSmtp.close(() => resolve()));
  await pool.end();

  const size = Math.round(Buffer.byteLength(raw('x')) / 1024);
  const line = (name: string, mine: number, plain: number): void =>
    console.log(
      `${name.padEnd(28)} ${mine.toFixed(0).padStart(6)} a second, plain ${plain.toFixed(0).padStart(6)}, ratio ${(mine / plain).toFixed(2)}`,
    );
  console.log(`mails of ${size} KB with a Word document, ${MOVEMENTS} of each, ${AT_ONCE} at once`);
  console.log(`${'core alone, one thread'.padEnd(28)} ${core.toFixed(0).padStart(6)} a second`);
  line('through the intake', intake, intakePlain);
  line('through SMTP', smtp, smtpPlain);
  console.log(`time to the verdict under load: median ${at(0.5)} ms, 99th of a hundred ${at(0.99)} ms`);
  console.log(
    JSON.stringify({
      bench: 'channels',
      corePerSecond: Math.round(core),
      intakePerSecond: Math.round(intake),
      intakeToPlain: Number((intake / intakePlain).toFixed(3)),
      smtpPerSecond: Math.round(smtp),
      smtpToPlain: Number((smtp / smtpPlain).toFixed(3)),
      smtpToCore: Number((smtp / core).toFixed(3)),
      verdictMedianMs: at(0.5),
      verdict99Ms: at(0.99),
    }),
  );
} finally {
  await running.stop();
}
