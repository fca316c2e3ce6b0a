/** Every kind of store, read from servers that we did not write. */
import type { TestServer } from '@lantern/testkit';
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MAX_FILE_BYTES } from '@lantern/files/reading';
import mysql from 'mysql2/promise';
import { FolderStore, putBack, quarantine } from '../src/stores/folder.js';
import { readPage } from '../src/stores/objects.js';
import { openStore } from '../src/stores/open-store.js';
import { type OpenStore, StoreFault, type StoreItem, type StoreOpening } from '../src/stores/store.js';
import { apache, dovecot, objects, PASSWORD, postgres, USER } from './servers.js';

const CARD = '4111 1111 1111 1111';

async function listed(
  store: OpenStore,
  skips: (folder: string) => boolean = () => false,
): Promise<StoreItem[]> {
  const items: StoreItem[] = [];
  for await (const item of store.list(skips)) items.push(item);
  return items.sort((left, right) => (left.path < right.path ? -1 : 1));
}

async function textOf(store: OpenStore, path: string): Promise<string> {
  const content = await store.content(path);
  return content.kind === 'bytes' ? Buffer.from(content.bytes).toString('utf8') : content.kind;
}

const problemOf = (opening: StoreOpening): Promise<unknown> =>
  openStore(opening).then(
    async (store) => {
      await store.close();
      return null;
    },
    (error: unknown) => (error instanceof StoreFault ? error.problem : error),
  );

function writeTree(root: string): void {
  mkdirSync(join(root, 'claims/2026 & more'), { recursive: true });
  mkdirSync(join(root, 'leave'), { recursive: true });
  writeFileSync(join(root, 'claims/2026 & more/Überfahrt #1.txt'), `card ${CARD}`);
  writeFileSync(join(root, 'claims/a.txt'), 'a');
  writeFileSync(join(root, 'leave/b.txt'), 'b');
  writeFileSync(join(root, 'large.bin'), Buffer.alloc(MAX_FILE_BYTES + 1));
}

const TREE = ['claims/2026 & more/Überfahrt #1.txt', 'claims/a.txt', 'large.bin', 'leave/b.txt'];

describe('a share of Apache over WebDAV', () => {
  let server: TestServer;
  const opening = (
    over: Partial<StoreOpening['address']> = {},
    secret: string | null = PASSWORD,
  ): StoreOpening => ({
    ...{ store: 'webdav', secret, allowed: [] },
    address: { at: `http://127.0.0.1:${server.port}/`, user: USER, ...over },
  });
  beforeAll(async () => {
    server = await apache(writeTree);
  });
  afterAll(() => server.stop());

  it('is listed with its folders, whatever they are called, and read', async () => {
    const store = await openStore(opening());
    const items = await listed(store);
    expect(items.map(({ path }) => path)).toEqual(TREE);
    expect(items[1]).toMatchObject({ bytes: 1, changedAt: expect.stringMatching(/^\d{4}-/u) });
    expect(items.every(({ marker }) => marker.length > 3)).toBe(true);
    expect((await listed(store, (folder) => folder === 'claims')).map(({ path }) => path)).toEqual([
      'large.bin',
      'leave/b.txt',
    ]);
    expect(await textOf(store, TREE[0] ?? '')).toBe(`card ${CARD}`);
    expect(await store.content('large.bin')).toEqual({ kind: 'unreadable', reason: 'too-large' });
    expect(await store.content('claims/none.txt')).toEqual({ kind: 'gone' });
    // Nothing changed, so that nothing is read again.
    expect(await listed(store)).toEqual(items);
    await store.close();
  });

  it('says what is wrong', async () => {
    expect(await problemOf(opening({}, 'another'))).toBe('wrong-secret');
    expect(await problemOf(opening({ at: `http://127.0.0.1:${server.port}/nowhere/` }))).toBe(
      'no-such-place',
    );
    expect(await problemOf(opening({ at: 'http://127.0.0.1:1/' }))).toBe('not-reachable');
    expect(await problemOf(opening({ at: 'files.example' }))).toBe('wrong-address');
  });
});

