import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ErrorBody } from '@lantern/contracts';
import type {
  DirectoryChangeView,
  DirectoryComparison,
  DirectoryPage,
  DirectoryPartner,
  DirectoryPerson,
  DirectoryUpload,
  GroupTrial,
  GroupView,
  OrganisationView,
} from '@lantern/contracts/directory';
import { DirectoryServer } from '../src/directory/changes/directory-server.service.js';
import { PeopleService } from '../src/directory/people.service.js';
import { PersonEntity } from '../src/directory/person.entity.js';
import {
  BASE,
  directoryServer,
  READER,
  READER_PASSWORD,
  type TestDirectoryServer,
} from './directory-server.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

const upload = async (text: string | Uint8Array, name = 'people.csv') => {
  const form = new FormData();
  form.append('file', new Blob([typeof text === 'string' ? text : new Uint8Array(text)]), name);
  return client.send<DirectoryUpload & ErrorBody>('POST', '/directory/uploads', form);
};
const lookAt = async (text: string | Uint8Array, over: object = {}) => {
  const { body } = await upload(text);
  return client.send<DirectoryComparison & ErrorBody>('POST', '/directory/comparisons', {
    ...{ upload: body.upload, whole: true },
    ...over,
  });
};
const apply = (id: string, leavingPercent = 10) =>
  client.send<DirectoryChangeView & ErrorBody>('POST', `/directory/comparisons/${id}/apply`, {
    leavingPercent,
  });
const find = async (typed: string) =>
  (await client.get<DirectoryPage>(`/directory/people?typed=${encodeURIComponent(typed)}`)).body;

const rows = (count: number, from = 0) =>
  Array.from(
    { length: count },
    (_unused, at) => `crew${from + at}@merrowstrait.example,Crew ${from + at},Deck`,
  );
const table = (...lines: string[]) => ['Mail,Name,Department', ...lines].join('\n');

