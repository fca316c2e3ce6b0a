/** Places read by the real program, enrolled by its code, as somebody at a terminal would run it. */
import type { PersonData } from '@lantern/contracts/retention';
import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { generateKeyPairSync, randomUUID } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { ImportLabelsResult, ReaderCode, ReaderView } from '@lantern/contracts';
import type {
  DiscoveryPlaceView,
  ItemActView,
  ItemDetail,
  ItemPage,
  JobView,
  RunsCompared,
  RunView,
  WorkAnswer,
} from '@lantern/contracts/discovery';
import { behindPart, exposureOf, type ExposedItem } from '@lantern/core/discovery';
import { STARTER_LABELS } from '@lantern/demo';
import { COMPANION_ENDING } from '@lantern/files';
import { docxFile } from '@lantern/testkit';
import { SignJWT, importJWK } from 'jose';
import { ItemEntity, ItemEvidenceEntity } from '../src/discovery/results/item.entity.js';
import { PartEntity } from '../src/discovery/parts/part.entity.js';
import { ReaderEntity } from '../src/discovery/readers/reader.entity.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';
import { ALL, READER, until } from './reader-program.js';

const run = promisify(execFile);
/** Card numbers of test ranges that payment networks publish; from memory. */
const CARDS = ['4111 1111 1111 1111', '5555 5555 5555 4444', '3782 822463 10005'];

let running: Running;
let client: Client;
let folder: string;
let data: string;
let reader: ChildProcess | undefined;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  folder = mkdtempSync(join(tmpdir(), 'lantern-places-'));
  data = mkdtempSync(join(tmpdir(), 'lantern-reader-'));
  const text = JSON.stringify({
    format: 'uncut-lantern labels 1',
    ...STARTER_LABELS,
    automatic: STARTER_LABELS.automatic.filter(
      ({ places, name }) => places.length === 0 && !name.startsWith('Words'),
    ),
  });
  const taken = await client.send<ImportLabelsResult>('POST', '/labels/text', { text, onlyLook: false });
  expect(taken.body.faults).toEqual([]);
  await publish(client, 'Cards', [ruleOf()]);
});

afterAll(async () => {
  await stopReader();
  await running.stop();
  for (const each of [folder, data]) rmSync(each, { recursive: true, force: true });
});

const put = (path: string, content: string | Uint8Array): void => {
  mkdirSync(join(folder, path, '..'), { recursive: true });
  writeFileSync(join(folder, path), content);
};

async function code(group = 'head office'): Promise<string> {
  return (await client.send<ReaderCode>('POST', '/discovery/readers/codes', { group })).body.code;
}

const enrol = (given: string, name = 'files-01', into = data, allowed = folder) =>
  run(process.execPath, [
    READER,
    'enrol',
    '--address',
    running.address,
    '--code',
    given,
    '--name',
    name,
    '--data',
    into,
    '--may-read',
    allowed,
  ]);

function startReader(from = data): ChildProcess {
  return spawn(process.execPath, [READER, 'run', '--data', from, '--processes', '2'], { stdio: 'ignore' });
}

async function stopReader(): Promise<void> {
  const child = reader;
  reader = undefined;
  if (!child || child.exitCode !== null) return;
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await ended;
}

const places = async () => (await client.get<DiscoveryPlaceView[]>('/discovery/places')).body;
const items = async (filter = '') =>
  (await client.get<ItemPage>(`/discovery/items?order=path&filter=${encodeURIComponent(filter)}`)).body;
const pathsOf = async (filter: string) => (await items(filter)).items.map(({ path }) => path);

async function addPlace(over: object = {}): Promise<string> {
  const answer = await client.send<{ id: string }>('POST', '/discovery/places', {
    ...{ name: 'Harbour share', store: 'folder', address: { at: folder }, group: 'head office' },
    ...{
      owner: 'orla.fenwick@merrowstrait.example',
      reach: 'organisation',
      unmanaged: false,
      unwanted: ['exe'],
    },
    ...over,
  });
  expect(answer.status).toBe(201);
  return answer.body.id;
}

async function addJob(places: string[], over: object = {}): Promise<string> {
  const answer = await client.send<{ id: string }>('POST', '/discovery/jobs', {
    ...{ name: 'Everything', places, scope: ALL, step: 'find', everything: false, active: false },
    ...over,
  });
  expect(answer.status).toBe(201);
  return answer.body.id;
}

