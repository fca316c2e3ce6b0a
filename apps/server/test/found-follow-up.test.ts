/** What people do about what readers found: the item whole, an incident, a clean-up by a day, groups and saved queries. */
import { existsSync, rmSync, statSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import type { CoverageView, IncidentDetail, MailSummary } from '@lantern/contracts';
import type {
  CleanUpPreview,
  CleanUpView,
  DiscoveryPlaceView,
  FetchedView,
  FetchView,
  ItemActView,
  ItemDetail,
  ItemGroups,
  ItemQueryView,
  PlaceMovePreview,
} from '@lantern/contracts/discovery';
import type { ImprovementsView } from '@lantern/contracts/insight';
import { FetchEntity } from '../src/discovery/results/fetch.entity.js';
import { Fetches } from '../src/discovery/results/fetches.service.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';
import { ReaderBeside, until } from './reader-program.js';

/** Card numbers of test ranges that payment networks publish; from memory. */
const CARDS = ['4111 1111 1111 1111', '5555 5555 5555 4444'];

let running: Running;
let client: Client;
let reader: ReaderBeside;
let place: string;
let job: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards', [ruleOf()]);
  reader = new ReaderBeside(running, client);
  await reader.enrol();
  reader.start();
  reader.put('crew/cards.txt', `Cards of the crew: ${CARDS.join(', ')}`);
  reader.put('crew/old/more.csv', `name,card number\nAda,${CARDS[0]}\nBo,${CARDS[1]}\n`);
  reader.put('notes.txt', 'The gate opens at five.');
  place = await reader.place();
  job = await reader.job([place]);
  await reader.runs(job);
});

afterAll(async () => {
  await reader.close();
  await running.stop();
});

async function itemAt(path: string): Promise<ItemDetail> {
  const found = (await reader.items(`path eq ${JSON.stringify(path)}`)).items[0];
  return (await client.get<ItemDetail>(`/discovery/items/${found?.id ?? ''}`)).body;
}

describe('an item fetched whole', () => {
  it('comes from its reader for a reason, opens for whoever asked alone, and is deleted after a day', async () => {
    const item = await itemAt('crew/cards.txt');
    expect(JSON.stringify(item)).not.toContain('4111 1111');
    expect((await client.send('POST', `/discovery/items/${item.id}/fetches`, { reason: '' })).status).toBe(
      400,
    );
    const asked = await client.send<FetchView>('POST', `/discovery/items/${item.id}/fetches`, {
      reason: 'is it the list of the crew?',
    });
    expect(asked.body).toMatchObject({ state: 'waiting', isOwn: true });
    const here = await until(
      async () => (await itemAt('crew/cards.txt')).fetches[0],
      (fetch) => fetch?.state === 'here',
    );
    const id = here?.id ?? '';
    const opened = await client.send<FetchedView>('POST', `/discovery/fetches/${id}/opening`);
    expect(opened.status).toBe(200);
    expect(opened.body.changedSince).toBe(false);
    expect(JSON.stringify(opened.body.parts)).toContain(CARDS[0]);
    const other = await running.client('second@merrowstrait.example');
    expect((await other.send('POST', `/discovery/fetches/${id}/opening`)).status).toBe(404);
    const row = await running.database.manager.findOneByOrFail(FetchEntity, { id });
    expect(row.sealed?.includes('4111')).toBe(false);
    await running.application.get(Fetches).sweep(new Date(Date.now() + 25 * 3_600_000));
    expect((await client.send('POST', `/discovery/fetches/${id}/opening`)).status).toBe(404);
    const after = await itemAt('crew/cards.txt');
    expect(after.fetches[0]).toMatchObject({ state: 'deleted', reason: 'is it the list of the crew?' });
    expect(after.history).toContainEqual(
      expect.objectContaining({ what: 'fetched', detail: 'is it the list of the crew?' }),
    );
  });

  it('is not there any more: the request says so', async () => {
    reader.put('crew/short.txt', `Card ${CARDS[0]}`);
    await reader.runs(job);
    const item = await itemAt('crew/short.txt');
    rmSync(join(reader.folder, 'crew/short.txt'));
    await client.send('POST', `/discovery/items/${item.id}/fetches`, { reason: 'to see it' });
    const failed = await until(
      async () => (await itemAt('crew/short.txt')).fetches[0],
      (fetch) => fetch?.state === 'failed',
    );
    expect(failed).toMatchObject({ problem: 'gone', endsAt: null });
  });
});