describe('a file of people', () => {
  it('is looked at, compared and taken over, and says for whom rules begin to hold', async () => {
    const mate = {
      address: 'mate@merrowstrait.example',
      name: 'Mate',
      department: 'Deck',
      office: '',
      title: '',
    };
    await client.send('POST', '/directory/people', { ...mate, groups: [], manager: null, language: 'en' });
    const deck = { with: [{ kind: 'department', department: 'Deck' }], without: [] };
    await publish(client, 'Deck only', [ruleOf({ people: deck })]);
    // A role that is limited to a department means its people too.
    const limits = { departments: ['Deck'], policies: [], channels: [], severities: [], ownTeam: false };
    const role = { name: 'Deck desk', description: '', permissions: ['incidents.read'], needsFactor: false };
    expect((await client.send('POST', '/roles', { ...role, limits })).status).toBe(201);
    const read = await upload(table(...rows(10)));
    expect(read.body).toMatchObject({
      kind: 'table',
      people: 10,
      columns: [{ meaning: 'address' }, { meaning: 'name' }, { meaning: 'department' }],
    });
    const { body: look } = await lookAt(
      table(...rows(10), 'nonsense,X,Y', 'crew3@merrowstrait.example,Twice,Deck'),
    );
    expect(look.counts).toMatchObject({ added: 10, changed: 0, left: 0, refused: 2 });
    expect(look.refused).toMatchObject([
      { line: 12, code: 'bad-address' },
      { line: 13, code: 'twice', other: 5 },
    ]);
    expect(look.effects.find(({ of }) => of.includes('Deck only'))).toMatchObject({
      joining: 10,
      leaving: 0,
    });
    expect(look.effects.find(({ of }) => of === 'role "Deck desk"')).toMatchObject({ joining: 10 });
    const uses = await client.get<{ of: string }[]>('/directory/uses?kind=department&name=deck');
    expect(uses.body.map(({ of }) => of)).toContain('role "Deck desk"');
    expect((await find('crew1@')).total).toBe(0);
    expect((await apply(look.id)).body).toMatchObject({
      added: 10,
      source: 'file',
      actor: client.session.account.email,
    });
    expect((await find('Crew 3')).people).toMatchObject([
      { address: 'crew3@merrowstrait.example', department: 'Deck', source: 'file' },
    ]);
    // What was taken over once is not there to be taken over again.
    expect((await apply(look.id)).status).toBe(404);
  });

  it('lets nobody of another source leave, and asks before many do', async () => {
    const before = (await find('')).total;
    const { body: look } = await lookAt(table(...rows(4)));
    expect(look.counts).toMatchObject({ left: 6, unchanged: 4 });
    expect(look.leavingPercent).toBe(60);
    const stopped = await apply(look.id);
    expect([stopped.status, stopped.body.code]).toEqual([409, 'too-many-leave']);
    expect((await find('')).total).toBe(before);
    expect((await apply(look.id, 60)).body.left).toBe(6);
    expect((await find('')).total).toBe(before - 6);
    const names = await running.application.get(PeopleService).namesOf(['crew9@merrowstrait.example']);
    expect(names.get('crew9@merrowstrait.example')?.name).toBe('Crew 9');
  });

  it('is not taken over when the directory changed meanwhile', async () => {
    const first = (await lookAt(table(...rows(4), ...rows(1, 50)))).body;
    const second = (await lookAt(table(...rows(4), ...rows(1, 60)))).body;
    expect((await apply(first.id)).status).toBe(200);
    const late = await apply(second.id, 100);
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile']);
    expect((await find('crew60')).total).toBe(0);
  });

  it('exchanges the addresses of two people who have a permanent id', async () => {
    const head = 'Mail;Name;ID;Manager';
    const one = `${head}\nnils@merrowstrait.example;Nils;7;\nruth@merrowstrait.example;Ruth;8;\nsven@merrowstrait.example;Sven;9;nils@merrowstrait.example`;
    await apply((await lookAt(one, { whole: false })).body.id);
    const other = `${head}\nruth@merrowstrait.example;Nils;7;\nnils@merrowstrait.example;Ruth;8;`;
    const { body: look } = await lookAt(other, { whole: false });
    expect(look.changed.map(({ fields }) => fields)).toEqual([['address'], ['address']]);
    expect((await apply(look.id)).status).toBe(200);
    const nils = (await find('Nils')).people.find(({ key }) => key === '7');
    expect(nils?.address).toBe('ruth@merrowstrait.example');
    // Who is managed by somebody stays managed by the same person.
    expect((await find('sven@')).people[0]?.manager).toBe('ruth@merrowstrait.example');
  });

  it('is read in other encodings and with dividers of other countries', async () => {
    const text = 'E-Mail;Vorname;Nachname;Firstname;Surname\nö@merrowstrait.example;;;Jörg;Müller';
    const { body } = await upload(Buffer.from(text, 'latin1'));
    expect(body.columns.map(({ meaning }) => meaning)).toEqual([
      'address',
      null,
      null,
      'given-name',
      'family-name',
    ]);
    const meanings = ['address', null, null, 'given-name', 'family-name'];
    const { body: look } = await lookAt(Buffer.from(text, 'latin1'), { whole: false, meanings });
    expect(look.added).toMatchObject([{ name: 'Jörg Müller' }]);
  });

  it.each([
    ['nothing', '', 'rows below the headings'],
    ['a quotation mark without end', `Mail,Name\n"${'x'.repeat(120_000)}`, 'quotation mark'],
    ['bytes', new Uint8Array(5_000).map((_byte, at) => (at * 7_919) % 256), ''],
  ])('of %s is refused in words, and nothing is changed', async (_what, content, words) => {
    const answer = await upload(content);
    expect(answer.status).toBe(422);
    expect(answer.body.message).toContain(words);
  });

  it('without a column of addresses is not compared', async () => {
    const answer = await lookAt('Shoe,Hat\n42,56');
    expect(answer.status).toBe(422);
    expect(answer.body.message).toContain('mail address');
  });

  it('in LDIF brings groups and managers, and names the entries that it cannot read', async () => {
    const text = [
      ...['version: 1', '', 'dn: uid=kaia,o=a', 'objectClass: inetOrgPerson', 'cn: Kaia', 'uid: kaia'],
      ...['mail: kaia@merrowstrait.example', 'manager: uid=olaf,o=a', ''],
      ...[
        'dn: uid=olaf,o=a',
        'objectClass: inetOrgPerson',
        'cn:: T2xhZg==',
        'mail: olaf@merrowstrait.example',
        '',
      ],
      ...['dn: cn=Pilots,o=a', 'objectClass: groupOfNames', 'cn: Pilots', 'member: uid=kaia,o=a', ''],
      ...['dn: cn=broken,o=a', 'photo:< file:///etc/passwd'],
    ].join('\n');
    const { body: look } = await lookAt(text, { whole: false });
    expect(look.faults).toEqual([{ code: 'address-value', line: 21, losesEntry: false }]);
    expect(look.isIncomplete).toBe(false);
    await apply(look.id);
    expect((await find('kaia@')).people).toMatchObject([
      { groups: ['Pilots'], manager: 'olaf@merrowstrait.example' },
    ]);
    expect((await find('olaf@')).people[0]?.name).toBe('Olaf');
  });
});