async function runJob(job: string): Promise<RunView> {
  const { body } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
  return until(
    async () => (await client.get<RunView>(`/discovery/runs/${body.id}`)).body,
    ({ state }) => state === 'done',
  );
}

describe('a reader', () => {
  it('enrols once with a code, lists what it may do, and cannot with the same code again', async () => {
    const given = await code();
    const { stdout } = await enrol(given.toLowerCase().replaceAll('-', ' '));
    expect(stdout).toContain('Enrolled as "files-01" in the group "head office".');
    expect(stdout).toContain(`${folder} may be read`);
    const other = mkdtempSync(join(tmpdir(), 'lantern-reader-'));
    await expect(enrol(given, 'twice', other)).rejects.toMatchObject({
      stderr: expect.stringContaining('This code was used'),
    });
    rmSync(other, { recursive: true });
    const { body } = await client.get<ReaderView[]>('/discovery/readers');
    expect(body).toMatchObject([{ name: 'files-01', group: 'head office', state: 'waiting' }]);
    // The keys are for the account alone, and the private ones never left.
    expect(readFileSync(join(data, 'reader.json'), 'utf8')).toContain('"d"');
    expect(JSON.stringify(await running.database.query('SELECT * FROM reader'))).not.toContain('"d"');
  });

  it('is refused with a wrong key, for another path, with an old token and without one', async () => {
    const identity = JSON.parse(readFileSync(join(data, 'reader.json'), 'utf8')) as {
      id: string;
      keys: { signing: Record<string, string> };
    };
    const ask = async (over: { key?: unknown; path?: string; at?: number; alg?: string } = {}) => {
      const key = await importJWK((over.key ?? identity.keys.signing) as never, 'EdDSA');
      const at = over.at ?? Math.floor(Date.now() / 1_000);
      const token = await new SignJWT({ htm: 'GET', htu: over.path ?? '/api/reader/patterns' })
        .setProtectedHeader({ alg: 'EdDSA' })
        .setIssuer(identity.id)
        .setAudience('uncut-lantern')
        .setIssuedAt(at)
        .setExpirationTime(at + 60)
        .sign(key);
      return (
        await fetch(`${running.address}/api/reader/patterns`, {
          headers: { authorization: `Bearer ${token}` },
        })
      ).status;
    };
    expect(await ask()).toBe(200);
    expect(await ask({ key: generateKeyPairSync('ed25519').privateKey.export({ format: 'jwk' }) })).toBe(401);
    expect(await ask({ path: '/api/reader/work' })).toBe(401);
    expect(await ask({ at: Math.floor(Date.now() / 1_000) - 600 })).toBe(401);
    expect(await ask({ at: Math.floor(Date.now() / 1_000) + 600 })).toBe(401);
    expect((await fetch(`${running.address}/api/reader/patterns`)).status).toBe(401);
    // A person's session opens nothing of the readers, nor the other way round.
    expect((await client.get('/reader/patterns')).status).toBe(401);
  });
});

describe('a place', () => {
  it('is checked as it is entered, and says what is wrong', async () => {
    reader = startReader();
    put('cards.txt', `Cards of the crew: ${CARDS.join(', ')}`);
    const place = await addPlace();
    const wrong = await addPlace({ name: 'Nowhere', address: { at: join(folder, 'nowhere') } });
    const forbidden = await addPlace({ name: 'Somebody else', address: { at: '/etc' } });
    const checked = await until(places, (all) => all.every(({ check }) => check.state !== 'checking'));
    const of = (id: string) => checked.find((each) => each.id === id)?.check;
    expect(of(place)).toMatchObject({ state: 'well', items: 1, problem: null });
    expect(of(wrong)).toMatchObject({ state: 'failed', problem: 'no-such-place' });
    // Nobody at the workbench can have a folder read that the reader's own machine did not allow.
    expect(of(forbidden)).toMatchObject({ state: 'failed', problem: 'not-allowed' });
    for (const id of [wrong, forbidden]) await client.send('DELETE', `/discovery/places/${id}`);
  });
});

