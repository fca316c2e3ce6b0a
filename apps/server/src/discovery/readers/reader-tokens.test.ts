import { generateKeyPairSync } from 'node:crypto';
import { compactDecrypt, importJWK, SignJWT } from 'jose';
import { claimedReader, codeOf, demandToken, digestOfCode, sealedFor } from './reader-tokens.js';

const ID = '2a227ab6-c255-4c34-8470-7b6777600160';
const REQUEST = { method: 'POST', path: '/api/reader/work' };
const pair = (kind: 'ed25519' | 'x25519') =>
  (kind === 'ed25519' ? generateKeyPairSync('ed25519') : generateKeyPairSync('x25519')).privateKey.export({
    format: 'jwk',
  }) as { x: string; d: string; kty: 'OKP'; crv: string };

const OWN = pair('ed25519');

async function token(over: Record<string, unknown> = {}, key = OWN): Promise<string> {
  const now = Math.floor(Date.now() / 1_000);
  const claims = {
    iss: ID,
    aud: 'uncut-lantern',
    iat: now,
    exp: now + 60,
    htm: 'POST',
    htu: REQUEST.path,
    ...over,
  };
  return new SignJWT(Object.fromEntries(Object.entries(claims).filter(([, value]) => value !== undefined)))
    .setProtectedHeader({ alg: 'EdDSA' })
    .sign(await importJWK(key, 'EdDSA'));
}

it('takes a token for its reader, method and path', async () => {
  await expect(demandToken(await token(), OWN.x, REQUEST)).resolves.toBeUndefined();
  expect(claimedReader(`Bearer ${await token()}`)?.id).toBe(ID);
});

const now = Math.floor(Date.now() / 1_000);
it.each<[string, Record<string, unknown>]>([
  ['for another method', { htm: 'GET' }],
  ['for another path', { htu: '/api/reader/keys' }],
  ['without a path', { htu: undefined }],
  ['for somebody else', { aud: 'another' }],
  ['that is over', { iat: now - 600, exp: now - 540 }],
  ['of the future', { iat: now + 600, exp: now + 660 }],
  ['that lives for a day', { iat: now - 3_600, exp: now + 86_400 }],
  ['without an end', { exp: undefined }],
])('refuses a token %s', async (_name, over) => {
  await expect(demandToken(await token(over), OWN.x, REQUEST)).rejects.toMatchObject({
    code: 'unknown-reader',
  });
});

it('refuses another key, no signature, and a signature by a secret that everybody knows', async () => {
  await expect(demandToken(await token({}, pair('ed25519')), OWN.x, REQUEST)).rejects.toMatchObject({
    code: 'unknown-reader',
  });
  const [, body] = (await token()).split('.');
  const none = `${Buffer.from('{"alg":"none"}').toString('base64url')}.${body}.`;
  // RFC 8725, 2.1: a public key must not pass as the secret of a keyed hash.
  const keyed = await new SignJWT({ iss: ID, htm: 'POST', htu: REQUEST.path })
    .setProtectedHeader({ alg: 'HS256' })
    .sign(Buffer.from(OWN.x.repeat(2)));
  for (const forged of [none, keyed, 'a.b.c', ''])
    await expect(demandToken(forged, OWN.x, REQUEST)).rejects.toMatchObject({ code: 'unknown-reader' });
});

it.each([
  undefined,
  '',
  'Bearer',
  'Bearer short',
  'Basic abc',
  `Bearer ${'x'.repeat(3_000)}`,
  'Bearer a.b.c.d.e.f.g.h.i.j.k.l',
])('finds nobody behind %j', (header) => expect(claimedReader(header)).toBeNull());

it('seals a secret so that its reader alone opens it', async () => {
  const own = pair('x25519');
  const sealed = await sealedFor(own.x, 'paß "wort"');
  const open = async (key: typeof own) =>
    new TextDecoder().decode(
      (await compactDecrypt(sealed, await importJWK(key, 'ECDH-ES+A256KW'))).plaintext,
    );
  expect(JSON.parse(await open(own))).toEqual({ secret: 'paß "wort"' });
  await expect(open(pair('x25519'))).rejects.toThrow();
});

it('writes codes without signs that look alike, and reads them however they are typed', () => {
  const code = codeOf(Uint8Array.from({ length: 12 }, (_, at) => at * 21));
  expect(code).toMatch(/^[A-HJ-NP-Z2-9]{4}(-[A-HJ-NP-Z2-9]{4}){2}$/u);
  expect(digestOfCode(` ${code.toLowerCase().replaceAll('-', ' ')} `)).toBe(digestOfCode(code));
  expect(digestOfCode(code)).not.toBe(digestOfCode(`${code}A`));
});