it('lets nobody leave while entries of a list cannot be read', async () => {
  const before = (await find('')).total;
  const text = [
    'dn: uid=kaia,o=a',
    'mail: kaia@merrowstrait.example',
    '',
    'dn: uid=lost,o=a',
    'nonsense',
  ].join('\n');
  const { body: look } = await lookAt(text, { whole: true });
  expect(look).toMatchObject({ isIncomplete: true, counts: { left: 0 } });
  expect((await find('')).total).toBe(before);
});

it('gives who comes back the same id, and another holder of the address a new one', async () => {
  const head = 'Mail,Name,ID';
  const here = `${head}\nulf@merrowstrait.example,Ulf,71`;
  const take = async (text: string, over: object) => {
    const { body } = await lookAt(text, over);
    expect((await apply(body.id, 100)).status).toBe(200);
  };
  const idOf = async () => (await find('ulf@')).people[0]?.id;
  await take(here, { whole: false });
  const first = await idOf();
  await take(`${head}\nother.one@merrowstrait.example,Other,72`, { whole: true });
  expect(await idOf()).toBeUndefined();
  await take(here, { whole: false });
  expect(await idOf()).toBe(first);
  await take(`${head}\nulf@merrowstrait.example,Ulf the younger,73`, { whole: false });
  expect(await idOf()).not.toBe(first);
  await take(table(...rows(4)), { whole: true });
});

describe('a person', () => {
  const request = {
    ...{ address: 'Tove@merrowstrait.example', name: 'Tove', department: 'Deck', office: 'North' },
    ...{ title: 'Mate', groups: ['Watch', 'watch '], manager: null, language: 'en' },
  };

  it('is entered, changed and taken out by hand', async () => {
    const { body: added } = await client.send<DirectoryPerson>('POST', '/directory/people', request);
    expect(added).toMatchObject({ address: 'tove@merrowstrait.example', groups: ['Watch'], source: 'hand' });
    const again = await client.send<ErrorBody>('POST', '/directory/people', request);
    expect(again.body.code).toBe('name-taken');
    const changed = { ...request, address: 'tove.ny@merrowstrait.example', title: 'Master' };
    await client.send('PUT', `/directory/people/${added.id}`, changed);
    expect((await find('tove.ny')).people).toMatchObject([{ id: added.id, title: 'Master' }]);
    expect((await client.send('DELETE', `/directory/people/${added.id}`)).status).toBe(204);
    expect((await find('tove')).total).toBe(0);
  });

  it('of a file is changed in the file', async () => {
    const [crew] = (await find('crew1@')).people;
    const answer = await client.send<ErrorBody>('PUT', `/directory/people/${crew?.id ?? ''}`, request);
    expect(answer.body.code).toBe('act-refused');
  });
});