describe('a run', () => {
  let job: string;
  let first: RunView;

  it('reads what lies there, whatever lies there', async () => {
    put(
      'deep/er/letter.docx',
      await docxFile({ paragraphs: ['Dear crew,', `our cards are ${CARDS.join(' and ')}`] }),
    );
    put('deep/copy.docx', readFileSync(join(folder, 'deep/er/letter.docx')));
    put('notes.txt', 'The gate opens at five.');
    put('setup.exe', 'MZ');
    put(
      'old/tariff.csv',
      `name,card number\n${CARDS.map((card, at) => `Person ${at},${card}`).join('\n')}\n`,
    );
    utimesSync(join(folder, 'old/tariff.csv'), new Date('2020-01-01'), new Date('2020-01-01'));
    put('broken.docx', 'PK\u0003\u0004 no archive');
    put('huge.bin', '');
    truncateSync(join(folder, 'huge.bin'), 1024 ** 4);
    symlinkSync(folder, join(folder, 'deep/circle'));
    await run('mkfifo', [join(folder, 'pipe')]);
    const [place] = await places();
    job = await addJob([place?.id ?? '']);
    first = await runJob(job);
    expect(first).toMatchObject({
      items: 8,
      readItems: 6,
      unreadable: 2,
      unchanged: 0,
      sensitive: 4,
      labelled: 0,
    });
    expect(first.places).toMatchObject([{ state: 'done', problem: null }]);
    expect(await pathsOf('sensitive eq true')).toEqual([
      'cards.txt',
      'deep/copy.docx',
      'deep/er/letter.docx',
      'old/tariff.csv',
    ]);
    expect((await items('state eq "unreadable"')).items.map(({ path, reason }) => [path, reason])).toEqual([
      ['broken.docx', 'corrupt'],
      ['huge.bin', 'too-large'],
    ]);
  });

  it('shows excerpts that were masked where they lay, and where the same bytes lie', async () => {
    const [found] = (await items('path eq "cards.txt"')).items;
    const detail = (await client.get<ItemDetail>(`/discovery/items/${found?.id}`)).body;
    const [excerpt] = detail.excerpts;
    expect(excerpt?.text).toContain('Cards of the crew');
    const shown = excerpt?.marks.map(({ start, end }) => excerpt.text.slice(start, end));
    expect(shown?.[0]).toMatch(/1111$/u);
    for (const card of CARDS) expect(JSON.stringify(detail)).not.toContain(card);
    const tables = await running.database.query('SELECT * FROM discovery_item');
    expect(JSON.stringify(tables)).not.toMatch(/4111|5555 5555/u);
    const [copy] = (await items('path eq "deep/copy.docx"')).items;
    expect(copy?.copies).toBe(2);
    const copies = (await client.get<ItemDetail>(`/discovery/items/${copy?.id}`)).body.copiesAt;
    expect(copies.map(({ path }) => path)).toEqual(['deep/er/letter.docx']);
  });

  it.each([
    ['pattern eq "Payment card number" and ending eq "docx"', 2],
    ['not (pattern pr)', 4],
    ['path sw "deep/" and reach ge "organisation"', 2],
    ['changed lt "2021-01-01T00:00:00Z"', 1],
    ['misplaced eq true', 1],
    ['copies gt 1', 2],
    ['any co "TARIFF"', 1],
    ['bytes gt 1000000', 1],
    ['suggested pr', 4],
    ['label pr', 0],
    ['certainty ge 80 or reason eq "corrupt"', 5],
  ])('lists what %s holds for', async (filter, count) => {
    const page = await items(filter);
    expect([page.total, page.items.length]).toEqual([count, count]);
  });

  it('says where a filter is wrong', async () => {
    const answer = await client.get<{ code: string; details: object }>(
      `/discovery/items?filter=${encodeURIComponent('colour eq "red"')}`,
    );
    expect(answer).toMatchObject({
      status: 400,
      body: { code: 'bad-filter', details: { at: 0, code: 'unknown-field' } },
    });
  });

  it('goes through any number of items in pages, in every order, each once', async () => {
    for (const order of ['holding', 'path', 'bytes', 'changed', 'count']) {
      const seen: string[] = [];
      const { Items } = await import('../src/discovery/results/items.service.js');
      const service = running.application.get(Items);
      let after: string | undefined;
      do {
        const page = await service.page({ order: order as 'path', ...(after ? { after } : {}) }, 3);
        seen.push(...page.items.map(({ id }) => id));
        after = page.next ?? undefined;
      } while (after);
      expect([seen.length, new Set(seen).size]).toEqual([8, 8]);
    }
  });

  it('is written into a file that a spreadsheet opens safely, and the trail says so', async () => {
    const read = async (query: string) => {
      const answer = await fetch(`${running.address}/api/discovery/items/export?${query}`, {
        headers: { cookie: client.cookie },
      });
      return { status: answer.status, text: await answer.text() };
    };
    await running.database.getRepository(ItemEntity).update({ path: 'notes.txt' }, { owner: '=cmd()' });
    const { text } = await read('format=csv&order=path');
    const lines = text.trim().split('\r\n');
    expect(lines).toHaveLength(9);
    expect(lines[0]).toMatch(/^place,path,bytes/u);
    expect(lines.find((line) => line.includes('notes.txt'))).toContain(`,"'=cmd()",`);
    const json = (await read(`format=jsonl&filter=${encodeURIComponent('misplaced eq true')}`)).text;
    expect(JSON.parse(json)).toMatchObject({ path: 'setup.exe', misplaced: true });
    expect((await read('format=csv&filter=nonsense')).status).toBe(400);
    expect((await read('format=doc')).status).toBe(400);
    const kept = await running.database.query(
      "SELECT facts FROM trail_entry WHERE action LIKE '%items/export'",
    );
    expect(kept).toHaveLength(2);
  });

  it('sums up how far the place outruns its guard as the core does', async () => {
    const rows = await running.database.getRepository(ItemEntity).find();
    const exposed = rows.map((row): ExposedItem => ({ ...row, changedAt: row.changedAt?.getTime() ?? null }));
    const [place] = await places();
    const expected = exposureOf(
      { reach: 'organisation', labelRank: null, unmanaged: false },
      exposed,
      Date.now(),
    );
    expect(place?.exposure.parts.map(({ code, items }) => [code, items])).toEqual(
      expected.parts.map(({ code, items }) => [code, items]),
    );
    expect(place?.exposure.total).toBeCloseTo(expected.total, 9);
    // Every part opens what it counts.
    for (const { code, items: counted } of expected.parts) {
      const line = behindPart(code, { name: 'Harbour share', above: [] }, Date.now());
      expect([code, (await items(line)).total]).toEqual([code, counted]);
    }
    expect(expected.parts.map(({ code }) => code)).toEqual([
      'open-inside',
      'without-label',
      'old',
      'misplaced',
    ]);
  });

  it('reads again only what changed, and says what differs', async () => {
    put('cards.txt', `Cards of the crew: ${CARDS[0]}`);
    put('moved/letter.docx', readFileSync(join(folder, 'deep/er/letter.docx')));
    rmSync(join(folder, 'deep/er/letter.docx'));
    put('new.txt', `card number ${CARDS[1]}`);
    const second = await runJob(job);
    expect(second).toMatchObject({ items: 9, readItems: 3, unchanged: 6 });
    const compared = (
      await client.get<RunsCompared>(`/discovery/compared-runs?from=${first.id}&to=${second.id}`)
    ).body;
    expect(compared.lines.map(({ path, changes, from }) => [path, changes, from]).sort()).toEqual([
      ['cards.txt', ['holds-less'], null],
      ['moved/letter.docx', ['moved'], 'deep/er/letter.docx'],
      ['new.txt', ['new'], null],
    ]);
    expect(compared.counts).toEqual({ 'holds-less': 1, moved: 1, new: 1 });
  });

  it('labels what the published rules call for, when it is told to', async () => {
    const [place] = await places();
    const labelling = await addJob([place?.id ?? ''], { name: 'Label', step: 'label' });
    const done = await runJob(labelling);
    expect(done.labelled).toBe(3);
    const labelled = await items('label pr');
    expect(new Set(labelled.items.map(({ label }) => label))).toEqual(new Set(['Passenger care']));
    expect(labelled.total).toBe(3);
    // A second one has nothing left to do.
    expect(await runJob(labelling)).toMatchObject({ labelled: 0 });
    expect((await items('suggested pr')).total).toBe(0);
  });

  it('leaves alone what its scope leaves out, and takes nothing of it for gone', async () => {
    const [place] = await places();
    const narrow = await addJob([place?.id ?? ''], {
      name: 'Narrow',
      scope: { ...ALL, leaveOut: ['deep', '*.exe'], endings: ['txt'] },
      everything: true,
    });
    const { leftOut, readItems, items: listed } = await runJob(narrow);
    expect(readItems).toBe(3);
    expect(leftOut).toEqual({ 'left-out': 1, 'other-kind': 4 });
    expect(listed).toBe(8);
    expect((await items('state eq "gone"')).items.map(({ path }) => path)).toEqual(['deep/er/letter.docx']);
    expect((await items('path eq "deep/copy.docx" and sensitive eq true')).total).toBe(1);
  });

  it('is paused, goes on and is stopped', async () => {
    await stopReader();
    const { body } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
    const state = async () => (await client.get<RunView>(`/discovery/runs/${body.id}`)).body;
    expect(await client.send('POST', `/discovery/jobs/${job}/runs`)).toMatchObject({ status: 409 });
    await client.send('POST', `/discovery/runs/${body.id}/pause`);
    reader = startReader();
    await wait(1_500);
    expect(await state()).toMatchObject({ state: 'paused', items: 0 });
    await client.send('POST', `/discovery/runs/${body.id}/resume`);
    expect(await until(state, (run) => run.state === 'done')).toMatchObject({
      items: 9,
      unchanged: 9,
      readItems: 0,
    });
    expect((await client.send('POST', `/discovery/runs/${body.id}/stop`)).status).toBe(409);
  });
});

