import { randomUUID } from 'node:crypto';
import { get } from 'node:http';
import type {
  IncidentDetail,
  IncidentPage,
  IntakeAnswer,
  IntakeVerdict,
  LedgerAnswer,
  LedgerDashboardView,
  LedgerDeedView,
  LedgerNewKey,
  LedgerRecordView,
  LedgerView,
  MailSummary,
  NewAgent,
  PhoneView,
  ResponseResult,
  SendMailResult,
  ThingView,
  TrustView,
} from '@lantern/contracts';
import { readTable } from './tables.js';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { PendingService } from '../src/movements/pending/pending.service.js';
import { PersonFactors } from '../src/movements/proof/person-factors.service.js';
import { RaisedTrustEntity } from '../src/movements/proof/proof.entity.js';
import { type Client, mailForm, publish, ruleOf, type Running, start, TEXT_ID } from './harness.js';

/** An open-ended export with its trailers (RFC 9110, 6.5), which `fetch` does not give. */
const streamedFrom = (address: string, key: string, what: string) =>
  new Promise<{ status: number; lines: string[]; trailers: NodeJS.Dict<string> }>((resolve, reject) => {
    const url = `${address}/api/stand-ins/ledger-interface/streams/${what}`;
    get(url, { headers: { authorization: `Bearer ${key}` } }, (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('end', () =>
        resolve({
          ...{ status: response.statusCode ?? 0, trailers: response.trailers },
          lines: Buffer.concat(chunks).toString('utf8').trim().split('\r\n'),
        }),
      );
    }).on('error', reject);
  });

const LEDGER = [{ kind: 'application', name: 'Booking and freight ledger' }];
const asksWho = (answer: string, minutes = 15, trusts = 'same-application') => [
  { answer, severity: 'medium', text: TEXT_ID, treatments: [{ kind: 'ask-who', minutes, trusts }] },
];

