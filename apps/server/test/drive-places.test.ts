/** Places of the organisation on the drive: what their labels ask is asked of everybody, on the server, at once. */
import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type {
  ErrorBody,
  DriveFileDetail,
  DriveFolderView,
  DrivePlaceView,
  ImportLabelsResult,
  OpenedView,
} from '@lantern/contracts';
import type { PlaceLabelPreview, WithdrawPreview } from '@lantern/contracts/discovery';
import { STARTER_LABELS } from '@lantern/demo';
import { strFromU8, unzipSync } from 'fflate';
import { PlaceOpenings } from '../src/discovery/places/place-openings.js';
import { DriveFileEntity } from '../src/stand-ins/drive/drive.entity.js';
import { PlaceEntity } from '../src/directory/place.entity.js';
import { DiscoveryPlaceEntity } from '../src/discovery/places/discovery-place.entity.js';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { type Client, OUTSIDE, publish, ruleOf, type Running, start, verdictsOf } from './harness.js';

const labelled = (name: string): string =>
  STARTER_LABELS.labels.find((label) => label.name === name)?.id ?? '';
const OPEN = labelled('Open water');
const CARE = labelled('Passenger care');
const BRIDGE = labelled('Bridge only');

let running: Running;
let client: Client;
/** Owns the place. */
let per: string;
let orla: string;
let bea: string;
let placeId: string;
let discoveryId: string;
let root: string;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  const people = await Promise.all(['Per Halloran', 'Orla Fenwick', 'Bea Lindqvist'].map(running.person));
  [per = '', orla = '', bea = ''] = people.map(({ id }) => id);
  const text = JSON.stringify({ format: 'uncut-lantern labels 1', ...STARTER_LABELS, automatic: [] });
  const taken = await client.send<ImportLabelsResult>('POST', '/labels/text', { text, onlyLook: false });
  expect(taken.body.faults).toEqual([]);
  await publish(client, 'Cards', [ruleOf()]);
  root = join(running.config.places, 'harbour');
  mkdirSync(join(root, 'plans/2026'), { recursive: true });
  writeFileSync(join(root, 'plans/2026/gate.txt'), 'The gate is open on Monday');
  writeFileSync(join(root, 'plans/2026/map.png'), Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'));
  writeFileSync(join(root, 'notes.txt'), 'Berth 4 is free');
  symlinkSync('/etc', join(root, 'away'));
  placeId = randomUUID();
  const owner = people[0]?.address ?? '';
  await running.database.getRepository(PlaceEntity).insert({
    ...{ id: placeId, name: 'Harbour', about: 'Plans.', folder: 'harbour', owner },
    ...{ sharedOutside: [OUTSIDE], members: [] },
  });
  const made = await client.send<{ id: string }>('POST', '/discovery/places', {
    ...{ name: 'Harbour', store: 'folder', address: { at: root }, group: 'none' },
    ...{ owner, reach: 'organisation', unmanaged: false, unwanted: [] },
  });
  discoveryId = made.body.id;
  await running.database
    .getRepository(DiscoveryPlaceEntity)
    .update({ id: discoveryId }, { directoryPlaceId: placeId });
});

afterAll(() => running.stop());

const drive = (player: string, rest: string): string =>
  `/stand-ins/drive/${encodeURIComponent(player)}/${rest}`;
const place = async (player: string) =>
  (await client.get<DrivePlaceView[]>(drive(player, 'places'))).body.find(({ id }) => id === placeId);
const folder = (player: string, path = '', on = '') =>
  client.get<DriveFolderView>(
    drive(player, `places/${placeId}/folder?path=${encodeURIComponent(path)}${on}`),
  );
const open = async (player: string, path: string, query = '') =>
  client.send<OpenedView & { file: DriveFileDetail; text: string; message: string }>(
    'POST',
    drive(player, `places/${placeId}/open${query}`),
    { path },
  );
const label = (id: string | null) =>
  client.send('PUT', `/discovery/places/${discoveryId}/label`, { label: id });