describe('a job that protects', () => {
  it('puts what outruns the guard of its place into quarantine, and nothing where it is more than it may', async () => {
    put('open/guests.txt', CARDS.join('\n'));
    put('open/rota.txt', 'Nothing of anybody');
    const place = await addPlace({
      ...{ name: 'Open quay', address: { at: join(folder, 'open') }, reach: 'outside' },
    });
    const protect = { parts: ['open-outside'], most: 10 };
    const over = { name: 'Guard', step: 'protect', protect };
    const without = await client.send('POST', '/discovery/jobs', {
      ...{ name: 'No', places: [place], scope: ALL, step: 'protect', everything: false, active: false },
    });
    expect(without.status).toBe(400);
    put('open/more.txt', CARDS.join('\n'));
    const few = await runJob(
      await addJob([place], { ...over, name: 'Few', protect: { ...protect, most: 1 } }),
    );
    expect([few.toProtect, few.tooMany, existsSync(join(folder, 'open/guests.txt'))]).toEqual([
      2,
      true,
      true,
    ]);
    const run = await runJob(await addJob([place], over));
    expect([run.toProtect, run.tooMany]).toEqual([2, false]);
    await until(
      async () => (await items('place eq "Open quay" and quarantined eq true')).total,
      (total) => total === 2,
    );
    expect([existsSync(join(folder, 'open/guests.txt')), existsSync(join(folder, 'open/rota.txt'))]).toEqual([
      false,
      true,
    ]);
    const acts = (await client.get<ItemActView[]>('/discovery/acts')).body;
    expect(acts[0]).toMatchObject({ act: 'quarantine', done: 2, reason: 'Job "Guard" protects' });
    await client.send('DELETE', `/discovery/places/${place}`);
    rmSync(join(folder, 'open'), { recursive: true });
  });
});

