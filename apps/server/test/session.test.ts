import { PASSWORD, type Running, start } from './harness.js';

let running: Running;
beforeAll(async () => {
  running = await start();
});
afterAll(() => running.stop());

const post = (path: string, body: object, headers: Record<string, string> = {}) =>
  fetch(`${running.address}/api${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify(body),
  });

describe('the door', () => {
  it('answers health without an account, with database and revision', async () => {
    const answer = await fetch(`${running.address}/api/health`);
    expect(await answer.json()).toEqual({
      ...{ status: 'ok', database: 'ok', smtp: 'open', revision: null },
      // Nothing was counted yet, and there is next to nothing to count.
      counts: 'database',
    });
  });

  it.each(['/incidents', '/patterns', '/policies', '/overview', '/events', '/lantern/set', '/people'])(
    'answers 401 on %s without sign-in',
    async (path) => {
      const answer = await fetch(`${running.address}/api${path}`);
      expect(answer.status).toBe(401);
      expect(await answer.json()).toMatchObject({ code: 'not-signed-in' });
    },
  );

  it('lets one account sign in from many windows at the same time', async () => {
    const credentials = { email: 'analyst@merrowstrait.example', password: PASSWORD };
    const all = await Promise.all(Array.from({ length: 8 }, () => post('/session', credentials)));
    expect(new Set(all.map(({ status }) => status))).toEqual(new Set([200]));
  });

  it('keeps the session in a cookie that scripts cannot read', async () => {
    const answer = await post('/session', { email: 'analyst@merrowstrait.example', password: PASSWORD });
    const cookie = answer.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/HttpOnly/i);
    expect(cookie).toMatch(/SameSite=Strict/i);
    expect(answer.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
  });

  it('tells browsers to guess nothing, to frame nothing, to keep nothing and to send nobody here', async () => {
    const { headers } = await fetch(`${running.address}/api/health`, {
      headers: { origin: 'https://elsewhere.example' },
    });
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('referrer-policy')).toBe('no-referrer');
    expect(headers.get('cache-control')).toBe('no-store');
    expect(headers.get('content-type')).toMatch(/^application\/json/u);
    const policy = headers.get('content-security-policy') ?? '';
    for (const part of ["default-src 'self'", "script-src 'self'", "frame-ancestors 'none'"])
      expect(policy).toContain(part);
    // No other origin may read an answer, and no browser is told of TLS where there is none.
    expect(headers.get('access-control-allow-origin')).toBeNull();
    expect(headers.get('strict-transport-security')).toBeNull();
    const asked = await fetch(`${running.address}/api/policies`, {
      ...{ method: 'OPTIONS', headers: { origin: 'https://elsewhere.example' } },
    });
    expect(asked.headers.get('access-control-allow-methods')).toBeNull();
  });

  it('takes no change without the token of the session', async () => {
    const client = await running.client();
    const answer = await post('/policies', {}, { cookie: client.cookie });
    expect(answer.status).toBe(403);
    expect(await answer.json()).toMatchObject({ code: 'csrf-missing' });
  });

  it('forgets the session when signing out', async () => {
    const client = await running.client();
    expect((await client.send('DELETE', '/session')).status).toBe(204);
    expect((await client.get('/session')).status).toBe(401);
  });

  it('names the field of a request that is not valid', async () => {
    const answer = await post('/session', { email: 'nobody', password: 5 });
    const body = (await answer.json()) as { code: string; fields: { field: string }[] };
    expect(body.code).toBe('invalid-request');
    expect(body.fields.map((field) => field.field)).toEqual(expect.arrayContaining(['email', 'password']));
  });

  it('gives an account only what it may', async () => {
    const auditor = await running.client('auditor@merrowstrait.example');
    expect((await auditor.get('/incidents')).status).toBe(200);
    expect(await auditor.send('POST', '/policies', {})).toMatchObject({
      status: 403,
      body: { code: 'not-permitted' },
    });
    expect((await auditor.send('POST', '/incidents/1/unmaskings', { reason: 'curious' })).status).toBe(403);
    expect((await auditor.get('/lantern/set')).status).toBe(403);
  });

  it('describes every route with a schema of the contracts, and answers an unknown path as JSON', async () => {
    expect((await fetch(`${running.address}/api/openapi.json`)).status).toBe(401);
    const { cookie } = await running.client();
    const fetched = (path: string) => fetch(`${running.address}/api${path}`, { headers: { cookie } });
    const api = (await (await fetched('/openapi.json')).json()) as {
      paths: Record<string, unknown>;
      components: { schemas: Record<string, unknown> };
    };
    const text = JSON.stringify(api);
    const wanted = [...text.matchAll(/#\/components\/schemas\/([^"]+)/g)].map((match) => match[1] ?? '');
    expect(Object.keys(api.paths).length).toBeGreaterThan(15);
    expect(wanted.filter((name) => !Object.hasOwn(api.components.schemas, name))).toEqual([]);
    expect(api.components.schemas).toHaveProperty('PolicyRequest.properties.policy');
    expect(text).toContain('#/components/schemas/SavePolicyRequest');
    expect(JSON.stringify(api.paths['/api/incidents'])).toContain('"name":"filter"');
    expect(await (await fetched('/nothing/here')).json()).toMatchObject({
      code: 'not-found',
    });
  });

  // Last: it uses up the attempts of this minute.
  it('slows down who guesses passwords', async () => {
    const statuses: number[] = [];
    for (let attempt = 0; attempt < 12; attempt += 1) {
      statuses.push(
        (await post('/session', { email: 'analyst@merrowstrait.example', password: `guess ${attempt}` }))
          .status,
      );
    }
    expect(statuses).toContain(401);
    expect(statuses.at(-1)).toBe(429);
  });
});
