/** Debian's directory server with its own folder and port, filled from LDIF, started and stopped by a test. */
import { execFileSync, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, ownCertificate, running, type TestServer } from '@lantern/testkit';

export const BASE = 'dc=merrowstrait,dc=example';
export const READER = `cn=reader,${BASE}`;
export const READER_PASSWORD = 'only reads';

export interface TestDirectoryServer extends TestServer {
  /** Certificate of the authority that signed the server's own. */
  readonly authority: string;
}

export async function directoryServer(entries: string): Promise<TestDirectoryServer> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-slapd-'));
  const at = (name: string): string => join(folder, name);
  mkdirSync(at('db'));
  ownCertificate(at('key.pem'), at('own.pem'));
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
      stdio: ['ignore', 'ignore', 'pipe'],
    },
  );
  const server = await running(child, port, folder);
  return { ...server, authority: readFileSync(at('own.pem'), 'utf8') };
}
