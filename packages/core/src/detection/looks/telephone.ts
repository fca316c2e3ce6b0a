import type { Look } from './look.js';

/**
 * Digits of a whole number with its calling code, least and most, where a country's numbers have a fixed length.
 * Source: ITU-T E.164 and national numbering plans, from memory.
 */
const LENGTHS: readonly (readonly [code: string, least: number, most: number])[] = [
  ['1', 11, 11], ['7', 11, 11], ['20', 11, 12], ['27', 11, 11], ['30', 12, 12], ['31', 11, 11], ['32', 10, 11],
  ['33', 11, 11], ['34', 11, 11], ['351', 12, 12], ['352', 8, 12], ['353', 10, 12], ['354', 10, 10], ['358', 8, 14],
  ['36', 10, 11], ['370', 11, 11], ['371', 11, 11], ['372', 10, 11], ['380', 12, 12], ['381', 11, 12],
  ['385', 11, 12], ['386', 11, 11], ['40', 11, 11], ['41', 11, 11], ['420', 12, 12], ['421', 12, 12], ['43', 8, 15],
  ['44', 11, 12], ['45', 10, 10], ['46', 9, 12], ['47', 10, 10], ['48', 11, 11], ['49', 8, 15], ['52', 12, 13],
  ['55', 12, 13], ['56', 11, 11], ['57', 12, 12], ['60', 10, 12], ['61', 11, 11], ['62', 10, 14], ['63', 11, 12],
  ['64', 10, 12], ['65', 10, 10], ['66', 10, 11], ['81', 11, 12], ['82', 10, 12], ['84', 11, 12], ['86', 12, 13],
  ['90', 12, 12], ['91', 12, 12], ['92', 11, 12], ['972', 11, 12],
]; // prettier-ignore

/** Shorter groups than these nobody writes behind the calling code. */
const SHORTEST_GROUP = 2;
const LONGEST_GROUP = 8;
const IN_CODE = /[\w)\]=*/&?"'`]$/;
const LINK = /(?:tel|sms|callto|whatsapp|fax):$/i;

/** How a number behind a plus sign is written: in groups as people do, or as digits alone, which code is full of; null where its country has no such number. */
export function lookOfTelephone(written: string, before: string, after: string): Look | null {
  const digits = written.replace(/\D/g, '');
  if (written.startsWith('+') && digits.startsWith('0')) return null;
  const number = written.startsWith('+') ? digits : digits.replace(/^00/, '');
  const known = LENGTHS.find(([code]) => number.startsWith(code));
  // A zero in brackets is dialled within the country only.
  const length = number.length - (/\(0\)/.test(written) ? 1 : 0);
  if (known && (length < known[1] || length > known[2])) return null;
  if (number.startsWith('1') && !/^1[2-9]\d{2}[2-9]/.test(number)) return null;
  if (LINK.test(before)) return { kind: 'telephone-link', weight: 3 };
  const groups = written
    .replace(/^\+/, '')
    .replace('(0)', ' ')
    .split(/[^\d]+/)
    .filter(Boolean);
  if (groups.length < 2)
    return IN_CODE.test(before) || /^[\w([=*+]/.test(after) ? null : { kind: 'digits-alone', weight: -2.8 };
  const even = groups.slice(1).every(({ length: size }) => size >= SHORTEST_GROUP && size <= LONGEST_GROUP);
  if (!even) return { kind: 'digits-alone', weight: -1.5 };
  return IN_CODE.test(before) ? { kind: 'digits-alone', weight: -1.5 } : { kind: 'grouped', weight: 0 };
}
