/**
 * How much the look of a value says for a secret: chosen or drawn signs against words, numbers and codes that people
 * speak about. The weights were chosen with generated secrets and decoys (`bench -- accuracy`); the measure of
 * randomness is the entropy of C. E. Shannon, A Mathematical Theory of Communication, 1948.
 */

/** The most that the look of a secret adds, in log-odds. */
const MOST = 3;
/** What a row of words takes off. */
const WORDS = -3;
/** Digits alone may be a date, an amount or a number of something. */
const NUMBER = -0.3;
const SHORT_NUMBER = -2;

const ALGORITHM =
  /^(?:(?:hmac-?)?sha-?\d+\w*|md\d|aes-?\d+\w*|[rhep]s\d{3}|utf-?\d+\w*|oauth-?\d\w*|bcrypt\d*|base-?\d+|ecdsa\w*|ed25519|x?25519|rsa-?\d*|tls\w*v?\d[\d.]*|iso[\d-]+|es\d{1,4}|pbkdf2\w*|argon2\w*|scram[-\w]*|mschap\w*|scrypt\d*|2fa|mfa\d*|h\d{3}|pkcs-?\d+|x\.?509\w*|k8s|s3|v?\d+(?:\.\d+)+\w*)$/i;
/** A number with its unit, a range, an ordinal: `30days`, `8-64`, `256-bit`, `2nd`. */
const MEASURE =
  /^\d+(?:[.,]\d+)?(?:-\d+)?[- ]?(?:[a-zµ]{1,2}|st|nd|rd|th|bits?|bytes?|chars?|characters?|digits?|letters?|signs?|days?|hours?|hrs?|mins?|minutes?|secs?|seconds?|weeks?|months?|years?|times?|pages?|px|[kmg]i?b|zeichen|stellen|tage|jours|caract[eè]res|d[ií]as)$/i;
const CONSTANT = /^0x[\da-f]{1,16}$/i;
const DATE = /^(?:\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4}|\d{1,2}:\d{2})(?:[T ].*)?$/;
const PLAUSIBLE_DATE = /^(?:19|20)\d{2}(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\d|3[01])$/;
/** A reference of an office or a document: capitals, then numbers with strokes and stops. */
const OFFICE_REFERENCE = /^[A-Z]{1,6}[-./]?\d[\d./-]*$/;
/** A name of a program with a number behind it: `token_2`, `key1`. */
const NUMBERED_NAME =
  /^[a-z]+(?:[_-][a-z]+)+[_-]?\d{0,2}$|^(?:key|token|password|secret|value|user|item|test|page|step|part|line|option)[_-]?\d{1,3}$/i;
const SIGNS = /[^\p{L}\p{N}\s._-]/u;

/** Log-odds that the look of `written` adds: 3 at most, negative for words and numbers. */
export function lookOfSecret(written: string): number {
  const value = written.trim();
  if (CONSTANT.test(value) || ALGORITHM.test(value) || MEASURE.test(value) || DATE.test(value)) return WORDS;
  if (/^[\d\s.,/-]+$/.test(value)) return numberLook(value);
  if (!/\d/.test(value)) return letterLook(value);
  if (OFFICE_REFERENCE.test(value) || NUMBERED_NAME.test(value)) return WORDS + 0.5;
  return mixedLook(value);
}

function numberLook(value: string): number {
  const digits = value.replace(/\D/g, '');
  return digits.length === value.length && digits.length >= 6 && !PLAUSIBLE_DATE.test(digits)
    ? NUMBER
    : SHORT_NUMBER;
}

/** Words of a passphrase from which nobody takes them for a sentence. */
const PASSPHRASE_WORDS = 4;

/** Fewer letters that nobody can say are an acronym. */
const SHORTEST_DRAWN = 8;
const ACRONYM = -2;

function letterLook(value: string): number {
  const signs = value.match(new RegExp(SIGNS, 'gu'))?.length ?? 0;
  if (signs > 0 && !/\s/.test(value) && !/^\p{L}+[’'/:&]\p{L}+$/u.test(value))
    return 0.4 + Math.min(0.8, signs * 0.4);
  const words = value.split(/[\s._-]+/).filter(Boolean);
  if (words.length === 1) return isSpeakable(value) ? WORDS : value.length < SHORTEST_DRAWN ? ACRONYM : 0.8;
  const passphrase =
    words.length >= PASSPHRASE_WORDS && !/\s/.test(value) && new Set(words).size === words.length;
  return passphrase ? 0 : WORDS;
}

/** Letters that people could say: vowels often enough, few consonants in a row, capitals where words begin. */
function isSpeakable(word: string): boolean {
  if (!/^[a-z]+$/i.test(word)) return true;
  const humps = word.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z]+/g) ?? [];
  if (humps.length > 2 && humps.length > word.length / 3) return false;
  const vowels = word.match(/[aeiouy]/gi)?.length ?? 0;
  return vowels >= word.length * 0.2 && !/[^aeiouy]{6}/i.test(word);
}

function mixedLook(value: string): number {
  if (/\s/.test(value)) return spacedLook(value);
  let sum = 0.8;
  if (SIGNS.test(value)) sum += 0.6;
  if (/[a-z]/.test(value) && /[A-Z]/.test(value)) sum += 0.4;
  if (value.length >= 12) sum += 0.3;
  if (value.length >= 20) sum += 0.3;
  sum += randomness(value) * 1.2;
  return Math.min(MOST, sum);
}

/** In quotation marks a passphrase may hold spaces; a sentence with a number in it does so too. */
function spacedLook(value: string): number {
  const words = value.split(/\s+/);
  const odd = words.filter((word) => /\d/.test(word) && /\p{L}/u.test(word)).length;
  return odd > 0 && words.length <= 6 ? 0 : WORDS;
}

/** From 0 for words and counted signs to 1 for drawn ones: entropy, and how often the kind of sign changes. */
function randomness(value: string): number {
  if (value.length < 8) return 0;
  const counts = new Map<string, number>();
  for (const sign of value) counts.set(sign, (counts.get(sign) ?? 0) + 1);
  let bits = 0;
  for (const count of counts.values()) bits -= (count / value.length) * Math.log2(count / value.length);
  const full = Math.log2(Math.min(value.length, 36));
  let changes = 0;
  for (let at = 1; at < value.length; at += 1) if (kindOf(value, at) !== kindOf(value, at - 1)) changes += 1;
  const drawn = bits / full > 0.8 ? 0.4 : 0;
  return Math.min(1, drawn + (changes / value.length) * 1.2);
}

function kindOf(value: string, at: number): number {
  const sign = value[at] ?? '';
  if (/\d/.test(sign)) return 0;
  if (/[a-z]/.test(sign)) return 1;
  return /[A-Z]/.test(sign) ? 2 : 3;
}
