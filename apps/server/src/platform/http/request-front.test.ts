import type { Server } from 'node:http';
import { type AddressInfo, connect } from 'node:net';
import express, { type Request } from 'express';
import { AppError } from '../errors/app-error.js';
import { bodyErrors, type Identities, requestFront } from './request-front.js';
import { uploadLimit, MAX_UPLOAD_BYTES } from './upload-limit.js';

const identities: Identities = {
  cookie: 'session',
  caller: (token) => Promise.resolve(token === 'good' ? ({ email: 'ines' } as never) : null),
  service: () => Promise.reject(new AppError('not-signed-in', 'No key.')),
  agent: (authorization) =>
    authorization === 'Bearer good'
      ? Promise.resolve({ id: 'a', name: 'Agent' } as never)
      : Promise.reject(new AppError('not-signed-in', 'No agent has this key.')),
  reader: (authorization, { method, path }) =>
    authorization === `Bearer ${method} ${path}`
      ? Promise.resolve({ id: 'r' })
      : Promise.reject(new AppError('unknown-reader', 'No reader has this key.')),
  program: () => Promise.reject(new AppError('unknown-agent', 'No program has this key.')),
};

let server: Server;
let port: number;
let reached = 0;

beforeAll(async () => {
  const application = express();
  application.use((request: Request, _response, next) => {
    request.cookies = Object.fromEntries([(request.header('cookie') ?? '').split('=')]);
    next();
  });
  application.use('/api', ...requestFront(identities), bodyErrors);
  application.use('/api', uploadLimit());
  application.use((request, response) => {
    reached += 1;
    if (request.is('multipart/form-data')) request.resume().once('end', () => response.json({}));
    else response.json({ body: Buffer.isBuffer(request.body) ? 'bytes' : (request.body ?? null) });
  });
  server = await new Promise((resolve) => {
    const listening = application.listen(0, '127.0.0.1', () => resolve(listening));
  });
  port = (server.address() as AddressInfo).port;
});
afterAll(() => {
  server.closeAllConnections();
  return new Promise((resolve) => server.close(resolve));
});
beforeEach(() => (reached = 0));

const SIGNED_IN = { cookie: 'session=good' };
const AGENT = { authorization: 'Bearer good' };
const post = async (path: string, body: string, headers: object = {}) => {
  const answer = await fetch(`http://127.0.0.1:${port}/api${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body,
  });
  return { status: answer.status, headers: answer.headers, body: (await answer.json()) as { code?: string } };
};
const deep = (levels: number) => '['.repeat(levels) + ']'.repeat(levels);

/** What the server answers to a head that promises a body and sends none of it. */
const answerToHead = (path: string, fields: string): Promise<string> =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    let heard = '';
    socket.on('data', (data) => (heard += data.toString()));
    socket.once('close', () => resolve(heard)).setTimeout(5_000, () => socket.destroy());
    socket.write(`POST /api${path} HTTP/1.1\r\nhost: x\r\n${fields}\r\n\r\n`);
  });

describe('before a body is read', () => {
  it.each([
    ['/policies', 'content-type: application/json'],
    ['/policies', 'content-type: application/json\r\ncookie: session=wrong'],
    ['/intake/movements', 'content-type: application/json\r\nauthorization: Bearer wrong'],
    ['/lantern/files', 'content-type: multipart/form-data; boundary=b'],
    ['/nowhere', 'content-type: text/plain'],
  ])('a stranger at %s is refused, whatever length the head states', async (path, fields) => {
    expect(await answerToHead(path, `${fields}\r\ncontent-length: 41000000`)).toMatch(/^HTTP\/1\.1 401 /);
    expect(reached).toBe(0);
  });

  it('a form is refused where no form is taken, or where it is larger than any', async () => {
    const form = 'content-type: multipart/form-data; boundary=b\r\ncookie: session=good';
    expect(await answerToHead('/policies', `${form}\r\ncontent-length: 10`)).toMatch(/^HTTP\/1\.1 400 /);
    expect(
      await answerToHead('/lantern/files', `${form}\r\ncontent-length: ${MAX_UPLOAD_BYTES + 1}`),
    ).toMatch(/^HTTP\/1\.1 413 /);
    expect(reached).toBe(0);
  });
});

describe('a body', () => {
  it.each<[string, string, object, number]>([
    ['/session', JSON.stringify({ password: 'x'.repeat(5_000) }), {}, 413],
    ['/session', '{"email":"a"}', {}, 200],
    ['/policies', JSON.stringify({ words: 'x'.repeat(1_000_000) }), SIGNED_IN, 200],
    ['/policies', JSON.stringify({ words: 'x'.repeat(9_000_000) }), SIGNED_IN, 413],
    ['/policies', '{"a":', SIGNED_IN, 400],
    ['/policies', deep(5_000), SIGNED_IN, 400],
    ['/policies', `{"words":${JSON.stringify(deep(5_000))}}`, SIGNED_IN, 200],
    ['/intake/movements', deep(5_000), AGENT, 400],
    ['/intake/movements', JSON.stringify({ words: 'x'.repeat(9_000_000) }), AGENT, 200],
    ['/intake/movements/1/reply', JSON.stringify({ words: 'x'.repeat(9_000_000) }), AGENT, 413],
  ])('at %s is read as far as its sender may (case %#)', async (path, body, headers, status) =>
    expect((await post(path, body, headers)).status).toBe(status),
  );

  it('of an agent reaches the intake as bytes, and no other route', async () => {
    expect((await post('/intake/movements', '{}', AGENT)).body).toEqual({ body: 'bytes' });
    expect((await post('/intake/movements/1/reply', '{}', AGENT)).body).toEqual({ body: {} });
  });

  it('and its answer stay in no cache', async () =>
    expect((await post('/policies', '{}', SIGNED_IN)).headers.get('cache-control')).toBe('no-store'));
});

describe('uploads beside each other', () => {
  const form = (length: number) =>
    `content-type: multipart/form-data; boundary=b\r\ncookie: session=good\r\ncontent-length: ${length}`;
  /** A connection that states a length, and sends nothing until it is ended. */
  const hold = (length: number) =>
    new Promise<ReturnType<typeof connect>>((resolve) => {
      const socket = connect(port, '127.0.0.1').on('error', () => undefined);
      socket.write(`POST /api/lantern/files HTTP/1.1\r\nhost: x\r\n${form(length)}\r\n\r\n`, () =>
        setTimeout(() => resolve(socket), 50),
      );
    });

  it('are counted by what they hold: many small ones go, a fifth of the largest waits outside', async () => {
    const small = await Promise.all(Array.from({ length: 40 }, () => hold(1_000)));
    const until = Date.now() + 10_000;
    while (reached < 40 && Date.now() < until) await new Promise((resolve) => setTimeout(resolve, 20));
    expect(reached).toBe(40);
    for (const socket of small) socket.destroy();
    await new Promise((resolve) => setTimeout(resolve, 100));
    const large = await Promise.all(Array.from({ length: 4 }, () => hold(MAX_UPLOAD_BYTES)));
    const refused = await answerToHead('/lantern/files', form(MAX_UPLOAD_BYTES));
    expect(refused).toMatch(/^HTTP\/1\.1 503 /);
    expect(refused).toMatch(/retry-after: 5/i);
    for (const socket of large) socket.destroy();
    await new Promise((resolve) => setTimeout(resolve, 100));
    (await hold(MAX_UPLOAD_BYTES)).destroy();
    expect(reached).toBe(45);
  });
});
