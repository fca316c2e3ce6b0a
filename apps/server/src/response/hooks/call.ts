import { lookup as lookUp } from 'node:dns';
import { request as requestHttp } from 'node:http';
import { request as requestHttps } from 'node:https';
import { BlockList, isIP, isIPv6, type LookupFunction } from 'node:net';

/** Longest time for one call, connection included. */
export const CALL_MS = 10_000;
/** Bytes of an answer that are read: a ticket system says little, a hostile one says much. */
const MOST_ANSWER = 8_192;

/**
 * Addresses that are no outside service: this machine, private and link-local networks (RFC 6890). The list holds an IPv4
 * address that is written as IPv6 (`::ffff:127.0.0.1`) to the rules of IPv4 by itself.
 */
const OWN = new BlockList();
for (const [network, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  OWN.addSubnet(network, bits, 'ipv4');
for (const [network, bits] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  OWN.addSubnet(network, bits, 'ipv6');

/** Whether an address is of this machine or of a network that is not the Internet. */
export const isOwnAddress = (address: string): boolean =>
  OWN.check(address, isIPv6(address) ? 'ipv6' : 'ipv4');

export type CallResult =
  | { readonly kind: 'answered'; readonly status: number }
  | { readonly kind: 'failed'; readonly why: 'own-address' | 'timed-out' | 'not-reached' };

/**
 * Sends one event. Redirects are not followed: the status says so. The address is looked at as the connection is made, so
 * that a name cannot lead elsewhere than it did when it was checked.
 */
export function callHook(
  url: string,
  {
    headers,
    body,
    privateToo,
    within = CALL_MS,
  }: {
    readonly headers: Readonly<Record<string, string>>;
    readonly body: string;
    readonly privateToo: boolean;
    readonly within?: number;
  },
): Promise<CallResult> {
  const target = new URL(url);
  const host = target.hostname.replace(/^\[|\]$/gu, '');
  if (!privateToo && isIP(host) && isOwnAddress(host))
    return Promise.resolve({ kind: 'failed', why: 'own-address' });
  return new Promise((resolve) => {
    const send = target.protocol === 'https:' ? requestHttps : requestHttp;
    const call = send(
      target,
      {
        method: 'POST',
        headers: { ...headers, 'content-length': String(Buffer.byteLength(body)) },
        ...(privateToo ? {} : { lookup: outsideOnly }),
      },
      (answer) => {
        let read = 0;
        answer.on('data', (piece: Buffer) => {
          read += piece.length;
          if (read > MOST_ANSWER) answer.destroy();
        });
        resolve({ kind: 'answered', status: answer.statusCode ?? 0 });
        answer.on('error', () => undefined);
        answer.resume();
      },
    );
    const timer = setTimeout(() => {
      resolve({ kind: 'failed', why: 'timed-out' });
      call.destroy();
    }, within);
    call.on('close', () => clearTimeout(timer));
    call.on('error', (error) =>
      resolve({ kind: 'failed', why: error.message === OWN_ADDRESS ? 'own-address' : 'not-reached' }),
    );
    call.end(body);
  });
}

const OWN_ADDRESS = 'The name leads to an address of this machine or of a private network';

const outsideOnly: LookupFunction = (hostname, options, callback) => {
  lookUp(hostname, { ...options, all: true }, (error, addresses) => {
    const found = error ? [] : addresses;
    if (found.some(({ address }) => isOwnAddress(address))) return callback(new Error(OWN_ADDRESS), '', 4);
    const [first] = found;
    if (error || !first) return callback(error ?? new Error('no address'), '', 4);
    if (options.all) callback(null, found);
    else callback(null, first.address, first.family);
  });
};