describe('a mailbox of Dovecot over IMAP', () => {
  const mail = (subject: string, text: string) =>
    `From: a@b.example\r\nTo: c@d.example\r\nSubject: ${subject}\r\nDate: Mon, 2 Nov 2026 10:00:00 +0000\r\n\r\n${text}\r\n`;
  let server: TestServer;
  const opening = (
    over: Partial<StoreOpening['address']> = {},
    secret: string | null = PASSWORD,
  ): StoreOpening => ({
    ...{ store: 'mailbox', secret, allowed: [] },
    address: { at: `imap://127.0.0.1:${server.port}`, user: USER, ...over },
  });
  beforeAll(async () => {
    server = await dovecot({
      INBOX: [mail('One', `card ${CARD}`), mail('Two', 'nothing')],
      'Claims.2026': [mail('Three', 'old')],
      Empty: [],
    });
  });
  afterAll(() => server.stop());

  it('is listed mail by mail in all of its folders, and read without a trace', async () => {
    const store = await openStore(opening());
    const items = await listed(store);
    expect(items.map(({ path }) => path)).toEqual(['Claims/2026/1.eml', 'INBOX/1.eml', 'INBOX/2.eml']);
    expect(await textOf(store, 'INBOX/1.eml')).toContain(`card ${CARD}`);
    expect(await store.content('INBOX/99.eml')).toEqual({ kind: 'gone' });
    expect(await store.content('Nowhere/1.eml')).toEqual({ kind: 'gone' });
    expect((await listed(store, (folder) => folder === 'INBOX')).length).toBe(1);
    await store.close();
    // Dovecot writes the flags of a mail into its file name: none is marked as seen.
    const files = execFileSync('find', [join(server.folder, 'mail'), '-name', '*:2,*S*'], {
      encoding: 'utf8',
    });
    expect(files).toBe('');
  });

  it('can be one folder alone, and says what is wrong', async () => {
    const store = await openStore(opening({ part: 'Claims.2026' }));
    expect((await listed(store)).length).toBe(1);
    await store.close();
    const none = await openStore(opening({ part: 'Nothing' }));
    await expect(listed(none)).rejects.toMatchObject({ problem: 'no-such-place' });
    await none.close();
    expect(await problemOf(opening({}, 'another'))).toBe('wrong-secret');
    expect(await problemOf(opening({ at: 'imap://127.0.0.1:1' }))).toBe('not-reachable');
    expect(await problemOf(opening({ at: 'imap://a b' }))).toBe('wrong-address');
    expect(await problemOf(opening({}, null))).toBe('no-secret');
  });
});

describe('the tables of PostgreSQL', () => {
  let server: TestServer;
  const opening = (
    over: Partial<StoreOpening['address']> = {},
    secret: string | null = PASSWORD,
  ): StoreOpening => ({
    ...{ store: 'tables', secret, allowed: [] },
    address: { at: `postgresql://127.0.0.1:${server.port}`, part: 'harbour', user: USER, ...over },
  });
  beforeAll(async () => {
    server = await postgres([
      'CREATE TABLE guests (id int, "card number" text, note text, extra jsonb)',
      `INSERT INTO guests VALUES (1, '${CARD}', 'says "yes", twice', '{"a":1}'), (2, NULL, 'line
break', NULL)`,
      'CREATE TABLE "Odd ""name" (x int)',
      'INSERT INTO "Odd ""name" SELECT generate_series(1, 12000)',
      'CREATE TABLE empty (x int)',
    ]);
  });
  afterAll(() => server.stop());

  it('are pieces of rows under the names of their columns', async () => {
    const store = await openStore(opening());
    expect((await listed(store)).map(({ path }) => path)).toEqual([
      'public/Odd "name/rows from 1.csv',
      'public/Odd "name/rows from 10001.csv',
      'public/Odd "name/rows from 5001.csv',
      'public/empty/rows from 1.csv',
      'public/guests/rows from 1.csv',
    ]);
    // Fields as RFC 4180 writes them.
    expect(await textOf(store, 'public/guests/rows from 1.csv')).toBe(
      `id,card number,note,extra\r\n1,${CARD},"says ""yes"", twice","{""a"":1}"\r\n2,,"line\nbreak",`,
    );
    expect((await textOf(store, 'public/Odd "name/rows from 10001.csv')).split('\r\n').length).toBe(2_001);
    expect(await store.content('public/none/rows from 1.csv')).toEqual({ kind: 'gone' });
    await store.close();
  });

  it('say what is wrong', async () => {
    expect(await problemOf(opening({}, 'another'))).toBe('wrong-secret');
    expect(await problemOf(opening({ part: 'nowhere' }))).toBe('no-such-place');
    expect(await problemOf(opening({ at: 'postgresql://127.0.0.1:1' }))).toBe('not-reachable');
    expect(await problemOf(opening({ at: 'oracle://127.0.0.1' }))).toBe('wrong-address');
  });
});

