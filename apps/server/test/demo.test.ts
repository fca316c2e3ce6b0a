import { jest } from '@jest/globals';
import type {
  CaseView,
  IncidentPage,
  ListCounts,
  MailSummary,
  OverviewView,
  SendMailResult,
} from '@lantern/contracts';
import { refundList } from '@lantern/demo';
import { chance, xlsxFile } from '@lantern/testkit';
import { refundRows } from '@lantern/demo';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { DemoService } from '../src/demo/demo.service.js';
import { DemoState } from '../src/demo/demo-state.js';
import { DataKeyEntity } from '../src/platform/keys/data-key.entity.js';
import { Trail } from '../src/platform/trail/trail.service.js';
import { type Client, mailForm, OUTSIDE, type Running, start } from './harness.js';

// Judging the whole month takes a while.
jest.setTimeout(480_000);

/** Share of the demo's past weeks: enough for every scene. */
const PAST_PART = 0.04;

let running: Running;
let client: Client;
const said: string[] = [];

beforeAll(async () => {
  running = await start();
  // As after a load that was cut off: what it left is emptied away first.
  await running.application.get(DemoState).note('begun');
  await running.application.get(Trail).add({ actor: 'somebody', action: 'signed-in' });
  await running.application.get(DemoService).prepare('merrow', (text) => said.push(text), PAST_PART);
  const answer = await fetch(`${running.address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'ines.sorrel@merrowstrait.example', password: 'lantern-demo' }),
  });
  const session = (await answer.json()) as { csrfToken: string };
  const headers = {
    cookie: answer.headers.get('set-cookie')?.split(';')[0] ?? '',
    'x-csrf-token': session.csrfToken,
  };
  client = {
    session: session as Client['session'],
    cookie: headers.cookie,
    get: async <Answer>(path: string) => {
      const response = await fetch(`${running.address}/api${path}`, { headers });
      return { status: response.status, body: (await response.json()) as Answer };
    },
    send: async <Answer>(method: string, path: string, body?: unknown) => {
      const response = await fetch(`${running.address}/api${path}`, {
        method,
        headers,
        body: body as FormData,
      });
      return { status: response.status, body: (await response.json()) as Answer };
    },
  };
});
afterAll(() => running.stop());

const sendRefunds = async (cards: number, to: string[]) => {
  const { id } = await running.person('Orla Fenwick');
  const bytes = await xlsxFile('Refunds', refundRows(chance(cards), cards));
  const form = mailForm({ person: id, to, files: [{ name: 'refunds.xlsx', bytes }] });
  return (await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form)).body.status;
};

describe('the demo as it ships', () => {
  it('says what it does while loading, and is not loaded twice', async () => {
    expect(said.join(' ')).toMatch(/judging \d+ mails of the last 30 days/);
    const movements = await running.database.getRepository(MovementEntity).count();
    const accounts = await running.application.get(DemoService).prepare('merrow', () => undefined);
    expect(accounts.map((account) => account.email)).toContain('ines.sorrel@merrowstrait.example');
    expect(await running.database.getRepository(MovementEntity).count()).toBe(movements);
    // A load that begins anew leaves the trail alone, and the key that everything hangs on.
    expect(await running.application.get(Trail).check()).toMatchObject({ whole: true });
    const keys = running.database.getRepository(DataKeyEntity);
    const kept = await keys.findOneByOrFail({ scope: 'installation' });
    expect(running.config.keys.unwrap(kept)).toEqual(running.config.keys.installation);
    expect(await keys.count()).toBe(movements + 1);
  });

  it('holds incidents with a past, each from a judged movement', async () => {
    const counts = async (line: string) =>
      (await client.get<ListCounts>(`/incidents/counts?filter=${encodeURIComponent(line)}`)).body;
    const all = await counts('');
    const month = await counts('time ge "30 days ago"');
    expect(month.incidents).toBeGreaterThan(150);
    expect(month.incidents).toBeLessThan(340);
    expect(await counts('time lt "86 days ago"')).toMatchObject({ movements: 0 });
    expect(all.movements).toBeGreaterThan(all.incidents * 3);
    for (const severity of ['low', 'medium', 'high', 'critical'])
      expect((await counts(`severity eq "${severity}"`)).incidents).toBeGreaterThan(0);
    // What the scenes of the past are there for.
    for (const line of [
      'outcome eq "false-positive"',
      'override eq "approved"',
      'overdue eq true',
      'case pr',
    ])
      expect({ line, count: (await counts(line)).incidents > 0 }).toEqual({ line, count: true });
    const judged = await running.database.getRepository(MovementEntity).count();
    expect(judged).toBe(all.movements);
  });

  it('tells the leaver by a case over two channels', async () => {
    const line = 'case pr and destination eq "private.mail@postbox.example" and department eq "Treasury"';
    const { rows } = (await client.get<IncidentPage>(`/incidents?filter=${encodeURIComponent(line)}`)).body;
    const { attempts } = (await client.get<CaseView>(`/incidents/${rows[0]?.number ?? 0}/case`)).body;
    expect(attempts.length).toBeGreaterThan(4);
    expect(new Set(attempts.map(({ row }) => row.channel))).toEqual(new Set(['mail', 'browser']));
  });

  it('shows the figures of the strip', async () => {
    expect((await client.get<OverviewView>('/overview')).body).toMatchObject({
      organisation: 'Merrow Strait Lines',
      revision: { number: expect.any(Number) as number, name: 'First light' },
      patterns: { changed: 0 },
      policies: { total: 9, changed: 1, problems: 0 },
    });
  });

  // The bands of the demo's first policy, as its README tells them.
  it.each([
    [25, OUTSIDE, 'refused', 1],
    [24, OUTSIDE, 'waiting', 1],
    [5, OUTSIDE, 'waiting', 1],
    [4, OUTSIDE, 'sent', 1],
    [25, 'bea.lindqvist@merrowstrait.example', 'sent', 0],
    [25, 'settlements@cardprocessor.example', 'sent', 0],
  ])('answers a sheet of %d cards to %s: %s', async (cards, to, status, incidents) => {
    const before = (await client.get<ListCounts>('/incidents/counts')).body.incidents;
    expect(await sendRefunds(cards, [to])).toBe(status);
    expect((await client.get<ListCounts>('/incidents/counts')).body.incidents - before).toBe(incidents);
  });

  it('fills mailboxes that people can look into', async () => {
    const { id } = await running.person('Orla Fenwick');
    const mails = (await client.get<MailSummary[]>(`/stand-ins/mail/${id}/messages`)).body;
    expect(mails.length).toBeGreaterThan(5);
    expect(await refundList(chance(1), 3, 46)).toMatchObject({
      name: expect.stringContaining('week-46') as string,
    });
  });
});