const take = (player: string, paths: readonly string[], query = '') =>
  fetch(`${running.address}/api${drive(player, `places/${placeId}/take${query}`)}`, {
    method: 'POST',
    headers: {
      cookie: client.cookie,
      'x-csrf-token': client.session.csrfToken,
      'content-type': 'application/json',
    },
    body: JSON.stringify({ paths }),
  });

describe('a place without a label', () => {
  it('shows its folders and files, and nothing that links lead to', async () => {
    expect((await folder(orla)).body.entries.map(({ name }) => name)).toEqual(['plans', 'notes.txt']);
    expect((await folder(orla, 'plans/2026')).body.entries.map(({ name }) => name)).toEqual([
      'gate.txt',
      'map.png',
    ]);
    for (const path of ['away', 'plans/../../..', '../other', '.hidden'])
      expect([path, (await folder(orla, path)).status]).toEqual([path, 404]);
    expect((await open(orla, 'away/passwd')).status).toBe(404);
  });

  it('opens files for people inside and for people outside whom it was opened for', async () => {
    for (const player of [orla, OUTSIDE])
      expect((await open(player, 'notes.txt')).body).toMatchObject({
        status: 'open',
        file: { text: 'Berth 4 is free', place: { name: 'Harbour', path: 'notes.txt', noCopies: false } },
      });
    expect((await open('broker@elsewhere.example', 'notes.txt')).status).toBe(404);
  });

  it('gives several files as one archive, each recorded', async () => {
    const count = () =>
      running.database.getRepository(MovementEntity).countBy({ channel: 'drive', activity: 'copy' });
    const before = await count();
    const archive = unzipSync(
      new Uint8Array(await (await take(orla, ['notes.txt', 'plans/2026/gate.txt'])).arrayBuffer()),
    );
    expect(Object.keys(archive)).toEqual(['notes.txt', 'plans/2026/gate.txt']);
    expect(strFromU8(archive['notes.txt'] ?? new Uint8Array())).toBe('Berth 4 is free');
    expect((await count()) - before).toBe(2);
  });

  it('reads a file anew that changed beside the drive, and forgets one that is gone', async () => {
    writeFileSync(join(root, 'soon.txt'), 'one');
    const first = (await open(per, 'soon.txt')).body.file;
    writeFileSync(join(root, 'soon.txt'), 'one and two');
    const second = (await open(per, 'soon.txt')).body.file;
    expect([second.id, second.text]).toEqual([first.id, 'one and two']);
    const written = await client.send<DriveFileDetail>('PUT', drive(per, `files/${first.id}/text`), {
      ...{ text: 'three', version: second.version },
    });
    expect(written.body).toMatchObject({ text: 'three' });
    expect((await open(orla, 'soon.txt')).body.file.text).toBe('three');
    const renamed = await client.send<DriveFileDetail>('POST', drive(bea, `places/${placeId}/rename`), {
      ...{ path: 'soon.txt', name: 'later.txt' },
    });
    expect(renamed.body).toMatchObject({ id: first.id, name: 'later.txt', text: 'three' });
    expect([existsSync(join(root, 'later.txt')), existsSync(join(root, 'soon.txt'))]).toEqual([true, false]);
    const onto = { path: 'later.txt', name: 'notes.txt' };
    const taken = await client.send<{ code: string }>('POST', drive(bea, `places/${placeId}/rename`), onto);
    expect(taken.body.code).toBe('name-taken');
    await client.send('DELETE', drive(per, `files/${first.id}`));
    expect((await open(orla, 'later.txt')).status).toBe(404);
  });
});

