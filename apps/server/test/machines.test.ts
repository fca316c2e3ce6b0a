/** Machines come from an inventory that is compared first, and stand in groups by their networks and serial numbers. */
import { readdirSync } from 'node:fs';
import type { ErrorBody } from '@lantern/contracts';
import type {
  MachineComparison,
  MachineGroupTrial,
  MachineGroupView,
  MachineListPage,
  PlaceComparison,
  PlaceListView,
} from '@lantern/contracts/machines';
import { MachinesService } from '../src/directory/machines/machines.service.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;
beforeAll(async () => {
  running = await start();
  client = await running.client();
});
afterAll(() => running.stop());

const rows = (count: number, from = 1) =>
  Array.from({ length: count }, (_one, at) => {
    const n = from + at;
    return `QUAY-${n};A${100 + n};10.1.0.${n};crew${n}@merrowstrait.example;Hall;yes;16 GB`;
  });
const table = (...lines: readonly string[]) =>
  ['Host name;Serial number;IP address;User;Groups;Managed;RAM', ...lines].join('\n');

const compare = async (text: string | Buffer, whole = true) => {
  const form = new FormData();
  form.append('file', new Blob([new Uint8Array(Buffer.from(text))]), 'machines.csv');
  const path = `/directory/machines/comparisons?whole=${whole}`;
  return client.send<MachineComparison & ErrorBody>('POST', path, form);
};
const apply = (id: string, leavingPercent = 10) =>
  client.send<MachineListPage & ErrorBody>('POST', `/directory/machines/comparisons/${id}/apply`, {
    leavingPercent,
  });
const find = async (typed: string) =>
  (await client.get<MachineListPage>(`/directory/machines?typed=${encodeURIComponent(typed)}`)).body;
const group = (name: string, over: object = {}) => ({
  name,
  about: '',
  networks: [],
  serials: [],
  names: [],
  ...over,
});

it('takes over an inventory once it was looked at, and shows what it could not read', async () => {
  const { body: look } = await compare(
    table(...rows(20), 'QUAY-1;X;;;;;', ';Y;;;;;', 'QUAY-99;Z;office;;;;'),
  );
  expect(look.counts).toEqual({ added: 20, changed: 0, left: 0, unchanged: 0, refused: 3 });
  expect(look.ignored).toEqual(['RAM']);
  expect(look.refused.map(({ line, code }) => [line, code])).toEqual([
    [22, 'twice'],
    [23, 'no-name'],
    [24, 'bad-address'],
  ]);
  expect((await find('QUAY')).total).toBe(0);
  expect((await apply(look.id)).status).toBe(200);
  expect((await find('QUAY-7')).machines).toMatchObject([
    {
      name: 'QUAY-7',
      serial: 'A107',
      addresses: ['10.1.0.7'],
      owner: 'crew7@merrowstrait.example',
      groups: ['Hall'],
    },
  ]);
  expect((await find('10.1.0.12')).machines.map(({ name }) => name)).toEqual(['QUAY-12']);
  // Once is enough.
  expect((await apply(look.id)).status).toBe(404);
});

it('asks before many machines leave, and takes nothing over that was compared with what was there before', async () => {
  const { body: look } = await compare(table(...rows(8)));
  expect(look).toMatchObject({ counts: { left: 12, unchanged: 8 }, leavingPercent: 60 });
  const stopped = await apply(look.id);
  expect([stopped.status, stopped.body.code]).toEqual([409, 'too-many-leave']);
  const { body: part } = await compare(table(...rows(1, 50)), false);
  expect(part.counts).toMatchObject({ added: 1, left: 0 });
  expect((await apply(part.id)).status).toBe(200);
  const late = await apply(look.id, 100);
  expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile']);
  expect((await find('QUAY')).total).toBe(21);
});

it('keeps machines in groups by their networks and serial numbers, whatever comes', async () => {
  const network = group('Quay network', { networks: ['10.1.0.0/28', '10.1.0.200 - 10.1.0.250'] });
  const trial = await client.send<MachineGroupTrial>('POST', '/directory/machine-groups/trials', network);
  expect(trial.body.machines).toBe(15);
  await client.send('POST', '/directory/machine-groups', network);
  const { body } = await client.send<MachineGroupView[]>(
    'POST',
    '/directory/machine-groups',
    group('New batch', { serials: ['A110 - A119'], names: ['quay-'] }),
  );
  expect(body.map(({ name, machines }) => [name, machines])).toEqual([
    ['New batch', 10],
    ['Quay network', 15],
  ]);
  expect((await find('QUAY-12')).machines[0]?.groups).toEqual(['Hall', 'New batch', 'Quay network']);
  // What rules ask of a movement is the same.
  const machines = running.application.get(MachinesService);
  expect((await machines.machine('QUAY-12')).groups).toEqual(['Hall', 'New batch', 'Quay network']);
  expect((await machines.known()).groups).toContain('new batch');

  const moved = await compare(
    table('QUAY-12;A112;10.1.0.210;;Hall;yes;', 'QUAY-13;B1;10.9.0.1;;;no;'),
    false,
  );
  await apply(moved.body.id);
  expect((await find('QUAY-12')).machines[0]?.groups).toEqual(['Hall', 'New batch', 'Quay network']);
  expect((await find('QUAY-13')).machines[0]).toMatchObject({ groups: [], state: 'strange' });
  expect((await machines.machine('QUAY-13')).state).toBe('strange');

  const [batch] = (await client.get<MachineGroupView[]>('/directory/machine-groups')).body;
  const changed = { ...group('New batch', { serials: ['A101'] }) };
  await client.send('PUT', `/directory/machine-groups/${batch?.id ?? ''}`, changed);
  expect((await find('QUAY-12')).machines[0]?.groups).toEqual(['Hall', 'Quay network']);
  await client.send('DELETE', `/directory/machine-groups/${batch?.id ?? ''}`);
  expect((await find('QUAY-1')).machines.find(({ name }) => name === 'QUAY-1')?.groups).toEqual([
    'Hall',
    'Quay network',
  ]);
});

