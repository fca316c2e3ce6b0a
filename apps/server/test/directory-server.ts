/** Debian's directory server with its own folder and port, filled from LDIF, started and stopped by a test. */
import { execFileSync, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';

export const BASE = 'dc=merrowstrait,dc=example';
export const READER = `cn=reader,${BASE}`;
export const READER_PASSWORD = 'only reads';
const READY_WITHIN_MS = 30_000;

export interface TestDirectoryServer {
  readonly port: number;
  /** Certificate of the authority that signed the server's own. */
  readonly authority: string;
  stop(): Promise<void>;
}

export async function directoryServer(entries: string): Promise<TestDirectoryServer> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-slapd-'));
  const at = (name: string): string => join(folder, name);
  mkdirSync(at('db'));
  const openssl = (...rest: string[]) => execFileSync('openssl', rest, { stdio: 'ignore' });
  openssl(
    ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-keyout', at('key.pem'), '-out', at('own.pem')],
    ...['-days', '2', '-subj', '/CN=127.0.0.1', '-addext', 'subjectAltName=IP:127.0.0.1'],
  );
  writeFileSync(
    at('slapd.conf'),
    [
      ...['core', 'cosine', 'inetorgperson'].map((name) => `include /etc/ldap/schema/${name}.schema`),
      'modulepath /usr/lib/ldap',
      'moduleload back_mdb',
      `pidfile ${at('slapd.pid')}`,
      `TLSCertificateFile ${at('own.pem')}`,
      `TLSCertificateKeyFile ${at('key.pem')}`,
      // A page is all that one answer gives, as large directories have it.
      'sizelimit size.soft=500 size.hard=500 size.prtotal=unlimited',
      'database mdb',
      `suffix "${BASE}"`,
      `directory ${at('db')}`,
      'access to attrs=userPassword by anonymous auth by * none',
      `access to * by dn="${READER}" read by anonymous auth by * none`,
    ].join('\n'),
  );
  const top = [
    `dn: ${BASE}`,
    'objectClass: dcObject',
    'objectClass: organization',
    'o: Merrow Strait Lines',
    'dc: merrowstrait',
    '',
    `dn: ${READER}`,
    'objectClass: organizationalRole',
    'objectClass: simpleSecurityObject',
    'cn: reader',
    `userPassword: ${READER_PASSWORD}`,
    '',
  ];
  writeFileSync(at('all.ldif'), `${top.join('\n')}\n${entries}`);
  execFileSync('/usr/sbin/slapadd', ['-f', at('slapd.conf'), '-l', at('all.ldif')], { stdio: 'pipe' });
  const port = await freePort();
  const child = spawn(
    '/usr/sbin/slapd',
    ['-f', at('slapd.conf'), '-h', `ldap://127.0.0.1:${port}`, '-d', '0'],
    {
      stdio: 'ignore',
    },
  );
  for (let waited = 0; !(await reachable(port)); waited += 100) {
    if (waited > READY_WITHIN_MS || child.exitCode !== null)
      throw new Error('The directory server of the tests did not start');
    await wait(100);
  }
  return {
    port,
    authority: readFileSync(at('own.pem'), 'utf8'),
    stop: async () => {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      if (child.exitCode === null) await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  await new Promise((resolve) => server.close(resolve));
  return port;
}

function reachable(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), resolve(true)));
    socket.once('error', () => resolve(false));
  });
}