describe('an item at the desk', () => {
  it('becomes one incident for its content, under the name of discovery, masked', async () => {
    const item = await itemAt('crew/cards.txt');
    const request = { severity: 'high', note: 'Who needs this?' };
    const first = await client.send<{ incident: number }>(
      'POST',
      `/discovery/items/${item.id}/incident`,
      request,
    );
    expect(first.status).toBe(200);
    const again = await client.send<{ incident: number }>(
      'POST',
      `/discovery/items/${item.id}/incident`,
      request,
    );
    expect(again.body).toEqual(first.body);
    expect((await itemAt('crew/cards.txt')).incident).toBe(first.body.incident);
    const incident = await client.get<IncidentDetail>(`/incidents/${first.body.incident}`);
    expect(incident.body).toMatchObject({ origin: 'Discovery', severity: 'high', title: 'crew/cards.txt' });
    expect(JSON.stringify(incident.body)).not.toContain('4111 1111');
    // Whoever takes it reads what it is about in its history.
    expect(incident.body.history.at(-1)?.text).toMatch(/"Harbour share".*2 × .*Who needs this\?$/u);
    const clean = await itemAt('notes.txt');
    expect((await client.send('POST', `/discovery/items/${clean.id}/incident`, request)).status).toBe(409);
  });
});

describe('a request to clean up', () => {
  const day = (ahead: number): string => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10);

  it('says what it is about, goes to the owner by mail, and counts what was done', async () => {
    const preview = await client.get<CleanUpPreview>(`/discovery/places/${place}/clean-up`);
    expect(preview.body).toMatchObject({ to: 'orla.fenwick@merrowstrait.example', items: 3 });
    const path = `/discovery/places/${place}/clean-ups`;
    expect((await client.send('POST', path, { dueOn: day(-2), note: '' })).status).toBe(400);
    const asked = await client.send<CleanUpView>('POST', path, {
      dueOn: day(14),
      note: 'Keep what is of 2026.',
    });
    expect(asked.body).toMatchObject({ items: 3, left: 3, gone: 0, isOverdue: false });
    const orla = await running.person('Orla Fenwick');
    const inbox = `/stand-ins/mail/${orla.id}/messages`;
    const mails = await client.get<MailSummary[]>(`${inbox}?folder=inbox`);
    const about = mails.body.find(({ subject }) => subject.startsWith('Please clean up'));
    expect(JSON.stringify((await client.get(`${inbox}/${about?.id ?? ''}`)).body)).toContain(
      'crew/cards.txt',
    );
    rmSync(join(reader.folder, 'crew/old/more.csv'));
    reader.put('crew/cards.txt', 'Moved into the safe.');
    await reader.runs(job);
    const [view] = (await client.get<DiscoveryPlaceView[]>('/discovery/places')).body;
    expect(view?.cleanUps[0]).toMatchObject({ items: 3, left: 0, gone: 2, harmless: 1, guarded: 0 });
    expect((await client.send('POST', `/discovery/clean-ups/${asked.body.id}/end`)).status).toBe(204);
    expect((await client.send('POST', `/discovery/clean-ups/${asked.body.id}/end`)).status).toBe(404);
    expect((await client.send('POST', path, { dueOn: day(14), note: '' })).status).toBe(409);
  });
});

describe('a machine that watches', () => {
  it('is a gap in coverage and something to do next while it is silent, or cannot watch', async () => {
    const endpoint = async () =>
      (await client.get<CoverageView>('/coverage')).body.doors.find(({ channel }) => channel === 'endpoint');
    expect((await endpoint())?.gaps).toEqual([]);
    const missing = join(reader.folder, 'stick');
    const draft = await client.send<{ id: string }>('PUT', '/discovery/watching/head%20office/draft', {
      folders: [{ path: missing, as: 'device', name: 'Stick', trusted: false }],
    });
    const saved = await client.send('POST', '/discovery/watching/head%20office/settings', {
      draft: draft.body.id,
    });
    expect(saved.status).toBe(204);
    const closed = await until(endpoint, (door) => door?.gaps[0]?.code === 'cannot-watch');
    expect(closed?.gaps).toMatchObject([{ name: 'files-01', paths: [missing], isMachine: true }]);
    await reader.stop();
    await running.database.query('UPDATE reader SET lastSeen = ?', [new Date(Date.now() - 30 * 3_600_000)]);
    expect((await endpoint())?.gaps).toMatchObject([{ name: 'files-01', code: 'silent', paths: [] }]);
    const { body } = await client.get<ImprovementsView>('/insight/improve');
    expect(body.open.map(({ improvement }) => improvement.code)).toContain('machine-gap');
    reader.start();
    await until(endpoint, (door) => door?.gaps[0]?.code === 'cannot-watch');
  });
});

