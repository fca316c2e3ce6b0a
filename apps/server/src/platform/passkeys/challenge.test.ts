import { randomBytes } from 'node:crypto';
import { CHALLENGE_MS, challengeEnd, newChallenge } from './challenge.js';

const key = randomBytes(32);
const now = Date.parse('2026-12-01T08:00:00Z');
const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64url');

it('knows its challenges again until they end', () => {
  const challenge = text(newChallenge(key, 'sign-in', now));
  expect(challengeEnd(key, 'sign-in', challenge, now)?.getTime()).toBe(now + CHALLENGE_MS);
  expect(challengeEnd(key, 'sign-in', challenge, now + CHALLENGE_MS - 1)).not.toBeNull();
  expect(challengeEnd(key, 'sign-in', challenge, now + CHALLENGE_MS)).toBeNull();
});

it.each<[string, (challenge: Buffer) => Buffer, string, Buffer]>([
  ['for something else', (one) => one, 'add account-1', key],
  ['sealed with another key', (one) => one, 'sign-in', randomBytes(32)],
  ['cut', (one) => one.subarray(1), 'sign-in', key],
  ['longer', (one) => Buffer.concat([one, Buffer.from([0])]), 'sign-in', key],
  ['empty', () => Buffer.alloc(0), 'sign-in', key],
  [
    'with a later end',
    (one) => Buffer.from(one.map((byte, at) => (at === 23 ? byte ^ 1 : byte))),
    'sign-in',
    key,
  ],
])('refuses one that is %s', (_what, change, purpose, other) => {
  const challenge = change(Buffer.from(newChallenge(key, 'sign-in', now)));
  expect(challengeEnd(other, purpose, text(challenge), now)).toBeNull();
});

it('makes no two alike', () => {
  const made = new Set(Array.from({ length: 100 }, () => text(newChallenge(key, 'sign-in', now))));
  expect(made.size).toBe(100);
});
