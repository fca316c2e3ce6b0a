/** Debian's rsyslog with its own folder and port: takes syslog over TLS and writes down what it understood. */
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ownCertificate, running, type TestServer } from '@lantern/testkit';

export interface Collected {
  readonly priority: string;
  readonly at: string;
  readonly app: string;
  readonly id: string;
  readonly data: string;
  readonly message: string;
}

export interface LogCollector extends TestServer {
  /** File with the certificate that it shows. */
  readonly authority: string;
  collected(): Collected[];
}

/** On a given port, and in a folder that is kept when it stops, it can be stopped and started again. */
export async function logCollector(port: number): Promise<LogCollector> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-rsyslog-'));
  const at = (name: string): string => join(folder, name);
  ownCertificate(at('key.pem'), at('own.pem'));
  const fields = ['pri', 'timestamp:::date-rfc3339', 'app-name', 'msgid', 'structured-data', 'msg'];
  writeFileSync(
    at('rsyslog.conf'),
    [
      `global(workDirectory="${folder}" maxMessageSize="64k" defaultNetstreamDriver="gtls"`,
      `  defaultNetstreamDriverCAFile="${at('own.pem')}" defaultNetstreamDriverCertFile="${at('own.pem')}"`,
      `  defaultNetstreamDriverKeyFile="${at('key.pem')}")`,
      'module(load="imtcp" streamDriver.name="gtls" streamDriver.mode="1" streamDriver.authMode="anon")',
      `template(name="fields" type="string" string="${fields.map((each) => `%${each}%`).join('\\t')}\\n")`,
      `ruleset(name="all") { action(type="omfile" file="${at('collected')}" template="fields") }`,
      `input(type="imtcp" port="${port}" address="127.0.0.1" ruleset="all")`,
    ].join('\n'),
  );
  const child = spawn('/usr/sbin/rsyslogd', ['-n', '-f', at('rsyslog.conf'), '-i', at('rsyslog.pid')], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  const server = await running(child, port, folder);
  return {
    ...server,
    authority: at('own.pem'),
    collected: () =>
      (existsSync(at('collected')) ? readFileSync(at('collected'), 'utf8') : '')
        .split('\n')
        .filter(Boolean)
        .map((line) => {
          const [priority = '', when = '', app = '', id = '', data = '', message = ''] = line.split('\t');
          return { priority, at: when, app, id, data, message };
        }),
  };
}