describe('a label on the place', () => {
  let link: string;

  it('says beforehand what it ends, and ends it at once: a link given earlier too', async () => {
    const file = (await open(per, 'notes.txt')).body.file;
    await client.send('PUT', drive(per, `files/${file.id}/label`), { label: OPEN });
    const { body } = await client.send<DriveFileDetail>('POST', drive(per, `files/${file.id}/shares`), {
      link: 'whoever-holds-it',
    });
    expect(body).toMatchObject({ shares: [{ state: 'open' }] });
    link = body.shares[0]?.token ?? '';
    const follow = async (query = '') =>
      (
        await client.get<OpenedView & { text: string; why: string }>(
          drive('groups@islandholidays.example', `links/${link}${query}`),
        )
      ).body;
    expect((await follow()).status).toBe('open');
    const preview = await client.get<PlaceLabelPreview>(
      `/discovery/places/${discoveryId}/label-preview/${BRIDGE}`,
    );
    expect(preview.body).toMatchObject({
      ...{ links: 1, people: [OUTSIDE], closesInside: true, isEnforced: true },
      takers: ['orla.fenwick@merrowstrait.example'],
    });
    expect((await label(CARE)).status).toBe(204);
    expect(await follow()).toMatchObject({
      status: 'closed',
      text: expect.stringContaining('named people only'),
    });
    // Whom the place was opened for by name still comes in, and looks only: the machine is nobody's we know.
    expect((await open(OUTSIDE, 'notes.txt')).body.status).toBe('open');
    expect((await take(OUTSIDE, ['notes.txt'])).status).toBe(403);
    expect((await take(orla, ['notes.txt'], '?on=own')).status).toBe(403);
    expect((await take(orla, ['notes.txt'])).status).toBe(200);
    const shares = await client.get<OpenedView & { file: DriveFileDetail }>(drive(per, `files/${file.id}`));
    expect(shares.body.file.shares[0]?.state).toBe('withdrawn');
    await label(null);
    expect((await follow()).status).toBe('open');
  });

  it('or ending access from outside, ends links to single items as well', async () => {
    const reach = async () => {
      const rows = await running.database.query<{ reach: string }[]>('SELECT reach FROM discovery_place');
      return rows.map((row) => row.reach);
    };
    const follow = () => client.get<OpenedView>(drive('groups@islandholidays.example', `links/${link}`));
    expect((await follow()).body.status).toBe('open');
    const preview = await client.get<WithdrawPreview>(`/discovery/places/${discoveryId}/withdraw`);
    expect(preview.body).toMatchObject({ addresses: [OUTSIDE], links: 1 });
    expect((await client.send('POST', `/discovery/places/${discoveryId}/withdraw`)).status).toBe(204);
    expect((await follow()).body).toMatchObject({ status: 'closed', why: 'gone' });
    expect(await reach()).toEqual(['organisation']);
    expect((await open(OUTSIDE, 'notes.txt')).status).toBe(404);
    // Its owner lets them in again.
    const again = { address: OUTSIDE };
    expect((await client.send('POST', drive(per, `places/${placeId}/people`), again)).status).toBe(204);
    expect((await open(OUTSIDE, 'notes.txt')).body.status).toBe('open');
  });

  it('closes every way to a copy for everybody, its owner included, but not looking, writing and renaming', async () => {
    await label(BRIDGE);
    expect(await place(per)).toMatchObject({ open: true, terms: { noCopies: true, copyKinds: ['picture'] } });
    const gate = (await open(per, 'plans/2026/gate.txt')).body.file;
    expect(gate.refused['make-another']).toContain('Nobody may take copies out of this place.');
    expect(gate.refused['take-out']).toContain('Nobody may take copies');
    for (const answer of [
      await client.get<{ code: string }>(drive(per, `files/${gate.id}/content`)),
      { status: (await take(per, ['plans/2026/gate.txt', 'plans/2026/map.png'])).status },
    ])
      expect(answer.status).toBe(403);
    expect((await take(per, ['plans/2026/map.png'])).status).toBe(200);
    const changed = await client.send<DriveFileDetail>('PUT', drive(per, `files/${gate.id}/text`), {
      ...{ text: 'The gate is shut', version: gate.version },
    });
    expect([changed.status, changed.body.text]).toEqual([200, 'The gate is shut']);
    // Over a network that nobody trusts it can be looked at, and no more.
    expect((await folder(per, 'plans/2026', '&net=foreign')).status).toBe(200);
    const far = await client.send<ErrorBody>('PUT', drive(per, `files/${gate.id}/text?net=foreign`), {
      ...{ text: 'The gate is open', version: changed.body.version },
    });
    expect([far.status, far.body.message]).toEqual([403, expect.stringContaining('a network that the')]);
    const name = { path: 'plans/2026/gate.txt', name: 'gates.txt' };
    expect((await client.send('POST', drive(per, `places/${placeId}/rename`), name)).status).toBe(200);
    const verdicts = await verdictsOf(running);
    const forbidden = verdicts.flatMap((verdict) => verdict.forbidden ?? []);
    expect(forbidden[0]).toMatchObject({
      label: { name: 'Bridge only' },
      clause: { code: 'place-copies' },
    });
  });

  it('hides the place from people who were not let in, and keeps machines out that nobody manages', async () => {
    expect(await place(orla)).toBeUndefined();
    expect((await folder(orla)).status).toBe(404);
    expect((await client.send('POST', drive(orla, `places/${placeId}/join`))).status).toBe(404);
    const letIn = (address: string) =>
      client.send('POST', drive(per, `places/${placeId}/people`), { address });
    expect((await letIn('orla.fenwick@merrowstrait.example')).status).toBe(204);
    expect((await folder(orla)).status).toBe(200);
    expect((await folder(orla, '', '&on=own')).status).toBe(403);
    expect((await letIn('guest@elsewhere.example')).status).toBe(403);
    expect((await open(OUTSIDE, 'notes.txt')).status).toBe(403);
    const only = await client.send('POST', drive(orla, `places/${placeId}/people`), {
      address: 'bea.lindqvist@merrowstrait.example',
    });
    expect(only.status).toBe(403);
    await client.send('DELETE', drive(per, `places/${placeId}/people/orla.fenwick@merrowstrait.example`));
    expect((await folder(orla)).status).toBe(404);
  });

  it('is carried by what is put there, and a share of it outside is stopped and recorded with the label', async () => {
    const form = new FormData();
    form.append('folder', 'plans');
    form.append('file', new Blob(['Tide tables']), 'tides.txt');
    const added = await client.send<DriveFileDetail>('POST', drive(per, `places/${placeId}/files`), form);
    expect(added.body).toMatchObject({ label: { name: 'Bridge only' }, place: { path: 'plans/tides.txt' } });
    expect(existsSync(join(root, 'plans/tides.txt'))).toBe(true);
    const again = await client.send<{ code: string }>('POST', drive(per, `places/${placeId}/files`), form);
    expect(again.body.code).toBe('name-taken');
    const { body } = await client.send<DriveFileDetail>('POST', drive(per, `files/${added.body.id}/shares`), {
      address: 'guest@elsewhere.example',
    });
    expect(body.shares[0]).toMatchObject({ state: 'refused' });
    expect(body.shares[0]?.notice?.text).toContain('This place does not open to people outside.');
  });
});

