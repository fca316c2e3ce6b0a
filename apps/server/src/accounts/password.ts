import { hash, verify } from '@node-rs/argon2';
import { AppError } from '../platform/errors/app-error.js';

/** Argon2id with the first recommended parameters of RFC 9106 section 4 scaled to a small machine (OWASP: 19 MiB, t = 2, p = 1). */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

export function isPassword(passwordHash: string, password: string): Promise<boolean> {
  return verify(passwordHash, password);
}

/** What passwords of many people are made of (common practice, no source). */
const COMMON =
  /^(?:(?:password|passwort|passw0rd|p@ssw0rd|qwert[yz]?u?i?o?p?|asdfghjkl|letmein|welcome|iloveyou|admin(?:istrator)?|secret|monkey|dragon|football|baseball|sunshine|princess|master|abc|changeme|default|summer|winter|spring|autumn)[\W\d_]*)+$/i;
/** Signs that follow each other on a keyboard, in the alphabet or in counting. */
const ROWS = [
  'abcdefghijklmnopqrstuvwxyz',
  'qwertyuiopasdfghjklzxcvbnm',
  'qwertzuiopasdfghjklyxcvbnm',
  '012345678901234567890123456789',
];
const FEWEST_SIGNS = 5;

/** Throws `weak-password` for one that is guessed first: common, a row of keys, or the holder's own name or address. */
export function demandStrong(
  password: string,
  holder: { readonly name: string; readonly email: string },
): void {
  const small = password.toLowerCase();
  const bare = small.replace(/[^a-z0-9]/g, '');
  const isRow = ROWS.some(
    (row) => bare.length > 0 && (row.includes(bare) || [...row].reverse().join('').includes(bare)),
  );
  const own = [
    ...holder.name.toLowerCase().split(/\s+/),
    holder.email.toLowerCase().split('@')[0] ?? '',
  ].filter((word) => word.length > 3);
  const withoutOwn = own.reduce((rest, word) => rest.replaceAll(word, ''), small);
  const weak =
    COMMON.test(password) ||
    isRow ||
    new Set(small).size < FEWEST_SIGNS ||
    (withoutOwn !== small && withoutOwn.replace(/[^a-z]/g, '').length < FEWEST_SIGNS);
  if (weak)
    throw new AppError(
      'weak-password',
      'This password is among those that are guessed first. Choose another one; a sentence is easy to remember.',
    );
}