describe('what was found', () => {
  it('goes into quarantine with a note in its place, and comes back', async () => {
    const [found] = (await items('path eq "new.txt"')).items;
    const act = async (kind: string) => {
      const { body } = await client.send<ItemActView>('POST', '/discovery/acts', {
        ...{ act: kind, items: [found?.id], reason: 'Cards of strangers' },
      });
      return until(
        async () =>
          (await client.get<ItemActView[]>('/discovery/acts')).body.find(({ id }) => id === body.id),
        (view) => view?.waiting === 0,
      );
    };
    expect(await act('quarantine')).toMatchObject({ done: 1, refused: [] });
    expect(existsSync(join(folder, 'new.txt'))).toBe(false);
    expect(readFileSync(join(folder, 'new.txt.in-quarantine.txt'), 'utf8')).toContain('It can be put back');
    expect(await pathsOf('quarantined eq true')).toEqual(['new.txt']);
    // The note is no item, and what lies in quarantine is not gone.
    const [job] = (await client.get<JobView[]>('/discovery/jobs')).body.filter(
      ({ name }) => name === 'Everything',
    );
    await runJob(job?.id ?? '');
    expect(await pathsOf('path co "new.txt" and state ne "gone"')).toEqual(['new.txt']);
    expect(await act('put-back')).toMatchObject({ done: 1 });
    expect(existsSync(join(folder, 'new.txt'))).toBe(true);
    expect(existsSync(join(folder, 'new.txt.in-quarantine.txt'))).toBe(false);
    const again = await client.send('POST', '/discovery/acts', {
      ...{ act: 'put-back', items: [found?.id], reason: 'Twice' },
    });
    expect(again).toMatchObject({ status: 409 });
    const { history } = (await client.get<ItemDetail>(`/discovery/items/${found?.id}`)).body;
    expect(history.map(({ what }) => what)).toEqual(
      expect.arrayContaining(['put-back', 'quarantined', 'new']),
    );
  });

  it('is labelled by hand', async () => {
    const label = STARTER_LABELS.labels.find(({ name }) => name === 'Open water')?.id;
    const [found] = (await items('path eq "notes.txt"')).items;
    await client.send('POST', '/discovery/acts', {
      act: 'label',
      items: [found?.id],
      label,
      reason: 'Harmless',
    });
    await until(
      () => items('path eq "notes.txt" and label eq "Open water"'),
      ({ total }) => total === 1,
    );
    // Somebody chose it: no rule lowers it later, and the list of changes says who.
    expect(readFileSync(join(folder, `notes.txt${COMPANION_ENDING}`), 'utf8')).toContain('by-hand');
  });
});