describe('a file that moves into another place', () => {
  it('stays the same file of the drive, with its owner and what was opened of it', async () => {
    const vault = randomUUID();
    await running.database.getRepository(PlaceEntity).insert({
      ...{ id: vault, name: 'Vault', about: '', folder: 'vault', owner: 'per.halloran@merrowstrait.example' },
      ...{ sharedOutside: [], members: [] },
    });
    const files = running.database.getRepository(DriveFileEntity);
    const before = await files.findOneByOrFail({ placeId, name: 'tides.txt' });
    const openings = running.application.get(PlaceOpenings);
    await openings.moved(running.database.manager, 'plans/tides.txt', { from: placeId, to: vault });
    const after = await files.findOneByOrFail({ id: before.id });
    expect(after).toMatchObject({ placeId: vault, folder: '/Vault/plans', owner: before.owner });
    const [shares] = await running.database.query<{ n: string }[]>(
      'SELECT COUNT(*) AS n FROM drive_share WHERE fileId = ?',
      [before.id],
    );
    expect(Number(shares?.n)).toBe(1);
    // What the drive never opened, it has nothing to remember of.
    await openings.moved(running.database.manager, 'plans/never.txt', { from: placeId, to: vault });
    expect(await files.countBy({ placeId: vault })).toBe(1);
  });
});
