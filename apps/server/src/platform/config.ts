import { isIP } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { keyFrom, readMasterKeys } from './keys/key-file.js';
import { KeyRing } from './keys/key-ring.js';

/** What the server is told when it starts. */
export interface Config {
  readonly port: number;
  /** Address of the workbench as people reach it, for links in mails; without a slash at its end. */
  readonly address: string;
  /** Whether web hooks may go to addresses of this machine and of private networks. */
  readonly privateHooks: boolean;
  readonly database: {
    readonly host: string;
    readonly port: number;
    readonly username: string;
    readonly password: string;
    readonly database: string;
  };
  /** Keys for what is kept at rest: master keys from outside the database, and what they opened in it. */
  readonly keys: KeyRing;
  /** File of secrets with the master keys, where they can be changed; null where they are in the environment alone. */
  readonly secretsFile: string | null;
  readonly demo: 'merrow' | 'none';
  /** Folder that holds the files of places. */
  readonly places: string;
  /** File outside the database in which ends of the audit trail are written down; null for none. */
  readonly trailHeads: string | null;
  /** Where the audit trail is sent on as syslog over TLS; null for nowhere. */
  readonly syslog: {
    readonly host: string;
    readonly port: number;
    /** File with the certificate of the authority that is trusted; null for those of the machine. */
    readonly authority: string | null;
  } | null;
  /** Port of the SMTP door on loopback; 0 takes any that is free. */
  readonly smtpPort: number;
  /** Address that the SMTP door listens on. */
  readonly smtpHost: string;
  /** Networks from which the SMTP door takes mail without AUTH. */
  readonly smtpNetworks: readonly { readonly address: string; readonly bits: number }[];
  /** Whether the stand-ins of the demo are there. */
  readonly standIns: boolean;
  /** Proxies whose word about a client's address counts; empty for none. */
  readonly proxies: readonly string[];
  /** Port of the stand-in post office. */
  readonly postPort: number;
  /** Where mail is handed on to; null for the stand-in post office. */
  readonly relay: { readonly host: string; readonly port: number } | null;
}

export const CONFIG = Symbol('config');

/** Reads the configuration; throws an Error that names the variable at fault. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const need = (name: string): string => {
    const value = environment[name];
    if (!value) throw new Error(`${name} is not set`);
    return value;
  };
  const secretsFile = environment['LANTERN_SECRETS'] || null;
  const masters = secretsFile
    ? readMasterKeys(secretsFile)
    : [keyFrom(need('LANTERN_MASTER_KEY'), 'LANTERN_MASTER_KEY')];
  const database = JSON.parse(need('LANTERN_DATABASE')) as Omit<Config['database'], 'password'>;
  return {
    port: Number(environment['PORT'] ?? 4600),
    address: (environment['LANTERN_ADDRESS'] || `http://127.0.0.1:${environment['PORT'] ?? 4600}`).replace(
      /\/$/u,
      '',
    ),
    privateHooks: environment['LANTERN_PRIVATE_HOOKS'] === 'on',
    database: { ...database, password: need('LANTERN_DATABASE_PASSWORD') },
    keys: new KeyRing(masters),
    secretsFile,
    demo: environment['LANTERN_DEMO'] === 'merrow' ? 'merrow' : 'none',
    smtpPort: portIn(environment, 'LANTERN_SMTP_PORT', 4625),
    smtpHost: environment['LANTERN_SMTP_HOST'] || '127.0.0.1',
    smtpNetworks: networksIn(environment['LANTERN_SMTP_NETWORKS'] || '127.0.0.0/8, ::1/128'),
    standIns: standInsIn(environment),
    proxies: listIn(environment['LANTERN_PROXIES']),
    postPort: portIn(environment, 'LANTERN_POST_PORT', 4626),
    relay: relayIn(environment['LANTERN_RELAY']),
    trailHeads: environment['LANTERN_TRAIL_HEADS'] || null,
    syslog: syslogIn(environment),
    places: environment['LANTERN_PLACES'] ?? join(tmpdir(), `lantern-places-${process.pid}`),
  };
}

function portIn(environment: NodeJS.ProcessEnv, name: string, usual: number): number {
  const port = Number(environment[name] || usual);
  if (Number.isInteger(port) && port >= 0 && port < 65_536) return port;
  throw new Error(`${name} must be a port number from 0 to 65535`);
}

const listIn = (given: string | undefined): string[] =>
  (given ?? '')
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean);

/** With the demo, or where somebody switched them on. */
function standInsIn(environment: NodeJS.ProcessEnv): boolean {
  const given = environment['LANTERN_STAND_INS'];
  return given ? given === 'on' : environment['LANTERN_DEMO'] === 'merrow';
}

/** Networks like `10.1.0.0/16`, divided by commas. */
function networksIn(given: string): Config['smtpNetworks'] {
  return listIn(given).map((each) => {
    const [address = '', bits = ''] = each.split('/');
    const most = isIP(address) === 6 ? 128 : 32;
    const length = Number(bits || most);
    if (isIP(address) === 0 || !Number.isInteger(length) || length < 0 || length > most)
      throw new Error('LANTERN_SMTP_NETWORKS must list networks like 10.1.0.0/16, separated by commas');
    return { address, bits: length };
  });
}

/** `host:port`; 6514 is the port of syslog over TLS (RFC 5425, 4.1). */
function syslogIn(environment: NodeJS.ProcessEnv): Config['syslog'] {
  const given = environment['LANTERN_SYSLOG'];
  if (!given) return null;
  const read = /^([^\s:/]+|\[[0-9a-f:]+\])(?::(\d{1,5}))?$/iu.exec(given);
  const port = Number(read?.[2] ?? 6514);
  if (!read?.[1] || port > 65_535) throw new Error('LANTERN_SYSLOG must be written like log.example:6514');
  const host = read[1].replace(/^\[|\]$/gu, '');
  return { host, port, authority: environment['LANTERN_SYSLOG_CA'] || null };
}

/** `host:port`, or nothing for the stand-in. */
function relayIn(given: string | undefined): Config['relay'] {
  if (!given) return null;
  const read = /^(.+):(\d{1,5})$/.exec(given);
  if (!read) throw new Error('LANTERN_RELAY must be written like mail.example:25');
  return { host: read[1] ?? '', port: Number(read[2]) };
}
