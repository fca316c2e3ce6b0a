import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { decodeJwt } from 'jose';
import { type Identity, makeKeys, openSecret, publicKeys } from './identity.js';
import { Refused, Workbench } from './workbench.js';

let server: Server;
let asked: { readonly path: string; readonly token: string }[];
/** What the server answers, one after the other; the last one stays. */
let answers: (readonly [status: number, body: string])[];
let told: (string | null)[];
let stop: AbortController;
let workbench: Workbench;

beforeEach(async () => {
  asked = [];
  told = [];
  server = createServer((request, response) => {
    asked.push({
      path: request.url ?? '',
      token: String(request.headers.authorization).slice('Bearer '.length),
    });
    const [status, body] = (answers.length > 1 ? answers.shift() : answers[0]) ?? [500, ''];
    response.writeHead(status).end(body);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  const identity = { id: 'r', address: `http://127.0.0.1:${port}`, keys: makeKeys() } as unknown as Identity;
  stop = new AbortController();
  workbench = new Workbench(
    () => identity,
    stop.signal,
    (trouble) => told.push(trouble),
  );
});
afterEach(() => new Promise((resolve) => server.close(resolve)));

it('signs each request for its method and path, each with a token of its own', async () => {
  answers = [[200, '{"a":1}']];
  expect(await workbench.get('patterns')).toEqual({ a: 1 });
  expect(await workbench.post('work', {})).toEqual({ a: 1 });
  const tokens = asked.map(({ token }) => decodeJwt(token));
  expect(tokens.map(({ htm, htu }) => [htm, htu])).toEqual([
    ['GET', '/api/reader/patterns'],
    ['POST', '/api/reader/work'],
  ]);
  expect(new Set(tokens.map(({ jti }) => jti)).size).toBe(2);
});

it('tries again while the workbench is away, says so once, and says when it is back', async () => {
  answers = [
    [503, ''],
    [429, ''],
    [200, ''],
  ];
  expect(await workbench.post('parts/x/read', {})).toBeUndefined();
  expect(asked).toHaveLength(3);
  expect(told).toEqual(['The workbench does not answer. Trying again.', null]);
});

it('takes a refusal for what it is', async () => {
  answers = [[409, '{"code":"changed-meanwhile","message":"Drop it."}']];
  await expect(workbench.post('parts/x/read', {})).rejects.toMatchObject({
    status: 409,
    message: 'Drop it.',
  });
  answers = [[401, 'no JSON']];
  await expect(workbench.get('patterns')).rejects.toBeInstanceOf(Refused);
  expect(asked).toHaveLength(2);
});

it('ends at once when it is stopped', async () => {
  answers = [[500, '']];
  const waiting = workbench.get('patterns');
  setTimeout(() => stop.abort(), 50);
  await expect(waiting).rejects.toThrow();
});

it('opens no secret that was sealed for another reader', async () => {
  const { CompactEncrypt, importJWK } = await import('jose');
  const [own, other] = [makeKeys(), makeKeys()];
  const key = await importJWK({ kty: 'OKP', crv: 'X25519', x: publicKeys(own).sealing }, 'ECDH-ES+A256KW');
  const sealed = await new CompactEncrypt(Buffer.from('{"secret":"s"}'))
    .setProtectedHeader({ alg: 'ECDH-ES+A256KW', enc: 'A256GCM' })
    .encrypt(key);
  expect(await openSecret(own, sealed)).toBe('s');
  await expect(openSecret(other, sealed)).rejects.toThrow();
});
