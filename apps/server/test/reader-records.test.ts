/** Own records at a reader: looked for only where it may, with keys that are written for it and gone with its run. */
import { createDecipheriv, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ReaderView, RecordJob, RecordPreview } from '@lantern/contracts';
import type { RunView } from '@lantern/contracts/discovery';
import { Parts } from '../src/discovery/parts/parts.service.js';
import { PartEntity } from '../src/discovery/parts/part.entity.js';
import { ReaderEntity } from '../src/discovery/readers/reader.entity.js';
import { OwnKnowledge } from '../src/discovery/jobs/own-knowledge.service.js';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';
import { ReaderBeside, until } from './reader-program.js';

let running: Running;
let client: Client;
let reader: ReaderBeside;
let pattern: string;
let job: string;

const ROWS = Array.from(
  { length: 40 },
  (_unused, at) => `MS${104_000 + at},Ada Brandt${at},p${at}@example.org`,
);

beforeAll(async () => {
  running = await start();
  client = await running.client();
  pattern = await importRecords();
  const when = {
    kind: 'all',
    of: [{ kind: 'findings', pattern, atLeast: 1, distinct: true, certainty: 60 }],
  };
  await publish(client, 'Bookings', [ruleOf({ when })]);
  reader = new ReaderBeside(running, client);
  await reader.enrol();
  reader.start();
  reader.put('letter.txt', 'Dear Ada Brandt7, your booking MS104007 for p7@example.org is paid.');
  reader.put('other.txt', 'The gate opens at five.');
  job = await reader.job([await reader.place()]);
});

afterAll(async () => {
  await reader.close();
  await running.stop();
});

async function importRecords(): Promise<string> {
  const form = new FormData();
  form.append('file', new Blob([['Booking,Name,Mail', ...ROWS].join('\n')]), 'bookings.csv');
  const { body: preview } = await client.send<RecordPreview>('POST', '/records/uploads', form);
  const begun = await client.send<RecordJob>('POST', '/records', {
    ...{ upload: preview.upload, name: 'Bookings', about: '', key: { column: 0, kind: 'number' } },
    others: [
      { column: 1, kind: 'name' },
      { column: 2, kind: 'mail' },
    ],
    ...{ needed: 1, window: 150 },
  });
  const done = await until(
    async () => (await client.get<RecordJob>(`/records/jobs/${begun.body.id}`)).body,
    ({ status }) => status !== 'running',
  );
  return done.source ?? '';
}

const view = async () => (await client.get<ReaderView[]>('/discovery/readers')).body[0];
const found = async () =>
  (await reader.items('path eq "letter.txt"')).items[0]?.found.map(({ pattern: id }) => id) ?? [];
const allow = async (allowed: boolean) => {
  const { id = '' } = (await view()) ?? {};
  expect((await client.send('PUT', `/discovery/readers/${id}/own-records`, { allowed })).status).toBe(204);
};

describe('a reader', () => {
  it('says that it cannot look for them while it may not, and is given nothing', async () => {
    await reader.runs(job);
    expect(await found()).not.toContain(pattern);
    expect(await view()).toMatchObject({ holdsRecords: false, notLookedFor: ['Bookings'] });
    const entity = await running.database.manager.findOneByOrFail(ReaderEntity, { name: 'files-01' });
    await expect(running.application.get(OwnKnowledge).sealed(entity, randomUUID())).rejects.toMatchObject({
      code: 'not-permitted',
    });
  });

  it('finds them once it may, without being told to read everything again, and keeps nothing of it', async () => {
    await allow(true);
    const run: RunView = await reader.runs(job);
    expect(run).toMatchObject({ items: 2, readItems: 2, unchanged: 0 });
    expect(await found()).toContain(pattern);
    expect(await view()).toMatchObject({ holdsRecords: true, notLookedFor: [] });
    expect(await reader.runs(job)).toMatchObject({ readItems: 0, unchanged: 2 });
    expect(readFileSync(join(reader.data, 'reader.json'), 'utf8')).not.toContain(pattern);
  });

  it('reads again what it found with them, and nothing else, once it may no longer', async () => {
    await allow(false);
    expect(await reader.runs(job)).toMatchObject({ readItems: 1, unchanged: 1 });
    expect(await found()).not.toContain(pattern);
  });
});

describe('what a reader is given', () => {
  it('opens with its own key alone, for a part that it has in hand', async () => {
    await allow(true);
    const { manager } = running.database;
    const entity = await manager.findOneByOrFail(ReaderEntity, { name: 'files-01' });
    const knowledge = running.application.get(OwnKnowledge);
    await reader.stop();
    const place = { id: (await reader.items()).items[0]?.place.id ?? '', groupName: 'head office' };
    await running.application
      .get(Parts)
      .add(manager, [{ kind: 'read', place, runId: null, content: { items: [] } }]);
    const part = await manager.findOneByOrFail(PartEntity, { kind: 'read' });
    await expect(knowledge.sealed(entity, part.id)).rejects.toMatchObject({ code: 'changed-meanwhile' });
    await manager.update(PartEntity, { id: part.id }, { state: 'taken', readerId: entity.id });
    const { key, bytes } = await knowledge.sealed(entity, part.id);
    // Neither the pattern nor a hash of its records stands in the clear.
    expect(bytes.includes('Bookings')).toBe(false);
    expect(key.split('.')).toHaveLength(5);
    const wrong = createDecipheriv('aes-256-gcm', Buffer.alloc(32), bytes.subarray(0, 12));
    wrong.setAuthTag(bytes.subarray(-16));
    wrong.update(bytes.subarray(12, -16));
    expect(() => wrong.final()).toThrow();
  });
});
