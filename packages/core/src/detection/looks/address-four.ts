import type { Look } from './look.js';

/**
 * What a network address of four numbers is: one of the blocks that stand for something else, or an address that can be
 * reached. Source: RFC 6890 and its registry of special-purpose addresses; RFC 950 for masks.
 */
export function lookOfAddress(written: string, before: string): Look {
  const octets = octetsOf(written);
  const [first = 0, second = 0, third = 0] = octets;
  if (first === 255 && isMask(octets)) return { kind: 'mask', weight: -5 };
  if (first === 0) return { kind: 'unspecified', weight: -4 };
  if (first === 127) return { kind: 'loopback', weight: -4 };
  if (first >= 224)
    return first >= 240 ? { kind: 'reserved', weight: -3 } : { kind: 'multicast', weight: -2 };
  // In brackets, as the heads of mails have it, it is no number of a section.
  const last = before.charCodeAt(before.length - 1);
  if (last !== SQUARE && last !== ROUND) {
    if (SECTION.test(before)) return { kind: 'section', weight: -5 };
    if (VERSION.test(before)) return { kind: 'version', weight: -5 };
  }
  if (octets.every((octet) => octet <= SMALL_OCTET)) return { kind: 'version', weight: -2.2 };
  if (
    (first === 192 && second === 0 && third === 2) ||
    (first === 198 && second === 51 && third === 100) ||
    (first === 203 && second === 0 && third === 113)
  )
    return { kind: 'documentation', weight: -0.8 };
  if (
    first === 10 ||
    (first === 172 && second >= 16 && second <= 31) ||
    (first === 192 && second === 168) ||
    (first === 169 && second === 254) ||
    (first === 100 && second >= 64 && second <= 127)
  )
    return { kind: 'private', weight: -0.3 };
  return { kind: 'reachable', weight: 0.4 };
}

const SQUARE = 91;
const ROUND = 40;
const STOP = 46;

function octetsOf(written: string): number[] {
  const octets = [0, 0, 0, 0];
  let place = 0;
  for (let at = 0; at < written.length; at += 1) {
    const unit = written.charCodeAt(at);
    if (unit === STOP) place += 1;
    else octets[place] = octets[place]! * 10 + unit - 48;
  }
  return octets;
}

/** Four numbers up to here are the parts of a version more often than an address (common practice, no source). */
const SMALL_OCTET = 25;
const VERSION =
  /(?:\bv|version|release|firmware|build|ver\.|rev\.?|update|fassung|versión|versione|verzió|wersja|версия|[@~^=_-])[ :=]{0,3}$/i;
const SECTION =
  /(?:§|section|sect\.|sec\.|chapter|clause|abschnitt|kapitel|chapitre|paragraph|artikel|article|appendix|annex|figure|table|step|rule|nr\.?|no\.?)[ :]{0,2}$/i;

/** Ones first, then zeros: a mask of a network, or all ones, the address of everybody. */
function isMask(octets: readonly number[]): boolean {
  const bits = octets.map((octet) => octet.toString(2).padStart(8, '0')).join('');
  return /^1{8,32}0*$/.test(bits);
}