it('shows what is kept about an owner, and deletes the excerpts when they ask for it', async () => {
  const items = running.database.getRepository(ItemEntity);
  const evidence = running.database.getRepository(ItemEvidenceEntity);
  const [kept] = await evidence.find({ take: 1 });
  const owner = 'ada.merrick@merrowstrait.example';
  await items.update({ id: kept?.itemId ?? '' }, { owner });
  const { body } = await client.get<PersonData>(`/retention/people?address=${owner}`);
  const parts = Object.fromEntries(body.parts.map(({ what, stays }) => [what, stays]));
  expect(parts).toMatchObject({ 'stored-evidence': null, 'stored-items': 'in-its-place' });
  const before = await evidence.count();
  const reason = 'Asked for by mail of 1 December';
  await client.send('POST', '/retention/people/deletion', { address: owner, reason });
  expect(await evidence.countBy({ itemId: kept?.itemId ?? '' })).toBe(0);
  expect(await evidence.count()).toBe(before - 1);
  expect(await items.countBy({ owner })).toBe(1);
});

describe('several readers', () => {
  it('share a run, and what one leaves by falling silent is done by the other', async () => {
    await stopReader();
    const [place] = await places();
    for (let at = 0; at < 120; at += 1) put(`many/${at}.txt`, `card ${CARDS[at % 3]} of ${at}`);
    const job = await addJob([place?.id ?? ''], { name: 'Shared', everything: true });
    const { body } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
    // Another reader takes the first part and is never heard of again.
    const silent = await running.database.getRepository(ReaderEntity).findOneByOrFail({ name: 'files-01' });
    const { Parts } = await import('../src/discovery/parts/parts.service.js');
    const parts = running.application.get(Parts);
    const lost = await parts.take({ id: randomUUID(), groupName: silent.groupName }, 0);
    expect(lost).toMatchObject({ kind: 'list', state: 'taken' });
    const second = mkdtempSync(join(tmpdir(), 'lantern-reader-'));
    await enrol(await code(), 'files-02', second);
    reader = startReader();
    const other = startReader(second);
    await wait(1_000);
    expect((await client.get<RunView>(`/discovery/runs/${body.id}`)).body.items).toBe(0);
    await running.database
      .getRepository(PartEntity)
      .update({ id: lost?.id ?? '' }, { leaseUntil: new Date(0) });
    const done = await until(
      async () => (await client.get<RunView>(`/discovery/runs/${body.id}`)).body,
      ({ state }) => state === 'done',
    );
    // Each item once: 10 of before, 120 new ones, and two of ten cannot be read.
    expect(done).toMatchObject({ items: 129, readItems: 127, unreadable: 2 });
    other.kill('SIGTERM');
    rmSync(second, { recursive: true, force: true });
  });

  it('give up a part that came to no end several times, and the run ends without it', async () => {
    await stopReader();
    const [place] = await places();
    const [job] = (await client.get<JobView[]>('/discovery/jobs')).body.filter(
      ({ name }) => name === 'Everything',
    );
    const { body } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job?.id}/runs`);
    // A place that is gone through is not removed under its run.
    expect(await client.send('DELETE', `/discovery/places/${place?.id}`)).toMatchObject({ status: 409 });
    await running.database.getRepository(PartEntity).update({ runId: body.id }, { taken: 4 });
    reader = startReader();
    const done = await until(
      async () => (await client.get<RunView>(`/discovery/runs/${body.id}`)).body,
      ({ state }) => state === 'done',
    );
    expect(done.places).toMatchObject([{ state: 'failed', problem: 'took-too-long' }]);
  });

  it('renew their keys in time, also where the answer was lost on its way', async () => {
    const readers = running.database.getRepository(ReaderEntity);
    const soon = new Date(Date.now() + 10 * 86_400_000);
    const of = () => readers.findOneByOrFail({ name: 'files-01' });
    const before = await of();
    await readers.update({ id: before.id }, { keyEndsAt: soon });
    await stopReader();
    reader = startReader();
    const renewed = await until(of, ({ signingKey }) => signingKey !== before.signingKey);
    expect(renewed.keyEndsAt.getTime()).toBeGreaterThan(soon.getTime());
    await stopReader();
    // The server took new keys, and the reader never heard of it.
    const file = join(data, 'reader.json');
    const kept = JSON.parse(readFileSync(file, 'utf8')) as { keys: { signing: { x: string } } };
    const signing = generateKeyPairSync('ed25519').privateKey.export({ format: 'jwk' }) as { x: string };
    writeFileSync(file, JSON.stringify({ ...kept, nextKeys: { ...kept.keys, signing } }));
    await readers.update({ id: before.id }, { signingKey: signing.x, lastSeen: new Date(0) });
    reader = startReader();
    await until(of, ({ lastSeen }) => (lastSeen?.getTime() ?? 0) > 0);
    const now = JSON.parse(readFileSync(file, 'utf8')) as {
      keys: { signing: { x: string } };
      nextKeys?: object;
    };
    expect([now.keys.signing.x, now.nextKeys]).toEqual([signing.x, undefined]);
  });

  it('with one identity are told apart: the one that began last works, the other ends and says why', async () => {
    const lines: string[] = [];
    const begin = () => spawn(process.execPath, [READER, 'run', '--data', data, '--processes', '1']);
    const known = () => running.database.getRepository(ReaderEntity).findOneByOrFail({ name: 'files-01' });
    await stopReader();
    const { instance: earlier } = await known();
    const first = begin();
    first.stderr.on('data', (text: Buffer) => lines.push(text.toString()));
    const ended = new Promise<number | null>((resolve) => first.once('exit', resolve));
    // The second begins only once the first is at work: on a slow machine it could be there before it.
    await until(known, ({ instance }) => instance !== earlier);
    const before = await known();
    reader = begin();
    await until(known, ({ instance }) => instance !== before.instance);
    // Somebody gives the first one something to ask about sooner than its long request ends.
    const { body } = await client.get<ReaderView[]>('/discovery/readers');
    for (const { id } of body) await client.send('DELETE', `/discovery/readers/${id}/cost`);
    expect(await ended).toBe(1);
    expect(lines.join('')).toContain('Another program began to work as "files-01"');
  });

  it('are withdrawn, and end', async () => {
    const { body } = await client.get<ReaderView[]>('/discovery/readers');
    const child = reader;
    const ended = new Promise((resolve) => child?.once('exit', resolve));
    for (const { id } of body) await client.send('DELETE', `/discovery/readers/${id}`);
    await ended;
    expect((await client.get<ReaderView[]>('/discovery/readers')).body.map(({ state }) => state)).toEqual([
      'withdrawn',
      'withdrawn',
    ]);
  });
});

describe('reports that are wrong', () => {
  it('are refused in words, and nothing of them is kept', async () => {
    const readers = running.application.get(
      (await import('../src/discovery/readers/readers.service.js')).Readers,
    );
    const signing = generateKeyPairSync('ed25519').privateKey.export({ format: 'jwk' }) as Record<
      string,
      string
    >;
    const { id } = await readers.enrol({
      ...{
        code: await code('alone'),
        name: 'odd',
        platform: '',
        version: '1',
        rights: [{ code: 'all', path: 1 }] as never,
      },
      keys: { signing: signing['x'] ?? '', sealing: 'A'.repeat(43) },
    });
    const post = async (path: string, body: unknown) => {
      const token = await new SignJWT({ htm: 'POST', htu: `/api/reader/${path}` })
        .setProtectedHeader({ alg: 'EdDSA' })
        .setIssuer(id)
        .setAudience('uncut-lantern')
        .setIssuedAt()
        .setExpirationTime('60s')
        .sign(await importJWK(signing as never, 'EdDSA'));
      const response = await fetch(`${running.address}/api/reader/${path}`, {
        method: 'POST',
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      return {
        status: response.status,
        body: (response.status === 204 ? null : await response.json()) as unknown,
      };
    };
    const [place] = await places();
    const own = await addPlace({ name: 'Own', group: 'alone' });
    const job = await addJob([own], { name: 'Own' });
    const { body: begun } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
    const work = async () =>
      (
        await post('work', {
          wait: 0,
          revision: null,
          version: '1',
          used: null,
          trouble: null,
          notLookedFor: [],
        })
      ).body as WorkAnswer;
    expect((await work()).work?.kind).toBe('check');
    const list = (await work()).work;
    expect(list?.kind).toBe('list');
    const listed = (over: object) =>
      post(`parts/${list?.id}/listed`, {
        items: [{ path: 'a.txt', bytes: 1, changedAt: null, marker: 'm', ...over }],
        isLast: false,
      });
    for (const over of [
      { path: '' },
      { path: 'x'.repeat(2_001) },
      { bytes: -1 },
      { bytes: 'many' },
      { changedAt: 'yesterday' },
      { marker: 5 },
    ])
      expect((await listed(over)).status).toBe(400);
    expect((await listed({})).status).toBe(204);
    // The same page twice counts once.
    expect((await listed({})).status).toBe(204);
    expect((await post(`parts/${randomUUID()}/listed`, { items: [], isLast: true })).status).toBe(409);
    await post(`parts/${list?.id}/listed`, { items: [], isLast: true });
    const read = (await work()).work;
    const item = read?.kind === 'read' ? read.items[0] : undefined;
    expect(item?.path).toBe('a.txt');
    const result = {
      ...{
        id: item?.id,
        status: 'read',
        reason: null,
        digest: 'a'.repeat(64),
        bytes: 1,
        characters: 1,
        label: null,
      },
      ...{ found: [{ pattern: 'payment-card', count: 1, certainty: 90 }], excerpts: [], unreadableParts: [] },
      ...{ suggested: null, labelled: false, refusal: null },
    };
    const mark = { start: 0, end: 9, pattern: 'p', certainty: 50 };
    for (const over of [
      { digest: 'short' },
      { status: 'perhaps' },
      { excerpts: [{ part: '', line: 1, text: 'four', marks: [mark] }] },
      { excerpts: [{ part: '', line: 1, text: 'x'.repeat(5_000), marks: [] }] },
      { excerpts: 'none' },
      { label: { id: 5 } },
    ])
      expect(
        (await post(`parts/${read?.id}/read`, { results: [{ ...result, ...over }], isLast: false })).status,
      ).toBe(400);
    // Somebody else's item is none of theirs.
    const [stranger] = (await items(`place eq "${place?.name}"`)).items;
    const both = [result, { ...result, id: stranger?.id, found: [] }];
    expect((await post(`parts/${read?.id}/read`, { results: both, isLast: true })).status).toBe(204);
    expect((await client.get<RunView>(`/discovery/runs/${begun.id}`)).body).toMatchObject({
      ...{ state: 'done', items: 1, readItems: 1, sensitive: 1 },
    });
    expect((await items('place eq "Own"')).items).toMatchObject([{ found: [{ count: 1 }] }]);
  });
});