describe('the tables of MariaDB', () => {
  const way = JSON.parse(process.env['LANTERN_DATABASE'] ?? '{}') as {
    host: string;
    port: number;
    username: string;
    database: string;
  };
  const password = process.env['LANTERN_DATABASE_PASSWORD'] ?? '';
  // The account of the tests may make databases that begin like its own.
  const database = `${way.database}_stores`;
  const opening = (over: Partial<StoreOpening['address']> = {}, secret = password): StoreOpening => ({
    ...{ store: 'tables', secret, allowed: [] },
    address: { at: `mariadb://${way.host}:${way.port}`, part: database, user: way.username, ...over },
  });
  const connect = () =>
    mysql.createConnection({ host: way.host, port: way.port, user: way.username, password });
  beforeAll(async () => {
    const connection = await connect();
    await connection.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4`);
    await connection.query(
      `CREATE TABLE ${database}.guests (id int, \`card \`\`number\` varchar(40), at datetime, raw blob)`,
    );
    await connection.query(`INSERT INTO ${database}.guests VALUES (1, ?, '2026-11-02 10:00:00', 'Ü')`, [
      CARD,
    ]);
    await connection.end();
  });
  afterAll(async () => {
    const connection = await connect();
    await connection.query(`DROP DATABASE ${database}`);
    await connection.end();
  });

  it('are read, and cannot be written through the same connection', async () => {
    const store = await openStore(opening());
    expect((await listed(store)).map(({ path }) => path)).toEqual([`${database}/guests/rows from 1.csv`]);
    expect(await textOf(store, `${database}/guests/rows from 1.csv`)).toMatch(
      new RegExp(`^id,card \`number,at,raw\r\n1,${CARD},2026-11-02T\\d\\d:00:00.000Z,Ü$`, 'u'),
    );
    await store.close();
    expect(await problemOf(opening({}, 'another'))).toBe('wrong-secret');
    expect(await problemOf(opening({ part: 'nowhere_at_all' }))).toMatch(/no-such-place|not-allowed/u);
  });
});

