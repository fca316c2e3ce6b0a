/** The content of an incident as it was, and what the screen showed: kept sealed, shown with a reason, deleted in time. */
import { randomBytes, randomUUID } from 'node:crypto';
import type {
  AroundView,
  EvidencePart,
  IncidentDetail,
  IncidentPage,
  IntakeResult,
  NewAgent,
  PicturesView,
} from '@lantern/contracts';
import { cardNumber, chance, grouped } from '@lantern/testkit';
import JSZip from 'jszip';
import { KeptOriginalEntity, KeptPicturesEntity } from '../src/incidents/kept/kept.entity.js';
import { Retention } from '../src/retention/retention.service.js';
import { agentOf, CARDS, type Client, publish, ruleOf, type Running, start } from './harness.js';

/** The smallest PNG: one white point. */
const PNG =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg==';
const FOUND = { kind: 'findings', pattern: 'payment-card', atLeast: 2, distinct: true, certainty: 80 };
let running: Running;
let client: Client;
let agent: NewAgent;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  agent = (await client.send<NewAgent>('POST', '/agents', { name: 'Laptops' })).body;
  await publish(
    client,
    'Pages',
    [
      ruleOf({
        when: {
          kind: 'all',
          of: [
            FOUND,
            { kind: 'file', kinds: [], names: ['counted*'], atLeastKilobytes: null, misnamed: false },
          ],
        },
        keep: 'counts',
        endsPolicy: true,
      }),
      ruleOf({ when: FOUND }),
    ],
    { channels: ['browser', 'endpoint'] },
  );
});
afterAll(() => running.stop());

const upload = async (over: object = {}): Promise<IntakeResult> => {
  const movement = {
    ...{
      key: randomUUID(),
      channel: 'browser',
      activity: 'upload',
      person: 'orla.fenwick@merrowstrait.example',
    },
    texts: [{ text: 'for the form' }],
    files: [{ name: '../list.csv', base64: Buffer.from(CARDS).toString('base64') }],
    pictures: [{ at: new Date().toISOString(), base64: PNG }],
    ...over,
  };
  const [result] = await agentOf(running, agent.key).hand(movement);
  return result as IntakeResult;
};
const incidentOf = async (result: IntakeResult): Promise<IncidentDetail> => {
  if (result.status !== 'judged') throw new Error(JSON.stringify(result));
  return (await client.get<IncidentDetail>(`/incidents/${result.incident ?? 0}`)).body;
};
const original = (number: number, by: Client = client, reason = 'The auditor asks') =>
  fetch(`${running.address}/api/incidents/${number}/original`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: by.cookie, 'x-csrf-token': by.session.csrfToken },
    body: JSON.stringify({ reason }),
  });

describe('the original', () => {
  it('comes back byte by byte, for whoever may see values, and the history says why', async () => {
    const incident = await incidentOf(await upload());
    expect(incident.original).toEqual({ bytes: 12 + CARDS.length, items: 2, kept: true });
    const answer = await original(incident.number);
    expect(answer.headers.get('content-type')).toBe('application/zip');
    expect(answer.headers.get('content-disposition')).toContain(`incident-${incident.number}-original.zip`);
    const archive = await JSZip.loadAsync(await answer.arrayBuffer());
    expect(await archive.file('file 1 _list.csv')?.async('string')).toBe(CARDS);
    expect(
      (await client.get<IncidentDetail>(`/incidents/${incident.number}`)).body.history.at(-1),
    ).toMatchObject({
      ...{ kind: 'unmasked', by: 'analyst', text: 'Original downloaded: The auditor asks' },
    });
    expect((await original(incident.number, client, '')).status).toBe(400);
    const auditor = await running.client('auditor@merrowstrait.example');
    expect((await original(incident.number, auditor)).status).toBe(403);
  });

  it('stands nowhere in the clear', async () => {
    const [row] = await running.database.getRepository(KeptOriginalEntity).find();
    expect(row?.sealed?.includes(Buffer.from('4539'))).toBe(false);
    expect(row?.sealed?.includes(Buffer.from('list.csv'))).toBe(false);
  });

  it('is not kept of a rule that keeps counts alone, nor where nothing was found', async () => {
    const base64 = Buffer.from(CARDS).toString('base64');
    const counted = await incidentOf(await upload({ files: [{ name: 'counted.txt', base64 }] }));
    expect(counted).toMatchObject({ original: null, pictures: [] });
    expect((await original(counted.number)).status).toBe(404);
    const before = await running.database.getRepository(KeptOriginalEntity).count();
    expect(await upload({ files: [] })).toMatchObject({ status: 'judged', incident: null });
    expect(await running.database.getRepository(KeptOriginalEntity).count()).toBe(before);
  });

  it('is named and not kept where it is too large', async () => {
    const file = { name: 'a.bin', base64: randomBytes(13 * 1024 * 1024).toString('base64') };
    const incident = await incidentOf(
      await upload({ texts: [{ text: CARDS }], files: [file, { ...file, name: 'b.bin' }] }),
    );
    expect(incident.original).toMatchObject({ items: 3, kept: false });
    expect((await original(incident.number)).status).toBe(404);
  });
});

