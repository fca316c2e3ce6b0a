/** Real servers from Debian's packages, each with its own folder and port, started and stopped by the tests. */
import { execFileSync, spawn } from 'node:child_process';
import { chmodSync, chownSync, mkdirSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { freePort, running, type TestServer } from '@lantern/testkit';

export const USER = 'reader';
export const PASSWORD = 'a password of the tests';

const folderFor = (name: string): string => {
  const folder = mkdtempSync(join(tmpdir(), `lantern-${name}-`));
  chmodSync(folder, 0o755);
  return folder;
};

const idOf = (user: string): number => Number(execFileSync('id', ['-u', user], { encoding: 'utf8' }));

/** Apache with its WebDAV module; `fill` writes what it shares. */
export async function apache(fill: (share: string) => void): Promise<TestServer> {
  const folder = folderFor('apache');
  const port = await freePort();
  for (const name of ['share', 'locks', 'run']) mkdirSync(join(folder, name));
  fill(join(folder, 'share'));
  for (const name of ['share', 'locks', 'run']) chownSync(join(folder, name), idOf('www-data'), -1);
  execFileSync('htpasswd', ['-bc', join(folder, 'users'), USER, PASSWORD], { stdio: 'ignore' });
  const modules = [
    'mpm_event',
    'authn_core',
    'authn_file',
    'authz_core',
    'authz_user',
    'auth_basic',
    'mime',
    'dav',
    'dav_fs',
  ];
  writeFileSync(
    join(folder, 'apache.conf'),
    [
      `ServerRoot ${folder}`,
      `ServerName localhost`,
      ...modules.map((name) => `LoadModule ${name}_module /usr/lib/apache2/modules/mod_${name}.so`),
      `Listen 127.0.0.1:${port}`,
      `PidFile ${folder}/run/pid`,
      `ErrorLog ${folder}/run/errors`,
      'User www-data',
      'Group www-data',
      'TypesConfig /etc/mime.types',
      `DAVLockDB ${folder}/locks/db`,
      `DocumentRoot ${folder}/share`,
      `<Directory ${folder}/share>`,
      '  Dav On',
      '  AuthType Basic',
      '  AuthName share',
      `  AuthUserFile ${folder}/users`,
      '  Require valid-user',
      '</Directory>',
    ].join('\n'),
  );
  return running(
    spawn('/usr/sbin/apache2', ['-f', join(folder, 'apache.conf'), '-DFOREGROUND']),
    port,
    folder,
  );
}

/** Dovecot with one mailbox: folders of mails by name. */
export async function dovecot(mails: Readonly<Record<string, readonly string[]>>): Promise<TestServer> {
  const folder = folderFor('dovecot');
  const port = await freePort();
  const owner = idOf('mail');
  const box = join(folder, 'mail');
  const own = (path: string): void => {
    mkdirSync(path, { recursive: true });
    chownSync(path, owner, -1);
  };
  own(box);
  for (const [name, texts] of Object.entries(mails)) {
    const place = name === 'INBOX' ? box : join(box, `.${name}`);
    for (const part of ['', 'cur', 'new', 'tmp']) own(join(place, part));
    for (const [at, text] of texts.entries()) {
      const path = join(place, 'cur', `${1_700_000_000 + at}.M${at}.tests:2,`);
      writeFileSync(path, text);
      chownSync(path, owner, -1);
    }
  }
  writeFileSync(join(folder, 'users'), `${USER}:{PLAIN}${PASSWORD}:${owner}:8::${folder}::\n`);
  writeFileSync(
    join(folder, 'dovecot.conf'),
    `base_dir = ${folder}/run
log_path = ${folder}/log
protocols = imap
listen = 127.0.0.1
ssl = no
disable_plaintext_auth = no
mail_location = maildir:${box}
first_valid_uid = 1
mail_uid = ${owner}
default_internal_user = dovecot
default_login_user = dovenull
service imap-login {
  chroot =
  inet_listener imap {
    port = ${port}
  }
  inet_listener imaps {
    port = 0
  }
}
service anvil {
  chroot =
}
passdb {
  driver = passwd-file
  args = ${folder}/users
}
userdb {
  driver = passwd-file
  args = ${folder}/users
}
`,
  );
  return running(spawn('/usr/sbin/dovecot', ['-F', '-c', join(folder, 'dovecot.conf')]), port, folder);
}

/** PostgreSQL with a database `harbour` that a user may only read. */
export async function postgres(statements: readonly string[]): Promise<TestServer> {
  const folder = folderFor('postgres');
  const port = await freePort();
  const [version] = readdirSync('/usr/lib/postgresql').sort((left, right) => Number(right) - Number(left));
  const program = (name: string): string => `/usr/lib/postgresql/${version}/bin/${name}`;
  const uid = idOf('postgres');
  chownSync(folder, uid, -1);
  // It refuses to run as root.
  const as = { uid, env: { ...process.env, HOME: folder }, stdio: 'pipe' as const };
  execFileSync(
    program('initdb'),
    ['-D', join(folder, 'data'), '-A', 'trust', '-E', 'UTF8', '--locale=C'],
    as,
  );
  const rules = [
    'local all all trust',
    `host all ${USER} 127.0.0.1/32 scram-sha-256`,
    'host all all 127.0.0.1/32 trust',
  ];
  writeFileSync(join(folder, 'data/pg_hba.conf'), `${rules.join('\n')}\n`);
  const child = spawn(
    program('postgres'),
    ['-D', join(folder, 'data'), '-p', String(port), '-k', folder, '-h', '127.0.0.1', '-F'],
    as,
  );
  const server = await running(child, port, folder);
  const all = [
    ...statements,
    `CREATE USER ${USER} PASSWORD '${PASSWORD}'`,
    `GRANT SELECT ON ALL TABLES IN SCHEMA public TO ${USER}`,
    'ANALYZE',
  ];
  const sql = (database: string, text: string) =>
    execFileSync(
      program('psql'),
      [
        '-h',
        '127.0.0.1',
        '-p',
        String(port),
        '-U',
        'postgres',
        '-d',
        database,
        '-v',
        'ON_ERROR_STOP=1',
        '-c',
        text,
      ],
      as,
    );
  sql('postgres', 'CREATE DATABASE harbour');
  for (const statement of all) sql('harbour', statement);
  return server;
}

/** An object store from the registry, with one bucket. Its marks of pages need a cipher that OpenSSL 3 calls legacy. */
export async function objects(bucket: string): Promise<TestServer> {
  const folder = folderFor('objects');
  const port = await freePort();
  const program = fileURLToPath(new URL('../../../node_modules/s3rver/bin/s3rver.js', import.meta.url));
  const child = spawn(process.execPath, [
    ...[
      '--openssl-legacy-provider',
      '--no-warnings',
      program,
      '--directory',
      folder,
      '--address',
      '127.0.0.1',
    ],
    ...['--port', String(port), '--configure-bucket', bucket, '--silent'],
  ]);
  return running(child, port, folder);
}