describe('questions about results', () => {
  beforeAll(async () => {
    rmSync(join(reader.folder, 'crew/old'), { recursive: true, force: true });
    for (let at = 0; at < 4; at += 1) reader.put(`crew/list-${at}.txt`, `Card ${CARDS[at % 2]} of ${at}`);
    await reader.runs(job);
  });

  it('gathers by one or two things, each group with the line that lists it', async () => {
    const of = async (by: string, filter = 'state eq "read"') =>
      client.get<ItemGroups>(`/discovery/groups?${new URLSearchParams({ by, filter })}`);
    for (const by of ['folder', 'ending,folder', 'age', 'reach,owner', 'pattern', 'label', 'place']) {
      const { body } = await of(by);
      expect(body.rows.length).toBeGreaterThan(0);
      for (const row of body.rows) {
        const line = ['state eq "read"', ...row.values.map((value) => value.line)].join(' and ');
        // What a group counts is what its line lists; a folder lists what lies below it as well.
        const { total } = await reader.items(line);
        expect(by.includes('folder') ? total >= row.items : total === row.items).toBe(true);
      }
    }
    const folders = (await of('folder', 'state eq "read"')).body.rows.map(({ values, items }) => [
      values[0]?.name,
      items,
    ]);
    expect(folders).toEqual([
      ['crew', 5],
      ['', 1],
    ]);
    expect((await of('size')).status).toBe(400);
    expect((await of('place,owner,age')).status).toBe(400);
  });

  it('keeps them under a name, own and shared, and refuses a wrong line', async () => {
    const query = {
      name: 'Open cards',
      filter: 'sensitive eq true',
      order: 'count',
      by: ['folder'],
      shared: false,
    };
    expect(
      (await client.send('POST', '/discovery/queries', { ...query, filter: 'nonsense eq' })).status,
    ).toBe(400);
    const saved = await client.send<ItemQueryView[]>('POST', '/discovery/queries', query);
    expect(saved.body).toMatchObject([{ ...query, isOwn: true }]);
    const other = await running.client('second@merrowstrait.example');
    expect((await other.get<ItemQueryView[]>('/discovery/queries')).body).toEqual([]);
    await client.send('POST', '/discovery/queries', { ...query, shared: true });
    const [seen] = (await other.get<ItemQueryView[]>('/discovery/queries')).body;
    expect(seen).toMatchObject({ name: 'Open cards', isOwn: false });
    expect((await other.send('DELETE', `/discovery/queries/${seen?.id ?? ''}`)).status).toBe(404);
    expect((await client.send('DELETE', `/discovery/queries/${seen?.id ?? ''}`)).body).toEqual([]);
  });
});

describe('a whole share', () => {
  const when = new Date('2024-05-06T07:08:09Z');
  let share: string;
  let guarded: string;

  it('says beforehand what would move and what would stay, and refuses ways that no reader has', async () => {
    reader.put('share/crew/roster.txt', `Card ${CARDS[0]} of the crew`);
    utimesSync(join(reader.folder, 'share/crew/roster.txt'), when, when);
    reader.put('share/notes.txt', 'The gate opens at five.');
    reader.put('safe/notes.txt', 'Something else of the same name.');
    share = await reader.place({ name: 'Share', address: { at: join(reader.folder, 'share') } });
    guarded = await reader.place({ name: 'Safe', address: { at: join(reader.folder, 'safe') } });
    await reader.runs(await reader.job([share, guarded], { name: 'Both' }));
    const preview = await client.get<PlaceMovePreview>(`/discovery/places/${share}/move/${guarded}`);
    expect(preview.body).toMatchObject({ items: 1, standing: 1, quarantined: 0, people: [] });
    const request = { to: share, people: false, reason: 'Into the safe' };
    expect((await client.send('POST', `/discovery/places/${share}/move`, request)).status).toBe(409);
    const other = await reader.place({ name: 'Elsewhere', group: 'another group' });
    const far = await client.send('POST', `/discovery/places/${share}/move`, { ...request, to: other });
    expect(far.status).toBe(409);
  });

  it('moves with its dates, lists what did not, and its items lie in the other place from then on', async () => {
    const asked = await client.send<CleanUpView>('POST', `/discovery/places/${share}/clean-ups`, {
      ...{ dueOn: new Date().toISOString().slice(0, 10), note: '' },
    });
    expect(asked.body).toMatchObject({ items: 1, left: 1 });
    const begun = await client.send<ItemActView>('POST', `/discovery/places/${share}/move`, {
      ...{ to: guarded, people: false, reason: 'Into the safe' },
    });
    expect(begun.status).toBe(201);
    const done = await until(
      async () =>
        (await client.get<ItemActView[]>('/discovery/acts')).body.find(({ id }) => id === begun.body.id),
      (act) => act?.waiting === 0,
    );
    expect(done?.refused).toContainEqual({ path: 'notes.txt', reason: 'something-stands-there' });
    const there = join(reader.folder, 'safe/crew/roster.txt');
    expect(statSync(there).mtime).toEqual(when);
    expect(existsSync(join(reader.folder, 'share/crew/roster.txt'))).toBe(false);
    const moved = await itemAt('crew/roster.txt');
    expect(moved.place.name).toBe('Safe');
    expect(moved.history).toContainEqual(
      expect.objectContaining({ what: 'moved-over', detail: 'Into the safe' }),
    );
    // What was moved away is nothing that its former owner still has to do.
    const views = (await client.get<DiscoveryPlaceView[]>('/discovery/places')).body;
    expect(views.find(({ id }) => id === share)?.cleanUps[0]).toMatchObject({ left: 0, gone: 1 });
    // The next readings of both places find nothing new of it, and nothing gone.
    const again = await reader.runs(await reader.job([share, guarded], { name: 'Both again' }));
    expect(again).toMatchObject({ items: 3, readItems: 0, unchanged: 3 });
  });
});