describe('a bucket of an object store', () => {
  let server: TestServer;
  const keys = { accessKeyId: 'S3RVER', secretAccessKey: 'S3RVER' };
  const opening = (
    over: Partial<StoreOpening['address']> = {},
    secret: string | null = keys.secretAccessKey,
  ): StoreOpening => ({
    ...{ store: 'objects', secret, allowed: [] },
    address: { at: `http://127.0.0.1:${server.port}`, part: 'claims', user: keys.accessKeyId, ...over },
  });
  beforeAll(async () => {
    server = await objects('claims');
    const { port } = server;
    const { AwsClient } = await import('aws4fetch');
    const client = new AwsClient({ ...keys, service: 's3', region: 'us-east-1' });
    const put = (key: string, body: string) =>
      client.fetch(`http://127.0.0.1:${port}/claims/${key.split('/').map(encodeURIComponent).join('/')}`, {
        method: 'PUT',
        body,
      });
    for (const [key, body] of [
      ['2026/Über & more.txt', `card ${CARD}`],
      ['leave/b.txt', 'b'],
      ['folder/', ''],
    ] as const)
      expect((await put(key, body)).status).toBe(200);
    // More than one page.
    for (let at = 0; at < 1_005; at += 1) await put(`many/${at}.txt`, String(at));
  });
  afterAll(() => server.stop());

  it('is listed over all of its pages, and read', async () => {
    const store = await openStore(opening());
    const items = await listed(store);
    expect(items.length).toBe(1_007);
    expect(items.filter(({ path }) => !path.startsWith('many/')).map(({ path }) => path)).toEqual([
      '2026/Über & more.txt',
      'leave/b.txt',
    ]);
    expect(await textOf(store, '2026/Über & more.txt')).toBe(`card ${CARD}`);
    expect(await store.content('none')).toEqual({ kind: 'gone' });
    expect((await listed(store, (part) => part === 'many')).length).toBe(2);
  });

  it('says what is wrong', async () => {
    expect(await problemOf(opening({ user: 'nobody' }))).toBe('wrong-secret');
    expect(await problemOf(opening({ part: 'nowhere' }))).toBe('no-such-place');
    expect(await problemOf(opening({ at: 'http://127.0.0.1:1' }))).toBe('not-reachable');
    expect(await problemOf(opening({}, null))).toBe('no-secret');
  });

  it.each([
    ['no XML', 'oops'],
    ['another document', '<html><body/></html>'],
    ['half of one', '<ListBucketResult><Contents><Key>a'],
    ['nothing', ''],
  ])('refuses %s for a list', (_name, text) =>
    expect(() => readPage(text)).toThrow(expect.objectContaining({ problem: 'wrong-answer' })),
  );

  // The example answer of the interface's public description, from memory.
  it('reads the list as it is described', () =>
    expect(
      readPage(
        '<?xml version="1.0"?><ListBucketResult xmlns="http://s3.amazonaws.com/doc/2006-03-01/"><Name>b</Name><KeyCount>1</KeyCount><IsTruncated>true</IsTruncated><NextContinuationToken>x</NextContinuationToken><Contents><Key>a &amp; b</Key><LastModified>2009-10-12T17:50:30.000Z</LastModified><ETag>&quot;fba9&quot;</ETag><Size>434234</Size></Contents></ListBucketResult>',
      ),
    ).toEqual({
      objects: [{ key: 'a & b', size: 434_234, changed: '2009-10-12T17:50:30.000Z', tag: 'fba9' }],
      next: 'x',
    }));
});

describe('a folder', () => {
  let root: string;
  beforeAll(() => {
    root = mkdtempSync(join(tmpdir(), 'lantern-folder-'));
    writeTree(root);
  });
  afterAll(() => rmSync(root, { recursive: true, force: true }));
  const opening = (at: string, allowed = [root]): StoreOpening => ({
    store: 'folder',
    address: { at },
    secret: null,
    allowed,
  });

  it('opens only what its machine allows, whichever way it is asked for', async () => {
    expect(await problemOf(opening(root))).toBeNull();
    expect(await problemOf(opening(join(root, 'claims')))).toBeNull();
    expect(await problemOf(opening(join(root, '..')))).toBe('not-allowed');
    expect(await problemOf(opening(`${root}/claims/../../..`))).toBe('not-allowed');
    expect(await problemOf(opening(root, []))).toBe('not-allowed');
    execFileSync('ln', ['-s', '/etc', join(root, 'way-out')]);
    expect(await problemOf(opening(join(root, 'way-out')))).toBe('not-allowed');
    expect(await problemOf(opening(join(root, 'claims/a.txt')))).toBe('wrong-address');
    const store = await FolderStore.open(opening(root));
    for (const path of ['../x', '/etc/passwd', 'claims/../../x', '.'])
      expect(() => store.pathOf(path)).toThrow(StoreFault);
    expect((await listed(store)).map(({ path }) => path)).toEqual(TREE);
    expect(await store.content('way-out')).toEqual({ kind: 'unreadable', reason: 'no-file' });
  });

  it('gives a file back only where nothing else stands by now', async () => {
    const [whole, kept] = [join(root, 'leave/b.txt'), join(root, 'kept/1')];
    await quarantine(whole, kept, 'note');
    writeFileSync(whole, 'new');
    expect(await putBack(kept, whole)).toBe('taken');
    rmSync(whole);
    expect(await putBack(kept, whole)).toBe('done');
    expect(await putBack(kept, whole)).toBe('not-here');
  });

  it('has names that are no text, and still lists the rest', async () => {
    execFileSync('sh', ['-c', `printf x > "$(printf '${root}/odd-\\377.txt')"`]);
    const store = await FolderStore.open(opening(root));
    expect((await listed(store)).map(({ path }) => path)).toEqual(TREE);
  });
});