describe('business applications', () => {
  let running: Running;
  let client: Client;
  let agent: NewAgent;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    agent = (await client.send<NewAgent>('POST', '/agents', { name: 'The real ledger' })).body;
    const use = { kind: 'use', deeds: ['connect'], by: null, objects: [], reports: [] };
    await publish(
      client,
      'Exports',
      [
        ruleOf({ when: { kind: 'rows', atLeast: 30_000 }, answer: 'hold', endsPolicy: true }),
        ruleOf({ when: { kind: 'rows', atLeast: 5_001 }, bands: asksWho('note'), endsPolicy: true }),
        ruleOf({
          when: { kind: 'sum', of: 'rows', over: 'this-channel', atLeast: 5_001, hours: 24 },
          bands: asksWho('advise'),
        }),
        ruleOf({
          when: { kind: 'all', of: [use, { kind: 'rights', rights: ['*export*'] }] },
          bands: asksWho('ask', 0),
          ask: {
            reasons: [{ words: 'The team needs it', leads: 'goes-on' }],
            minutes: 30,
            otherwise: 'stays',
          },
        }),
      ],
      { channels: ['business'] },
    );
    const asMany = {
      kind: 'values',
      pattern: 'payment-card',
      certainty: 80,
      over: 'every-channel',
      atLeast: 4,
      hours: 48,
    };
    await publish(client, 'Cards over days', [ruleOf({ when: asMany })], { channels: ['endpoint'] });
  });
  afterAll(() => running.stop());

  const call = async <Answer>(path: string, body?: unknown) => {
    const response = await fetch(`${running.address}/api/intake/${path}`, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${agent.key}` },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    return { status: response.status, body: (await response.json()) as Answer & { message?: string } };
  };
  const hand = async (...movements: readonly object[]) =>
    (await call<IntakeAnswer>('movements', { movements })).body.results;
  const exported = (person: string, rows: number, over: object = {}, use: object = {}) => ({
    key: randomUUID(),
    channel: 'business',
    activity: 'export',
    person: `${person}@merrowstrait.example`,
    takenFrom: LEDGER,
    use: { deed: 'export', by: 'screen', objects: ['customers'], rows, ...use },
    ...over,
  });
  const export1 = async (...given: Parameters<typeof exported>) => {
    const [result] = await hand(exported(...given));
    expect(result).toMatchObject({ status: 'judged' });
    return result as IntakeVerdict & { status: 'judged' };
  };
  const streamed = (key: string, what: string) => streamedFrom(running.address, key, what);
  const codeOf = async (name: string): Promise<string> => {
    const { id } = await running.person(name);
    return (await client.get<PhoneView>(`/stand-ins/phone/${id}`)).body.code;
  };
  const prove = (id: string, code: string) => call<IntakeVerdict>(`movements/${id}/proof`, { code });
  const wrongFor = (code: string): string => String((Number(code) + 77_777) % 1_000_000).padStart(6, '0');

  it('keeps a large export until the person shows who they are, then lets the same one go on', async () => {
    const waiting = await export1('orla.fenwick', 9_000);
    expect(waiting).toMatchObject({
      answer: 'note',
      state: 'waiting',
      notice: {
        state: 'waiting',
        proof: { triesLeft: 3, minutes: 15, isDone: false },
        text: 'Use the portal.',
      },
    });
    const early = await call<IntakeVerdict>(`movements/${waiting.id}/reply`, {
      leads: 'goes-on',
      words: 'please',
    });
    expect(early).toMatchObject({ status: 409, body: { code: 'act-refused' } });
    const code = await codeOf('Orla Fenwick');
    expect((await prove(waiting.id, wrongFor(code))).body).toMatchObject({
      code: 'wrong-code',
      details: { left: 2 },
    });
    const proved = await prove(waiting.id, code);
    expect(proved.body).toMatchObject({
      state: 'went-on',
      notice: { state: 'went-on', decision: { by: 'Orla Fenwick' }, proof: { isDone: true, triesLeft: 2 } },
    });
    // By screen and over the interface alike, they are believed for a while, in this application alone.
    expect(await export1('orla.fenwick', 9_000, {}, { by: 'interface' })).toMatchObject({
      state: 'went-on',
      answer: 'note',
    });
    const elsewhere = [{ kind: 'application', name: 'Payroll' }];
    expect(await export1('orla.fenwick', 9_000, { takenFrom: elsewhere })).toMatchObject({
      state: 'waiting',
    });
    const history = await client.get<IncidentDetail>(`/incidents/${waiting.incident ?? 0}`);
    expect(JSON.stringify(history.body)).toContain('Confirmed with the second factor.');
    expect(JSON.stringify(history.body)).not.toContain(code);
  });

  it('shows who is believed, and asks again once that was ended or its time is over', async () => {
    const [trust] = (await client.get<TrustView[]>('/trusts')).body;
    expect(trust).toMatchObject({
      person: { name: 'Orla Fenwick' },
      place: 'application booking and freight ledger',
      holds: true,
    });
    expect((await client.send('DELETE', `/trusts/${trust?.id}`)).status).toBe(204);
    expect((await client.send('DELETE', `/trusts/${trust?.id}`)).status).toBe(404);
    expect(await export1('orla.fenwick', 9_000)).toMatchObject({ state: 'waiting' });
    const trusts = running.database.getRepository(RaisedTrustEntity);
    const since = new Date(Date.now() - 16 * 60_000);
    await trusts.update(trust?.id ?? '', {
      endedAt: null,
      since,
      until: new Date(since.getTime() + 15 * 60_000),
    });
    expect(await export1('orla.fenwick', 9_000)).toMatchObject({ state: 'waiting' });
  });

  it('ends after three wrong codes, and never takes a code twice', async () => {
    const bea = await codeOf('Bea Lindqvist');
    const first = await export1('bea.lindqvist', 6_000);
    for (const left of [2, 1, 0])
      expect((await prove(first.id, wrongFor(bea))).body).toMatchObject({
        code: 'wrong-code',
        details: { left },
      });
    expect((await call<IntakeVerdict>(`movements/${first.id}`)).body).toMatchObject({ state: 'refused' });
    expect((await prove(first.id, bea)).body).toMatchObject({ code: 'act-refused' });
    const second = await export1('bea.lindqvist', 6_000);
    const code = await codeOf('Bea Lindqvist');
    expect((await prove(second.id, code)).body).toMatchObject({ state: 'went-on' });
    const other = await export1('bea.lindqvist', 6_000, {
      takenFrom: [{ kind: 'application', name: 'Payroll' }],
    });
    expect((await prove(other.id, code)).body).toMatchObject({ code: 'wrong-code' });
  });

  it('ends when nobody answers in time, and a code that comes late changes nothing', async () => {
    const late = await export1('bea.lindqvist', 6_000, {
      takenFrom: [{ kind: 'application', name: 'Stores' }],
    });
    const until = Date.parse(late.notice?.proof?.until ?? '');
    await running.application.get(PendingService).sweep(new Date(until + 1));
    expect((await call<IntakeVerdict>(`movements/${late.id}`)).body).toMatchObject({
      state: 'taken-back',
      notice: { decision: { words: 'No reply in time.' } },
    });
    expect((await prove(late.id, '123456')).status).toBe(409);
  });

  it('refuses codes of everybody who guessed too often, and of people without a second factor', async () => {
    const waiting = await export1('goran.lorne', 6_000);
    expect((await prove(waiting.id, '123456')).body.message).toContain('no second factor');
    const factors = running.application.get(PersonFactors);
    const address = 'goran.lorne@merrowstrait.example';
    const code = await codeOf('Goran Lorne');
    const check = (given: string, now = new Date()) =>
      running.database.transaction((manager) => factors.check(manager, address, given, now));
    for (let tries = 0; tries < 12; tries += 1) expect(await check(wrongFor(code))).toBe('wrong');
    expect(await check(code)).toBe('too-many');
    expect(await check(code, new Date(Date.now() + 3_600_001))).not.toBe('too-many');
  });

  it('is outranked by a hold', async () => {
    expect(await export1('orla.fenwick', 40_000)).toMatchObject({
      answer: 'hold',
      state: 'waiting',
      notice: { state: 'waiting' },
    });
    expect((await export1('orla.fenwick', 40_000)).notice?.proof).toBeUndefined();
  });

  it('adds up small exports within the window, those that stayed left out, also where they come at once', async () => {
    const answers = await Promise.all(
      Array.from({ length: 8 }, () => export1('yannis.norbury', 1_000, {}, { by: 'interface' })),
    );
    // Five went on; the sixth and all after it wait, since what waits has not gone.
    const inState = (wanted: string) => answers.filter(({ state }) => state === wanted).length;
    expect([inState('went-on'), inState('waiting')]).toEqual([5, 3]);
    const moved = running.database.getRepository(MovementEntity);
    const went = await moved.findBy({ personAddress: 'yannis.norbury@merrowstrait.example', wentOn: true });
    expect(went.reduce((sum, { rowsTaken }) => sum + Number(rowsTaken), 0)).toBe(5_000);
    const waiting = answers.find(({ state }) => state === 'waiting');
    expect((await prove(waiting?.id ?? '', await codeOf('Yannis Norbury'))).body.state).toBe('went-on');
    const old = new Date(Date.now() - 25 * 3_600_000).toISOString();
    expect(await export1('yannis.norbury', 1_000, { at: old })).toMatchObject({
      state: 'went-on',
      answer: null,
    });
  });

  it('asks a question and who it is, and goes on only after both', async () => {
    const connect = {
      ...exported('mina.carrow', 0),
      activity: 'connect',
      use: { deed: 'connect', by: 'screen', rights: ['export bookings'] },
      putInto: [{ kind: 'host', host: 'in.growth.example' }],
    };
    const [result] = await hand(connect);
    const asked = result as IntakeVerdict & { status: 'judged' };
    expect(asked).toMatchObject({ answer: 'ask', state: 'waiting', notice: { proof: { isDone: false } } });
    const reply = { leads: 'goes-on', words: 'The team needs it' };
    expect((await call(`movements/${asked.id}/reply`, reply)).status).toBe(409);
    const proved = await prove(asked.id, await codeOf('Mina Carrow'));
    expect(proved.body).toMatchObject({ state: 'waiting', notice: { proof: { isDone: true } } });
    expect((await call<IntakeVerdict>(`movements/${asked.id}/reply`, reply)).body).toMatchObject({
      state: 'went-on',
    });
    // Each time: nobody is believed after it.
    const [again] = await hand({ ...connect, key: randomUUID() });
    expect(again).toMatchObject({ state: 'waiting', notice: { proof: { isDone: false } } });
  });

  it('counts different values over days on every channel, the same one once', async () => {
    const numbers = [
      '4539 1488 0343 6467',
      '6011 0009 9013 9424',
      '4111 1111 1111 1111',
      '5555 5555 5555 4444',
    ];
    const copied = (value: string, hoursAgo: number) => ({
      key: randomUUID(),
      channel: 'endpoint',
      activity: 'copy',
      person: 'per.halloran@merrowstrait.example',
      at: new Date(Date.now() - hoursAgo * 3_600_000).toISOString(),
      texts: [{ text: `card number ${value}` }],
    });
    const [first = '', second = '', third = '', fourth = ''] = numbers;
    const states = [];
    for (const [value, hoursAgo] of [
      [first, 60],
      [second, 40],
      [second, 30],
      [third, 20],
      [first, 2],
      [fourth, 1],
    ] as const) {
      const [result] = await hand(copied(value, hoursAgo));
      states.push(result?.status === 'judged' ? result.state : result);
    }
    // The first is out of the window by then; the same number again is no new value.
    expect(states).toEqual(['went-on', 'went-on', 'went-on', 'went-on', 'went-on', 'refused']);
  });

  it('asks who somebody is wherever they are present: in a mail, a chat and a program', async () => {
    await publish(
      client,
      'Cards ask who it is',
      [
        ruleOf({
          when: { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 80 },
          bands: asksWho('advise', 0),
        }),
      ],
      { channels: ['mail', 'chat', 'browser'] },
    );
    const address = 'tomas.reave@merrowstrait.example';
    const { id } = await running.person('Tomas Reave');
    const card = 'card 4539 1488 0343 6467';
    const sent = await client.send<SendMailResult>(
      'POST',
      '/stand-ins/mail/messages',
      mailForm({ person: id, to: ['desk@islandholidays.example'], body: card }),
    );
    expect(sent.body).toMatchObject({ status: 'waiting', message: { notice: { proof: { triesLeft: 3 } } } });
    const told = sent.body.status === 'waiting' ? sent.body.message.notice : null;
    const others = [
      { channel: 'chat', activity: 'write' },
      { channel: 'browser', activity: 'paste', putInto: [{ kind: 'host', host: 'a.example' }] },
    ];
    const waiting = await hand(
      ...others.map((over) => ({ key: randomUUID(), person: address, texts: [{ text: card }], ...over })),
    );
    expect(waiting).toMatchObject([{ state: 'waiting' }, { state: 'waiting' }]);
    const incident = `/stand-ins/phone/${id}/incidents/${told?.incident ?? 0}/proof`;
    expect((await client.send('POST', incident, { code: await codeOf('Tomas Reave') })).status).toBe(204);
    const mails = await client.get<MailSummary[]>(`/stand-ins/mail/${id}/messages?folder=sent`);
    expect(mails.body.map(({ to }) => to)).toEqual([['desk@islandholidays.example']]);
    // Turning back is always possible, and needs no code.
    const [chat] = waiting;
    const back = chat?.status === 'judged' ? chat.id : '';
    const turned = await call<IntakeVerdict>(`movements/${back}/reply`, {
      leads: 'stays',
      words: 'a mistake',
    });
    expect(turned.body).toMatchObject({ state: 'taken-back' });
  });

  it('refuses a use that no ledger could mean, in words', async () => {
    const [fraction, unknown, future] = await hand(
      exported('orla.fenwick', 1.5),
      exported('orla.fenwick', 5, {}, { deed: 'burn' }),
      exported('orla.fenwick', 5, {}, { signIn: { at: new Date(Date.now() + 3_600_000).toISOString() } }),
    );
    expect(fraction).toMatchObject({ status: 'refused', message: expect.stringContaining('use.rows') });
    expect(unknown).toMatchObject({ status: 'refused', message: expect.stringContaining('use.deed') });
    expect(future).toMatchObject({ status: 'refused', code: 'from-the-future' });
  });

  describe('the ledger', () => {
    let jun: string;
    const at = (path: string): string => `/stand-ins/ledger/${jun}${path}`;
    const program = async <Answer>(key: string, path: string, body?: unknown) => {
      const response = await fetch(`${running.address}/api/stand-ins/ledger-interface/${path}`, {
        method: body === undefined ? 'GET' : 'POST',
        headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      return { status: response.status, body: (await response.json()) as Answer };
    };
    const bytesOf = async (deed: string): Promise<Buffer> => {
      const response = await fetch(`${running.address}/api${at(`/deeds/${deed}/file`)}`, {
        headers: { cookie: client.cookie },
      });
      return Buffer.from(await response.arrayBuffer());
    };

    beforeAll(async () => {
      jun = (await running.person('Jun Abara')).id;
    });

    it('asks for a sign-in first, which is a movement itself', async () => {
      const early = await client.send('POST', at('/exports'), { report: 'freight', format: 'csv' });
      expect(early).toMatchObject({ status: 409, body: { message: 'Sign in to the ledger first.' } });
      const signedIn = await client.send<LedgerDeedView>('POST', at('/sign-in'), {
        ...{ country: 'NO', proof: 'second-factor', atWork: true },
      });
      expect(signedIn.body).toMatchObject({ deed: 'sign-in', state: 'went-on' });
      expect((await client.get<LedgerView>(at(''))).body.signIn?.id).toBe(signedIn.body.id);
    });

    it('writes real CSV and XLSX, with what begins like a formula kept from running', async () => {
      for (const format of ['csv', 'xlsx'] as const) {
        const { body } = await client.send<LedgerDeedView>('POST', at('/exports'), {
          ...{ report: 'freight', format, rows: 40, fields: ['Consignment', 'Goods'] },
        });
        expect(body).toMatchObject({
          state: 'went-on',
          facts: { rows: 40, columns: ['Consignment', 'Goods'] },
        });
        const rows = await readTable(format, await bytesOf(body.id));
        expect(rows).toHaveLength(41);
        expect(rows[1]).toEqual(['F-20000', 'timber']);
      }
    });

    it('keeps a big export until the phone’s code, then gives the file that was judged', async () => {
      const { body } = await client.send<LedgerDeedView>('POST', at('/exports'), {
        ...{ report: 'season', format: 'csv', rows: 6_000 },
      });
      expect(body).toMatchObject({ state: 'waiting', notice: { proof: { triesLeft: 3 } } });
      expect((await bytesOf(body.id)).toString()).toContain('act-refused');
      const { code } = (await client.get<PhoneView>(`/stand-ins/phone/${jun}`)).body;
      const other = await running.person('Orla Fenwick');
      const incident = `incidents/${body.notice?.incident ?? 0}/proof`;
      expect((await client.send('POST', `/stand-ins/phone/${other.id}/${incident}`, { code })).status).toBe(
        404,
      );
      expect((await client.send('POST', `/stand-ins/phone/${jun}/${incident}`, { code })).status).toBe(204);
      expect(await readTable('csv', await bytesOf(body.id))).toHaveLength(6_001);
      const view = (await client.get<LedgerView>(at(''))).body;
      expect(view.trusts).toHaveLength(1);
      expect(view.deeds.find(({ id }) => id === body.id)).toMatchObject({ state: 'went-on' });
    });

    it('holds programs to the same rules, by a key of the person', async () => {
      const { id, key } = (await client.send<LedgerNewKey>('POST', at('/keys'), { name: 'Night job' })).body;
      const few = await program<LedgerAnswer>(key, 'records/freight?limit=3');
      expect(few.body).toMatchObject({ state: 'went-on', fields: expect.arrayContaining(['Goods']) });
      expect(few.body.rows).toHaveLength(3);
      const [trust] = (await client.get<LedgerView>(at(''))).body.trusts;
      await client.send('DELETE', `/stand-ins/phone/${jun}/trusts/${trust?.id}`);
      const many = await program<LedgerAnswer>(key, 'records/customers?limit=4000');
      // What went on today and these are more than the sum allows.
      expect(many.body).toMatchObject({ state: 'waiting', rows: [], message: 'Use the portal.' });
      expect(many.body.until).not.toBeNull();
      const wrong = await program<{ code: string }>(key, `deeds/${many.body.id}/proof`, { code: '000000' });
      expect(wrong.body.code).toBe('wrong-code');
      expect((await program(key, 'records/pigeons')).status).toBe(404);
      expect((await program(`${key.slice(0, -1)}x`, 'records/freight')).status).toBe(401);
      await client.send('DELETE', at(`/keys/${id}`));
      expect((await program(key, 'records/freight')).status).toBe(401);
    });

    it('cuts an export whose size nobody knows where a rule stops it, and goes on once that is answered', async () => {
      const per = (await running.person('Per Halloran')).id;
      const made = await client.send<LedgerNewKey>('POST', `/stand-ins/ledger/${per}/keys`, {
        name: 'Stream',
      });
      const first = await streamed(made.body.key, 'bookings');
      // Batch by batch of 500: the one that would pass 5,000 is not sent.
      expect([first.status, first.lines.length - 1, first.trailers['x-rows']]).toEqual([200, 5_000, '5000']);
      const [state, id = ''] = (first.trailers['x-cut'] ?? '').split(' ');
      expect(state).toBe('waiting');
      const counted = await running.database
        .getRepository(MovementEntity)
        .findBy({ personAddress: 'per.halloran@merrowstrait.example', activity: 'export', wentOn: true });
      expect(counted.reduce((sum, { rowsTaken }) => sum + Number(rowsTaken), 0)).toBeGreaterThanOrEqual(
        5_000,
      );
      const code = await codeOf('Per Halloran');
      expect((await program(made.body.key, `deeds/${id}/proof`, { code })).status).toBe(200);
      const rest = await streamed(made.body.key, 'bookings?from=35000');
      expect([rest.lines.length - 1, rest.trailers['x-cut']]).toEqual([5_000, undefined]);
      expect(rest.lines[1]).toMatch(/^B-435000,/u);
      expect((await streamed(made.body.key, 'pigeons')).status).toBe(404);
    });

    it('opens dashboards as movements under their label, which exports inherit', async () => {
      const labelled = await client.send('PUT', at('/reports/income-by-route/label'), { label: '' });
      expect(labelled.status).toBe(200);
      type Shown = LedgerDashboardView;
      const shown = await client.send<Shown>('POST', at('/dashboards/claims-by-cause'));
      expect(shown.body.deed).toMatchObject({ deed: 'read', by: 'screen', state: 'waiting' });
      expect(shown.body.rows).toBeNull();
      const tomas = (await running.person('Tomas Reave')).id;
      await client.send('POST', `/stand-ins/ledger/${tomas}/sign-in`, {
        country: 'NO',
        proof: 'key',
        atWork: true,
      });
      const { body } = await client.send<Shown>(
        'POST',
        `/stand-ins/ledger/${tomas}/dashboards/claims-by-cause`,
      );
      // 600 claims of four causes, in turn.
      expect(body.rows?.map(([, records]) => records)).toEqual(['150', '150', '150', '150']);
      const again = await client.get<Shown>(`/stand-ins/ledger/${tomas}/deeds/${body.deed.id}/dashboard`);
      expect(again.body.rows).toEqual(body.rows);
      expect((await client.send('POST', at('/dashboards/season'))).status).toBe(404);
    });

    it('opens one record after another as movements, and shows nothing of one that does not go on', async () => {
      const opened = await client.send<LedgerRecordView>('POST', at('/records/claims/K-7000'));
      // The trust was ended: what was taken today asks again.
      expect(opened.body).toMatchObject({ deed: { state: 'waiting' }, fields: null });
      expect((await client.send('POST', at('/records/claims/K-1'))).status).toBe(404);
      const later = await client.get<LedgerRecordView>(at(`/deeds/${opened.body.deed.id}/record`));
      expect(later.body.fields).toBeNull();
    });

    it('takes notes between colleagues as movements, which others read once they may', async () => {
      const mina = (await running.person('Mina Carrow')).id;
      const note = (text: string) => {
        const form = new FormData();
        form.append('text', text);
        return client.send<ThingView>('POST', `/stand-ins/ledger/${mina}/notes`, form);
      };
      expect((await note('')).status).toBe(422);
      expect((await note('The scales on deck 2 are off')).body).toMatchObject({
        state: 'shown',
        notice: null,
      });
      const seen = await client.get<ThingView[]>(at('/notes'));
      expect(seen.body.map(({ text }) => text)).toEqual(['The scales on deck 2 are off']);
    });

    it('lets nothing through to an application that was cut off', async () => {
      const { body } = await client.send<LedgerDeedView>('POST', at('/connections'), {
        application: 'tide-times',
      });
      expect(body.state).toBe('waiting');
      const refused = await client.send<{ message: string }>('POST', at(`/connections/${body.id}/fetch`));
      expect(refused.status).toBe(409);
      expect(refused.body.message).toContain('not connected');
    });

    it('signs a person out from the desk: the ledger asks for a sign-in again, and nobody is believed', async () => {
      const signedIn = async () => (await client.get<LedgerView>(at(''))).body.signIn !== null;
      expect(await signedIn()).toBe(true);
      const mine = `person eq "jun.abara@merrowstrait.example"`;
      const page = await client.get<IncidentPage>(`/incidents?filter=${encodeURIComponent(mine)}`);
      const [incident] = page.body.rows;
      const respond = () =>
        client.send<ResponseResult[]>('POST', '/responses', {
          kind: 'sign-out',
          numbers: [incident?.number ?? 0],
        });
      expect((await respond()).body).toMatchObject([{ state: 'sent', reason: null }]);
      expect(await signedIn()).toBe(false);
      expect((await client.get<LedgerView>(at(''))).body.trusts).toEqual([]);
      expect((await respond()).body).toMatchObject([{ state: 'refused', reason: 'signed-in-nowhere' }]);
      const history = await client.get<IncidentDetail>(`/incidents/${incident?.number ?? 0}`);
      expect(JSON.stringify(history.body)).toContain('Signed Jun Abara out');
    });
  });
});
