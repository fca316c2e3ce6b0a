/** What a line of an address list is about: one host, or one host and all under it. */
export interface AddressLine {
  /** Name or IP literal, as people write it. */
  readonly host: string;
  /** With every host under it. */
  readonly under: boolean;
  /** `https`, without a colon; left out for any. */
  readonly scheme?: string;
  /** Left out for any. */
  readonly port?: number;
  /** Path and all under it, step by step; left out for any. */
  readonly path?: string;
  readonly allow: boolean;
}

/** Lines in their order: the first that fits decides. */
export interface AddressList {
  readonly service: string;
  readonly lines: readonly AddressLine[];
  /** What happens to an address that no line names. */
  readonly otherwise: 'allowed' | 'refused';
}

/** An address as lists compare it. */
export interface ReadAddress {
  readonly scheme: string;
  /** Lower-case letters, in ASCII (UTS 46), without a dot at the end. */
  readonly host: string;
  readonly port: number | null;
  /** Dot steps taken out (RFC 3986, 5.2.4); steps without their slashes. */
  readonly path: readonly string[];
}

/** Why something is no address that can be judged beforehand. */
export const ADDRESS_FAULTS = [
  'empty',
  'control-characters',
  'made-at-run-time',
  'no-scheme',
  'scheme-unknown',
  'no-host',
  'unreadable',
] as const;
export type AddressFault = (typeof ADDRESS_FAULTS)[number];

export type AddressReading =
  | { readonly status: 'read'; readonly address: ReadAddress }
  | { readonly status: 'fault'; readonly fault: AddressFault };

/** Part of every place where this runs (WHATWG URL): browsers, workers and Node. */
declare const URL: new (address: string) => {
  readonly hostname: string;
  readonly port: string;
  readonly pathname: string;
};

/** Longest address that is read: browsers and servers take no longer ones either. */
export const MAX_ADDRESS = 8_192;

/** Schemes with a host, and the port that none stands for (registered with IANA; WHATWG URL, special schemes). */
const PORTS: Readonly<Record<string, number>> = { http: 80, https: 443, ws: 80, wss: 443, ftp: 21 };

/** Placeholders of the usual template languages: what stands there is known at run time only. */
const AT_RUN_TIME = /\{\{|\$\{|\{\$|^\$[a-z]|<%|@\{|\$\(|%\{/u;

/**
 * Reads an address (RFC 3986; hosts as UTS 46 and the WHATWG URL standard say: case, dots, punycode and every way of
 * writing an IP address). What a browser would take out without a word, as a line break in a host, is a fault here.
 */
export function readAddress(text: string): AddressReading {
  const given = text.trim();
  const fault = (why: AddressFault): AddressReading => ({ status: 'fault', fault: why });
  if (given === '') return fault('empty');
  if (given.length > MAX_ADDRESS) return fault('unreadable');
  // Checked before anything is parsed: parsers take some of these out.
  // eslint-disable-next-line no-control-regex -- control characters are what is looked for
  if (/[\u0000-\u0020\u007f-\u009f\u200b-\u200f\u2028\u2029\ufeff]/u.test(given))
    return fault('control-characters');
  if (AT_RUN_TIME.test(given)) return fault('made-at-run-time');
  const scheme = /^([a-z][a-z\d+.-]*):/iu.exec(given)?.[1]?.toLowerCase();
  if (!scheme) return fault('no-scheme');
  const usual = PORTS[scheme];
  if (usual === undefined) return fault('scheme-unknown');
  if (!/^[a-z]+:\/\/[^/?#]/iu.test(given)) return fault('no-host');
  let url: InstanceType<typeof URL>;
  try {
    url = new URL(given);
  } catch {
    return fault('unreadable');
  }
  const host = withoutLastDot(url.hostname);
  if (host === '') return fault('no-host');
  return {
    status: 'read',
    address: {
      ...{ scheme, host, port: url.port === '' ? usual : Number(url.port) },
      path: stepsOf(url.pathname),
    },
  };
}

/** A host as a line names it, made comparable; null where it is none. */
export function readHost(host: string): string | null {
  const given = host.trim();
  if (given === '' || /[/?#@\\\s]/u.test(given)) return null;
  // Without brackets a colon is a port, which has a field of its own; an IPv6 address may be written without them.
  const literal = given.includes(':') && !given.startsWith('[') ? `[${given}]` : given;
  try {
    const { hostname, port } = new URL(`https://${literal}/`);
    return port === '' && hostname !== '' ? withoutLastDot(hostname) : null;
  } catch {
    return null;
  }
}

/** What a list says about an address, and by which line (from 0); null for what no line names. */
export interface AddressVerdict {
  readonly allowed: boolean;
  readonly line: number | null;
}

export function judgeAddress(
  list: Pick<AddressList, 'lines' | 'otherwise'>,
  address: ReadAddress,
): AddressVerdict {
  const line = list.lines.findIndex((each) => fits(each, address));
  if (line < 0) return { allowed: list.otherwise === 'allowed', line: null };
  return { allowed: list.lines[line]?.allow === true, line };
}

function fits(line: AddressLine, { scheme, host, port, path }: ReadAddress): boolean {
  const named = readHost(line.host);
  if (named === null) return false;
  // An IP address has nothing under it.
  const isUnder = line.under && !isIp(named) && host.endsWith(`.${named}`);
  if (host !== named && !isUnder) return false;
  if (line.scheme && line.scheme.toLowerCase() !== scheme) return false;
  if (line.port !== undefined && line.port !== port) return false;
  if (!line.path) return true;
  const wanted = stepsOf(line.path);
  return wanted.every((step, at) => path[at] === step);
}

const isIp = (host: string): boolean => host.startsWith('[') || /^\d+(?:\.\d+){3}$/u.test(host);

const withoutLastDot = (host: string): string => host.replace(/\.$/u, '');

/** Steps of a path; characters that need no escape are compared as themselves (RFC 3986, 6.2.2.2). */
function stepsOf(path: string): string[] {
  return path
    .split('/')
    .filter((step) => step !== '')
    .map((step) =>
      step.replaceAll(/%([\da-f]{2})/giu, (whole, hex: string) => {
        const sign = String.fromCharCode(parseInt(hex, 16));
        return /[\w.~-]/u.test(sign) ? sign : whole.toUpperCase();
      }),
    );
}
