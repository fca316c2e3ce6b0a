import type { DraftView, ErrorBody, LanternSet, PatternDetail, PatternSummary } from '@lantern/contracts';
import { type Client, publish, ruleOf, type Running, start } from './harness.js';

let running: Running;
let client: Client;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards', [ruleOf()]);
});
afterAll(() => running.stop());

const save = (id: string, weights: Record<string, number>, version: number) =>
  client.send<PatternDetail & ErrorBody>('PUT', `/patterns/${id}/weights`, { weights, version });

describe('weights of a ready pattern', () => {
  it('are kept in the draft, stand in the change set, and reach the Lantern', async () => {
    const saved = await save('payment-card', { shape: -6, check: 2.3 }, 0);
    expect(saved.status).toBe(200);
    // The second one is what ships, and so no change.
    expect(saved.body.ready).toMatchObject({ draftWeights: { shape: -6 }, version: 1 });
    expect(saved.body.state).toBe('changed');
    const draft = await client.send<DraftView>('GET', '/revisions/draft');
    expect(draft.body.changes).toContainEqual(
      expect.objectContaining({ subject: 'pattern', id: 'payment-card' }),
    );
    const lantern = await client.send<LanternSet>('GET', '/lantern/set');
    expect(lantern.body.drafts.own).toContainEqual(
      expect.objectContaining({ id: 'payment-card', weights: { shape: -6 } }),
    );
    expect(lantern.body.published?.own).toEqual([]);
  });

  it('of two authors the second is told', async () => {
    expect((await save('iban', { shape: -5 }, 0)).status).toBe(200);
    const late = await save('iban', { shape: -3 }, 0);
    expect([late.status, late.body.code]).toEqual([409, 'changed-meanwhile']);
    expect((await save('iban', { shape: -3 }, 1)).status).toBe(200);
  });

  it.each([
    ['a name that is no weight', { colour: 1 }],
    ['a weight beyond all bounds', { shape: 1e9 }],
    ['text for a number', { shape: 'heavy' as unknown as number }],
  ])('refuses %s and keeps nothing of it', async (_name, weights) => {
    const refused = await save('bic', weights, 0);
    expect([refused.status, refused.body.code]).toEqual([400, 'invalid-request']);
    expect((await client.send<PatternDetail>('GET', '/patterns/bic')).body.ready?.version).toBe(0);
  });

  it('are refused for what is no ready pattern', async () => {
    expect((await save('no-such-pattern', { shape: 1 }, 0)).status).toBe(404);
  });
});

describe('the list of patterns', () => {
  it('holds the library with names, countries, checks and use', async () => {
    const { body } = await client.send<PatternSummary[]>('GET', '/patterns');
    expect(body.length).toBeGreaterThanOrEqual(150);
    const pesel = body.find((pattern) => pattern.id === 'pl-pesel');
    expect(pesel).toMatchObject({ kind: 'identity', countries: ['PL'], usedBy: [], decided: 0 });
    expect(body.find((pattern) => pattern.id === 'payment-card')?.usedBy).toEqual(['Cards']);
  });
});