describe('a group by condition', () => {
  const group = (value: string) => ({
    ...{ name: 'Bridge', about: '' },
    rows: [{ clauses: [{ field: 'department', test: 'is', value }] }],
  });

  it('is tried first, holds who meets it at once, and stays current', async () => {
    const { body: tried } = await client.send<GroupTrial>('POST', '/directory/groups/trials', group('Deck'));
    expect(tried.people).toBeGreaterThan(3);
    expect((await client.get<GroupView[]>('/directory/groups')).body).toEqual([]);
    const { body: saved } = await client.send<GroupView>('POST', '/directory/groups', group('Deck'));
    expect(saved.people).toBe(tried.people);
    expect((await find('crew1@')).people[0]?.byCondition).toEqual(['Bridge']);
    const people = running.application.get(PeopleService);
    expect((await people.known()).groups).toContain('Bridge');
    await apply((await lookAt(table('crew1@merrowstrait.example,Crew 1,Desk'), { whole: false })).body.id);
    expect((await find('crew1@')).people[0]?.byCondition).toEqual([]);
    await client.send('PUT', `/directory/groups/${saved.id}`, group('Desk'));
    expect((await find('crew1@')).people[0]?.byCondition).toEqual(['Bridge']);
  });

  it('is not removed while a rule names it', async () => {
    const [bridge] = (await client.get<GroupView[]>('/directory/groups')).body;
    const people = { with: [{ kind: 'group', group: 'Bridge' }], without: [] };
    await publish(client, 'For the bridge', [ruleOf({ people })]);
    const refused = await client.send<ErrorBody>('DELETE', `/directory/groups/${bridge?.id ?? ''}`);
    expect(refused.body.code).toBe('in-use');
    expect(refused.body.message).toContain('For the bridge');
    const uses = await client.get<{ of: string }[]>('/directory/uses?kind=group&name=bridge');
    expect(uses.body.map(({ of }) => of)).toContain('policy "For the bridge", rule 1');
  });

  it('refuses a second one of its name', async () => {
    const answer = await client.send<ErrorBody>('POST', '/directory/groups', group('Deck'));
    expect(answer.body.code).toBe('name-taken');
  });
});

describe('domains and partners', () => {
  it('decide at once what is outside', async () => {
    const people = running.application.get(PeopleService);
    const before = (await client.get<OrganisationView>('/directory/organisation')).body;
    const domains = [...before.domains, 'Fjord.example.'];
    await client.send('PUT', '/directory/organisation', { name: before.name, domains });
    expect((await people.outsideTest())('a@north.fjord.example')).toBe(false);
    const wrong = await client.send<ErrorBody>('PUT', '/directory/organisation', {
      ...{ name: before.name, domains: ['not a domain'] },
    });
    expect(wrong.status).toBe(400);
    await client.send('PUT', '/directory/organisation', { name: before.name, domains: before.domains });
    expect((await people.outsideTest())('a@north.fjord.example')).toBe(true);
  });

  it('takes the certificate of a partner, as openssl makes it, and no other text', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'lantern-certificate-'));
    const made = join(folder, 'own.pem');
    const request = ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-keyout', join(folder, 'key.pem')];
    execFileSync('openssl', [...request, '-out', made, '-days', '30', '-subj', '/CN=Ida'], {
      stdio: 'ignore',
    });
    const partner = { address: 'ida@broker.example', name: 'Ida', organisation: 'Broker', country: 'NO' };
    const { body } = await client.send<DirectoryPartner>('PUT', '/directory/partners', {
      ...partner,
      certificate: readFileSync(made, 'utf8'),
    });
    rmSync(folder, { recursive: true });
    expect(body.certificate).toMatchObject({ subject: 'CN=Ida' });
    expect(await running.application.get(PeopleService).certificateOf('ida@broker.example')).toContain(
      'BEGIN',
    );
    // Without a word about it, the certificate stays.
    const renamed = await client.send<DirectoryPartner>('PUT', '/directory/partners', {
      ...partner,
      name: 'Ida B',
    });
    expect(renamed.body.certificate).not.toBeNull();
    const wrong = await client.send<ErrorBody>('PUT', '/directory/partners', {
      ...partner,
      certificate: 'hello',
    });
    expect(wrong.status).toBe(400);
    const inside = await client.send<ErrorBody>('PUT', '/directory/partners', {
      ...{ ...partner, address: 'x@merrowstrait.example' },
    });
    expect(inside.body.code).toBe('bad-address');
  });
});