it('says which policies would be for other machines, and keeps a group that one names', async () => {
  await publish(client, 'Quay only', [ruleOf({ answer: 'note' })], {
    where: { with: [{ kind: 'machines', group: 'Quay network' }], without: [] },
  });
  const [network] = (await client.get<MachineGroupView[]>('/directory/machine-groups')).body;
  const path = `/directory/machine-groups/trials?of=${network?.id ?? ''}`;
  const wider = group('Quay network', { networks: ['10.1.0.0/24'] });
  const trial = (await client.send<MachineGroupTrial>('POST', path, wider)).body;
  expect(trial.effects).toMatchObject([{ of: 'policy "Quay only"', leaving: 0 }]);
  expect(trial.effects[0]?.joining).toBe(trial.machines - (network?.machines ?? 0));
  const { body: look } = await compare(table('QUAY-1;A101;10.77.0.1;;;;'), false);
  expect(look.effects).toEqual([{ of: 'policy "Quay only"', joining: 0, leaving: 1, examples: ['QUAY-1'] }]);
  const refused = await client.send<ErrorBody>('DELETE', `/directory/machine-groups/${network?.id ?? ''}`);
  expect([refused.status, refused.body.code]).toEqual([409, 'in-use']);
});

it.each<[string, object, string]>([
  ['a network that is none', { networks: ['10.1'] }, '“10.1” is not a network'],
  ['serial numbers that do not belong together', { serials: ['A1 - B2'] }, 'A1 - B2'],
  ['nothing at all', {}, 'Enter a network'],
  ['nothing but blanks', { names: ['  '] }, 'Enter a network'],
])('refuses a group of %s', async (_what, over, words) => {
  const { status, body } = await client.send<ErrorBody>(
    'POST',
    '/directory/machine-groups',
    group('Odd one', over),
  );
  expect([status, body.message]).toEqual([400, expect.stringContaining(words)]);
});

it.each<[string, string | Buffer, string]>([
  ['no names', 'Serial;IP\nA1;10.0.0.1', 'No column holds the names'],
  ['no rows', 'Name;Serial', 'no rows'],
  ['no text', Buffer.from([0, 1, 2, 3, 0, 255]), 'not a text file'],
  ['a broken entry', 'dn: cn=a\nobjectClass: device\ncn:: %%%\n', 'Line'],
])('refuses a file with %s, and changes nothing', async (_what, text, words) => {
  const before = (await find('')).total;
  const { status, body } = await compare(text);
  expect([status, body.code]).toEqual([422, 'file-refused']);
  expect(body.message).toContain(words);
  expect((await find('')).total).toBe(before);
});

describe('places', () => {
  const comparePlaces = async (text: string) => {
    const form = new FormData();
    form.append('file', new Blob([text]), 'places.csv');
    return client.send<PlaceComparison & ErrorBody>('POST', '/directory/places/comparisons', form);
  };
  const applyPlaces = (id: string) =>
    client.send<PlaceListView[] & ErrorBody>('POST', `/directory/places/comparisons/${id}/apply`, {});

  it('come from a list that was looked at, each with an empty folder of its own', async () => {
    const { body: look } = await comparePlaces(
      'Name;Description;Owner;Members;Size\nPier;Plans;ORLA.fenwick@merrowstrait.example;bea@merrowstrait.example;1\n../../etc;x;;;\nHall;;captain;;',
    );
    expect(look.counts).toEqual({ added: 1, changed: 0, unchanged: 0, refused: 2 });
    expect(look.ignored).toEqual(['Size']);
    const { body } = await applyPlaces(look.id);
    expect(body).toContainEqual({
      ...{ name: 'Pier', about: 'Plans', owner: 'orla.fenwick@merrowstrait.example' },
      members: ['bea@merrowstrait.example'],
    });
    expect(await running.application.get(MachinesService).places()).toContain('/Pier');
    const folders = readdirSync(running.config.places);
    expect(folders.some((name) => /^place-[0-9a-f-]{36}$/u.test(name))).toBe(true);
    expect((await applyPlaces(look.id)).status).toBe(404);
  });

  it('are changed and never removed, and not by a list that was compared with others', async () => {
    const late = (await comparePlaces('Name;Owner\nPier;ada@merrowstrait.example')).body;
    const first = (await comparePlaces('Name;Description\nPier;Other plans\nDock;New')).body;
    expect(first.counts).toEqual({ added: 1, changed: 1, unchanged: 0, refused: 0 });
    const { body } = await applyPlaces(first.id);
    expect(body.map(({ name, about }) => [name, about])).toEqual([
      ['Dock', 'New'],
      ['Pier', 'Other plans'],
    ]);
    expect((await applyPlaces(late.id)).body.code).toBe('changed-meanwhile');
    const odd = await comparePlaces('Size\n4');
    expect([odd.status, odd.body.message]).toEqual([
      422,
      expect.stringContaining('No column holds the names'),
    ]);
  });
});