describe('all that was found', () => {
  it('is shown masked, beyond the first of each part that are kept as evidence', async () => {
    const random = chance(7);
    const cards = Array.from({ length: 150 }, () => grouped(cardNumber(random)));
    const base64 = Buffer.from(
      cards.map((card) => `card ${card}, for a booking on the ferry\n`).join(''),
    ).toString('base64');
    const incident = await incidentOf(await upload({ files: [{ name: 'cards.txt', base64 }] }));
    expect(incident.parts[0]?.notShown).toBeGreaterThan(50);
    const { body } = await client.get<EvidencePart[]>(`/incidents/${incident.number}/findings`);
    const part = body.find(({ path }) => path.join('').includes('cards.txt'));
    expect(part?.notShown).toBe(0);
    const marked = part?.excerpts.flatMap(({ pieces }) => pieces.filter((piece) => 'pattern' in piece)) ?? [];
    expect(marked).toHaveLength(150);
    expect(JSON.stringify(body)).not.toContain(cards[120]);
    expect(marked.at(-1)?.text).toMatch(/^[• ]+\d{4}$/u);
  });

  it('says so where the original is not kept', async () => {
    const base64 = Buffer.from(CARDS).toString('base64');
    const counted = await incidentOf(await upload({ files: [{ name: 'counted.txt', base64 }] }));
    expect((await client.get(`/incidents/${counted.number}/findings`)).status).toBe(404);
  });
});

describe('the title of the window', () => {
  it('is shown and found, without long numbers', async () => {
    const window = 'Claim 4539 1488 0343 6467 - Claims desk';
    const incident = await incidentOf(await upload({ window }));
    expect(incident.way?.window).toMatch(/^Claim •[• ]+6467 - Claims desk$/u);
    const filter = encodeURIComponent('window co "Claims desk"');
    const { rows } = (await client.get<IncidentPage>(`/incidents?filter=${filter}`)).body;
    expect(rows.map(({ number }) => number)).toEqual([incident.number]);
  });
});

describe('what the screen showed', () => {
  it('is shown with a reason alone', async () => {
    const at = new Date(Date.now() - 60_000).toISOString();
    const incident = await incidentOf(
      await upload({
        pictures: [
          { at, base64: PNG },
          { at, base64: PNG },
        ],
      }),
    );
    expect(incident.pictures).toEqual([at, at]);
    const span = {
      from: new Date(Date.now() - 3_600_000).toISOString(),
      to: new Date(Date.now() + 60_000).toISOString(),
    };
    const line = new URLSearchParams({ about: 'person', incident: String(incident.number), ...span });
    const { marks } = (await client.get<AroundView>(`/incidents/around?${line.toString()}`)).body;
    expect(marks).toContainEqual({ kind: 'picture', at, incident: incident.number });
    const path = `/incidents/${incident.number}/pictures`;
    expect((await client.send('POST', path, {})).status).toBe(400);
    const { body } = await client.send<PicturesView>('POST', path, { reason: 'Which window was it?' });
    expect(body.pictures).toEqual([
      { at, type: 'image/png', base64: PNG },
      { at, type: 'image/png', base64: PNG },
    ]);
    expect(
      (await client.get<IncidentDetail>(`/incidents/${incident.number}`)).body.history.at(-1)?.text,
    ).toBe('Pictures shown: Which window was it?');
  });

  it.each([
    ['something that is no picture', { base64: Buffer.from('<svg onload=alert(1)>').toString('base64') }],
    ['what is not in base 64', { base64: '!!' }],
    ['a time far away', { at: new Date(Date.now() - 6 * 60_000).toISOString() }],
    ['no time at all', { at: 'soon' }],
  ])('refuses %s and says which', async (_what, over) => {
    const picture = { at: new Date().toISOString(), base64: PNG, ...over };
    const fine = { at: new Date().toISOString(), base64: PNG };
    expect(await upload({ pictures: [fine, picture] })).toMatchObject({
      ...{ status: 'refused', code: 'invalid-request', message: expect.stringContaining('pictures.1') },
    });
  });

  it('takes five at most', async () => {
    const pictures = Array.from({ length: 6 }, () => ({ at: new Date().toISOString(), base64: PNG }));
    expect(await upload({ pictures })).toMatchObject({ status: 'refused', code: 'invalid-request' });
  });

  it('goes earlier than the rest, and the keys with it', async () => {
    const incident = await incidentOf(await upload());
    const { movementId } = await running.database
      .getRepository(KeptPicturesEntity)
      .findOneByOrFail({ movementId: await movementOf(incident.number) });
    await running.database.query('UPDATE movement SET at = NOW(3) - INTERVAL 61 DAY WHERE id = ?', [
      movementId,
    ]);
    expect((await client.send('PUT', '/retention/kinds/pictures', { days: 60 })).status).toBe(200);
    await running.application.get(Retention).sweep(new Date());
    const after = (await client.get<IncidentDetail>(`/incidents/${incident.number}`)).body;
    expect(after.pictures).toEqual([]);
    expect(after.original?.kept).toBe(true);
    expect((await original(incident.number)).status).toBe(200);
  });

  it('is refused on a channel that keeps findings alone, which keeps no original either', async () => {
    await client.send('PUT', '/journal/browser', { keeps: 'findings', days: 45 });
    expect(await upload()).toMatchObject({
      ...{ status: 'refused', code: 'invalid-request', message: expect.stringContaining('findings only') },
    });
    expect(await incidentOf(await upload({ pictures: [] }))).toMatchObject({ original: null, pictures: [] });
  });
});

async function movementOf(number: number): Promise<string> {
  const [row] = await running.database.query<{ movementId: string }[]>(
    'SELECT movementId FROM incident WHERE number = ?',
    [number],
  );
  return row?.movementId ?? '';
}