describe('a directory server (Debian’s slapd)', () => {
  const CREW = 1_150;
  let server: TestDirectoryServer;
  beforeAll(async () => {
    const unit = (name: string) => [
      `dn: ou=${name},${BASE}`,
      'objectClass: organizationalUnit',
      `ou: ${name}`,
      '',
    ];
    const person = (at: number) => [
      `dn: uid=hand${at},ou=People,${BASE}`,
      ...[
        'objectClass: inetOrgPerson',
        `uid: hand${at}`,
        `cn: Hand ${at}`,
        'sn: Hand',
        'departmentNumber: Hands',
      ],
      ...[
        `mail: hand${at}@merrowstrait.example`,
        `manager: uid=hand0,ou=People,${BASE}`,
        'l: Port Ellery',
        '',
      ],
    ];
    const watch = [`dn: cn=Night watch,${BASE}`, 'objectClass: groupOfNames', 'cn: Night watch'];
    server = await directoryServer(
      [
        ...unit('People'),
        ...Array.from({ length: CREW }, (_unused, at) => person(at)).flat(),
        ...[...watch, `member: uid=hand7,ou=People,${BASE}`, ''],
      ].join('\n'),
    );
  });
  afterAll(() => server.stop());

  const settings = (over: object = {}) => ({
    ...{ address: `ldap://127.0.0.1:${server.port}`, startTls: false, authority: '', user: READER },
    ...{ password: READER_PASSWORD, base: BASE, filter: '(objectClass=*)', whole: true, nightly: false },
    ...over,
  });
  const look = async (over: object = {}) => {
    await client.send('PUT', '/directory/server', settings(over));
    return client.send<DirectoryComparison & ErrorBody>('POST', '/directory/comparisons', { whole: true });
  };

  it('is read page by page, with groups, managers and offices', async () => {
    const { body } = await look();
    expect(body.counts).toMatchObject({ added: CREW, refused: 0, remarks: 1 });
    expect((await apply(body.id)).body.added).toBe(CREW);
    expect((await find('hand7@')).people).toMatchObject([
      {
        ...{ groups: ['Night watch'], office: 'Port Ellery', source: 'server' },
        manager: 'hand0@merrowstrait.example',
      },
    ]);
    expect((await look()).body.counts).toMatchObject({ added: 0, changed: 0, left: 0, unchanged: CREW });
  });

  it('is read over TLS by a certificate that is known, and by no other', async () => {
    const strange = await look({ startTls: true });
    expect([strange.status, strange.body.message]).toEqual([502, expect.stringContaining('certificate')]);
    const known = await look({ startTls: true, authority: server.authority });
    expect(known.body).toMatchObject({ counts: { unchanged: CREW } });
  });

  it.each([
    ['a wrong password', { password: 'wrong' }, 'password'],
    ['a base that is not there', { base: 'dc=nowhere,dc=example' }, 'Search from'],
    ['a port where nothing answers', { address: 'ldap://127.0.0.1:9' }, 'No server answers'],
  ])('says what is wrong with %s', async (_what, over, words) => {
    const answer = await look(over);
    expect(answer).toMatchObject({ status: 502 });
    expect(answer.body.message).toContain(words);
  });

  it('is not entered with a filter that is none', async () => {
    const answer = await client.send<ErrorBody>('PUT', '/directory/server', settings({ filter: '((cn=' }));
    expect([answer.status, answer.body.message]).toEqual([400, expect.stringContaining('filter')]);
  });

  it('keeps its password for its own address alone, and never shows it', async () => {
    await client.send('PUT', '/directory/server', settings());
    const { password: _left, ...rest } = settings();
    const kept = await client.send<{ hasPassword: boolean }>('PUT', '/directory/server', rest);
    expect(kept.body.hasPassword).toBe(true);
    expect(JSON.stringify(kept.body)).not.toContain(READER_PASSWORD);
    const moved = { ...rest, address: 'ldap://127.0.0.1:9' };
    expect(
      (await client.send<{ hasPassword: boolean }>('PUT', '/directory/server', moved)).body.hasPassword,
    ).toBe(false);
  });

  it('is read by itself at night, and waits for somebody where many would leave', async () => {
    await client.send('PUT', '/directory/server', settings({ nightly: true, filter: '(uid=hand1*)' }));
    const sweep = (at: string) => running.application.get(DirectoryServer).sweep(new Date(at));
    const last = async () =>
      (await client.get<{ lastOutcome: string }[]>('/directory/server')).body[0]?.lastOutcome ?? '';
    await sweep('2026-11-30T03:00:00Z');
    expect(await last()).toContain('would be removed');
    expect(await running.database.getRepository(PersonEntity).countBy({ source: 'server' })).toBe(CREW);
    await client.send('PUT', '/directory/server', settings({ nightly: true }));
    // Once a night is enough.
    await sweep('2026-11-30T04:00:00Z');
    expect(await last()).toContain('would be removed');
    await sweep('2026-12-01T03:00:00Z');
    expect(await last()).toBe('No changes.');
  });
});
