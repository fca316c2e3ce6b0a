import ipaddr from 'ipaddr.js';

/** Addresses from one to another, both of one kind. */
export interface AddressRange {
  readonly kind: 'ipv4' | 'ipv6';
  readonly from: readonly number[];
  readonly to: readonly number[];
}

/** What divides the two ends of a range. */
const TO = /\s+(?:-|–|to)\s+|\s*\.\.\.?\s*/u;

/** Reads `10.1.0.0/16`, `10.1.0.5 - 10.1.0.40` or one address, of IPv4 or IPv6 (RFC 4632, 4291); null for anything else. */
export function readAddressRange(text: string): AddressRange | null {
  const given = text.trim();
  const [first = '', second] = given.split(TO);
  if (second !== undefined) {
    const [from, to] = [readAddress(first), readAddress(second)];
    if (!from || !to || from.kind !== to.kind || compare(from.bytes, to.bytes) > 0) return null;
    return { kind: from.kind, from: from.bytes, to: to.bytes };
  }
  if (!given.includes('/')) {
    const one = readAddress(given);
    return one && { kind: one.kind, from: one.bytes, to: one.bytes };
  }
  const [network = '', bits = ''] = given.split('/');
  const base = readAddress(network);
  const most = base?.kind === 'ipv6' ? 128 : 32;
  if (!base || !/^\d{1,3}$/u.test(bits) || Number(bits) > most) return null;
  const masked = (fill: 0 | 255): number[] =>
    base.bytes.map((byte, at) => {
      const own = Math.min(8, Math.max(0, Number(bits) - at * 8));
      const mask = (0xff << (8 - own)) & 0xff;
      return (byte & mask) | (fill & ~mask & 0xff);
    });
  return { kind: base.kind, from: masked(0), to: masked(255) };
}

/** Whether an address lies in a range; an IPv4 address that is written as IPv6 counts as the former. */
export function isInRange({ kind, from, to }: AddressRange, address: string): boolean {
  const read = readAddress(address);
  return read?.kind === kind && compare(from, read.bytes) <= 0 && compare(read.bytes, to) <= 0;
}

/** An address as it is usually written; null for what is none. */
export function plainAddress(text: string): string | null {
  const given = text.trim();
  return isWhole(given) ? ipaddr.process(given).toString() : null;
}

/** Four parts, or IPv6: `10.1` is an address to some programs, and a mistake in a list. */
const isWhole = (text: string): boolean =>
  ipaddr.IPv4.isValidFourPartDecimal(text) || ipaddr.IPv6.isValid(text);

function readAddress(
  text: string,
): { readonly kind: 'ipv4' | 'ipv6'; readonly bytes: readonly number[] } | null {
  const given = text.trim();
  if (!isWhole(given)) return null;
  const read = ipaddr.process(given);
  return { kind: read.kind(), bytes: read.toByteArray() };
}

function compare(one: readonly number[], other: readonly number[]): number {
  for (let at = 0; at < one.length; at += 1) {
    const less = (one[at] ?? 0) - (other[at] ?? 0);
    if (less !== 0) return less;
  }
  return 0;
}

/** Serial numbers from one to another: the same letters before the same count of digits. */
export interface SerialRange {
  readonly before: string;
  readonly from: bigint;
  readonly to: bigint;
  readonly digits: number | null;
}

const SERIAL = /^(.*?)(\d+)$/u;

/** Reads `A100 - A199` or one serial number; null where the two do not belong together. */
export function readSerialRange(text: string): SerialRange | string | null {
  const given = text.trim().toLowerCase();
  if (given === '') return null;
  const [first = '', second] = given.split(TO);
  if (second === undefined) return given;
  const [, before, low] = SERIAL.exec(first.trim()) ?? [];
  const [, other, high] = SERIAL.exec(second.trim()) ?? [];
  if (low === undefined || high === undefined || before !== other || before === undefined) return null;
  if (BigInt(low) > BigInt(high)) return null;
  return {
    before,
    from: BigInt(low),
    to: BigInt(high),
    digits: low.length === high.length ? low.length : null,
  };
}

export function isSerialIn(range: SerialRange | string, serial: string): boolean {
  const given = serial.trim().toLowerCase();
  if (typeof range === 'string') return given === range;
  const [, before, digits] = SERIAL.exec(given) ?? [];
  if (digits === undefined || before !== range.before) return false;
  if (range.digits !== null && digits.length !== range.digits) return false;
  return BigInt(digits) >= range.from && BigInt(digits) <= range.to;
}
