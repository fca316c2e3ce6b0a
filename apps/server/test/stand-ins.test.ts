import type {
  IncidentPage,
  ResponseResult,
  DriveFileDetail,
  OpenedView,
  RoomView,
  TargetView,
  ThingView,
  WaitingView,
} from '@lantern/contracts';
import { DriveShareEntity } from '../src/stand-ins/drive/drive.entity.js';
import { DriveShares } from '../src/stand-ins/drive/drive-shares.service.js';
import { IncidentEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { unreadablePart } from '@lantern/files/inspect';
import { InspectionService } from '../src/inspection/inspection.service.js';
import { PendingService } from '../src/movements/pending/pending.service.js';
import {
  CARDS,
  type Client,
  OUTSIDE,
  policyOf,
  publish,
  ruleOf,
  type Running,
  start,
  verdictsOf,
} from './harness.js';

const textForm = (text: string, over: Record<string, string> = {}): FormData => {
  const form = new FormData();
  for (const [name, value] of Object.entries({ text, ...over })) form.append(name, value);
  return form;
};
const fileForm = (name: string, content: string, over: Record<string, string> = {}): FormData => {
  const form = new FormData();
  for (const [field, value] of Object.entries(over)) form.append(field, value);
  form.append('file', new Blob([content]), name);
  return form;
};
const CARD = {
  kind: 'findings',
  pattern: 'payment-card',
  atLeast: 1,
  distinct: true,
  certainty: 80,
};
const LEAVES = { kind: 'recipient', quantity: 'any', side: 'outside' };

describe('the stand-ins', () => {
  let running: Running;
  let client: Client;
  let second: Client;
  let orla: string;
  let bea: string;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    second = await running.client('second@merrowstrait.example');
    orla = (await running.person('Orla Fenwick')).id;
    bea = (await running.person('Bea Lindqvist')).id;
    const cards = { when: { kind: 'all', of: [CARD, LEAVES] } };
    await publish(client, 'Chats', [ruleOf({ ...cards, override: { mayAsk: {}, decides: 'approvers' } })], {
      channels: ['chat'],
    });
    const iban = { kind: 'findings', pattern: 'iban', atLeast: 1, distinct: true, certainty: 60 };
    await publish(
      client,
      'Accounts in chats',
      [
        ruleOf({
          when: iban,
          answer: 'ask',
          ask: { reasons: [{ words: 'Take it back', leads: 'stays' }], minutes: 5, otherwise: 'stays' },
        }),
      ],
      { channels: ['chat'] },
    );
    await publish(client, 'Drives', [ruleOf(cards)], { channels: ['drive'] });
    await publish(
      client,
      'Desks',
      [
        ruleOf({
          when: { kind: 'taken-from', spots: [{ kind: 'application', name: 'Booking system' }] },
          unless: {
            kind: 'put-into',
            spots: [
              { kind: 'application', name: 'Booking system' },
              { kind: 'application', name: 'Manifest editor' },
            ],
          },
          override: { mayAsk: {}, decides: 'approvers' },
        }),
        ruleOf({
          answer: 'ask',
          when: { kind: 'all', of: [CARD, LEAVES] },
          ask: { reasons: [{ words: 'Wrong page', leads: 'stays' }], minutes: 5, otherwise: 'stays' },
        }),
      ],
      { channels: ['endpoint', 'browser'] },
    );
  });
  afterAll(() => running.stop());

  const incidents = () => running.database.getRepository(IncidentEntity).count();

  describe('chat', () => {
    let room: RoomView;
    const rooms = (player: string) => `/stand-ins/chat/${player}/rooms`;
    const write = async (text: string, player = orla) =>
      (await client.send<ThingView>('POST', `${rooms(player)}/${room.id}/things`, textForm(text))).body;
    const seenBy = async (player: string) =>
      (await client.get<ThingView[]>(`${rooms(player)}/${room.id}/things`)).body.map(({ text }) => text);

    beforeEach(async () => {
      const members = ['bea.lindqvist@merrowstrait.example', OUTSIDE];
      room = (await client.send<RoomView>('POST', rooms(orla), { name: 'Groups', members })).body;
    });

    it('counts guests as outside, and shows what goes on to everybody in the room', async () => {
      expect(room.members.map(({ guest }) => guest)).toEqual([false, false, true]);
      expect(await write('Good morning')).toMatchObject({ state: 'shown', notice: null });
      expect(await seenBy(OUTSIDE)).toEqual(['Good morning']);
      expect((await client.get(`${rooms('purser@oldharbour.example')}/${room.id}/things`)).status).toBe(404);
    });

    // The account of the examples of ISO 13616, as the registry prints it for Germany.
    it('asks a guest as anybody, who answers for themselves alone', async () => {
      const answer = (id: string, player: string) =>
        client.send('POST', `/stand-ins/things/${player}/${id}/reply`, {
          leads: 'goes-on',
          words: 'It is mine',
        });
      const asked = await write('Pay to IBAN DE89 3704 0044 0532 0130 00', OUTSIDE);
      expect(asked).toMatchObject({ state: 'waiting', notice: { state: 'waiting' } });
      expect((await answer(asked.id, 'purser@oldharbour.example')).status).toBe(404);
      expect((await answer(asked.id, OUTSIDE)).status).toBe(204);
      expect(await seenBy(orla)).toEqual(['Pay to IBAN DE89 3704 0044 0532 0130 00']);
    });

    it('withholds from readers, explains to the author, and lets the author take the values out', async () => {
      const before = await incidents();
      const thing = await write(`Please refund ${CARDS}`);
      expect(thing).toMatchObject({
        state: 'withheld',
        notice: { state: 'refused', text: 'Use the portal.', outside: [OUTSIDE] },
      });
      expect(await seenBy(OUTSIDE)).toEqual([]);
      expect(await seenBy(bea)).toEqual([]);
      expect(await incidents()).toBe(before + 1);
      const fixed = await client.send<ThingView>(
        'POST',
        `/stand-ins/things/${orla}/${thing.id}/without-values`,
      );
      expect(fixed.body).toMatchObject({ state: 'shown', edited: true });
      expect(await seenBy(OUTSIDE)).toEqual(['Please refund card [taken out] and card [taken out]']);
    });

    it('judges edits: readers keep what they saw until the change goes through', async () => {
      const thing = await write('The list follows');
      const path = `/stand-ins/things/${orla}/${thing.id}`;
      const edited = await client.send<ThingView>('PUT', path, { text: `The list: ${CARDS}` });
      expect(edited.body).toMatchObject({ state: 'withheld', stillShown: 'The list follows' });
      expect(await seenBy(OUTSIDE)).toEqual(['The list follows']);
      await client.send('PUT', path, { text: 'The list is in the portal' });
      expect(await seenBy(OUTSIDE)).toEqual(['The list is in the portal']);
    });

    it('judges files, and lets readers have only those that went on', async () => {
      const form = textForm('See the file');
      form.append('files', new Blob([CARDS]), 'cards.txt');
      const { body: thing } = await client.send<ThingView>('POST', `${rooms(orla)}/${room.id}/things`, form);
      expect(thing).toMatchObject({ state: 'withheld', files: [{ name: 'cards.txt' }] });
      const file = (player: string) =>
        fetch(`${running.address}/api/stand-ins/things/${player}/${thing.id}/files/0`, {
          headers: { cookie: client.cookie },
        });
      expect((await file(encodeURIComponent(OUTSIDE))).status).toBe(404);
      expect(await (await file(orla)).text()).toBe(CARDS);
      const clean = await client.send('POST', `/stand-ins/things/${orla}/${thing.id}/without-values`);
      expect(clean).toMatchObject({ status: 409, body: { code: 'act-refused' } });
    });

    it('goes on without the guest, as the room then is', async () => {
      const thing = await write(CARDS);
      await client.send('DELETE', `${rooms(orla)}/${room.id}/members/${encodeURIComponent(OUTSIDE)}`);
      const again = await client.send<ThingView>('PUT', `/stand-ins/things/${orla}/${thing.id}`, {
        text: CARDS,
      });
      expect(again.body.state).toBe('shown');
      expect(await seenBy(bea)).toEqual([CARDS]);
      expect((await client.get(`${rooms(OUTSIDE)}/${room.id}/things`)).status).toBe(404);
    });

    it('frees what somebody else lets go, and keeps with the incident what was said', async () => {
      const thing = await write(CARDS);
      await client.send('POST', `/stand-ins/things/${orla}/${thing.id}/override`, {
        words: 'The agency asked',
      });
      const waiting = (await second.get<WaitingView[]>('/waiting')).body.find(
        ({ words }) => words === 'The agency asked',
      );
      expect(waiting).toMatchObject({ channel: 'chat', kind: 'override', refusal: null });
      await second.send('POST', `/waiting/${waiting?.id ?? ''}/decision`, {
        goesOn: true,
        words: 'Fine once',
      });
      expect(await seenBy(OUTSIDE)).toEqual([CARDS]);
      const number = thing.notice?.incident ?? 0;
      const detail = await client.get<{ history: { text: string | null }[] }>(`/incidents/${number}`);
      expect(detail.body.history.map(({ text }) => text).join()).toContain('The agency asked');
    });

    it('marks in the queue what its author calls a false finding', async () => {
      const thing = await write(CARDS);
      await client.send('POST', `/stand-ins/things/${orla}/${thing.id}/report`, {
        words: 'These are order numbers',
      });
      const { body } = await client.get<{ rows: { number: number; reported: boolean }[] }>(
        '/incidents?filter=reported%20eq%20true&order=-time',
      );
      expect(body.rows[0]).toMatchObject({ number: thing.notice?.incident, reported: true });
    });

    it('refuses a room with somebody who has no address, and guests who open one', async () => {
      expect((await client.send('POST', rooms(orla), { name: 'Odd', members: ['nobody'] })).status).toBe(422);
      expect((await client.send('POST', rooms(OUTSIDE), { name: 'Odd', members: [OUTSIDE] })).status).toBe(
        403,
      );
    });
  });

  describe('drive', () => {
    const drive = (player: string) => `/stand-ins/drive/${encodeURIComponent(player)}`;
    const put = async (name: string, content: string) =>
      (
        await client.send<DriveFileDetail>(
          'POST',
          `${drive(orla)}/files`,
          fileForm(name, content, { folder: '/Groups' }),
        )
      ).body;
    const share = async (id: string, request: object) =>
      (await client.send<DriveFileDetail>('POST', `${drive(orla)}/files/${id}/shares`, request)).body.shares;
    const opened = async (id: string, player = OUTSIDE) =>
      (await client.get<OpenedView>(`${drive(player)}/files/${id}`)).body;

    it('says what stays inside before anybody tries, and offers the narrower link', async () => {
      const file = await put('early.txt', `Refunds: ${CARDS}`);
      expect(file.restriction).toMatchObject({
        policyName: 'Drives',
        found: [{ distinct: 2 }],
        answer: 'block',
      });
      expect(await share(file.id, { link: 'whoever-holds-it' })).toMatchObject([
        { state: 'refused', token: null, notice: { outside: ['anybody with the link'] } },
      ]);
      expect(await share(file.id, { link: 'whole-house' })).toMatchObject([
        { state: 'refused' },
        { state: 'open' },
      ]);
      expect(await opened(file.id, bea)).toMatchObject({ status: 'open' });
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'not-for-you' });
    });

    it('acts backwards on what was given, and lifts by itself', async () => {
      const file = await put('backwards.txt', 'Departures');
      const [toPartner] = await share(file.id, { address: OUTSIDE });
      const [, link] = await share(file.id, { link: 'whoever-holds-it' });
      expect([toPartner?.state, link?.state]).toEqual(['open', 'open']);
      expect(await opened(file.id)).toMatchObject({
        status: 'open',
        file: { text: 'Departures', restriction: null },
      });

      const before = await incidents();
      const { body: changed } = await client.send<DriveFileDetail>(
        'PUT',
        `${drive(orla)}/files/${file.id}/text`,
        {
          text: `Departures ${CARDS}`,
          version: file.version,
        },
      );
      expect(changed).toMatchObject({
        outsideNow: 0,
        shares: [{ state: 'withdrawn' }, { state: 'withdrawn', token: null }],
      });
      expect(await incidents()).toBe(before + 2);
      // A withdrawn link stays withdrawn for its holder, however often it is tried.
      for (let round = 0; round < 2; round += 1) {
        expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'withdrawn' });
        expect((await client.get(`${drive(OUTSIDE)}/links/${link?.token ?? ''}`)).body).toMatchObject({
          status: 'closed',
          why: 'withdrawn',
        });
        const bytes = await fetch(
          `${running.address}/api${drive(OUTSIDE)}/links/${link?.token ?? ''}/content`,
          {
            headers: { cookie: client.cookie },
          },
        );
        expect(bytes.status).toBe(403);
      }
      const cleaned = await client.send<DriveFileDetail>(
        'POST',
        `${drive(orla)}/files/${file.id}/without-values`,
      );
      expect(cleaned.body).toMatchObject({
        restriction: null,
        shares: [{ state: 'open' }, { state: 'open' }],
      });
      expect(await opened(file.id)).toMatchObject({ status: 'open' });
    });

    it('is withdrawn from the desk, with its incident, and can be shared again', async () => {
      const when = { kind: 'file', kinds: [], names: ['noted*'], atLeastKilobytes: null, misnamed: false };
      await publish(client, 'Noted', [ruleOf({ answer: 'note', when })], { channels: ['drive'] });
      const file = await put('noted.txt', 'Departures');
      await share(file.id, { address: OUTSIDE });
      expect((await opened(file.id)).status).toBe('open');
      const { body } = await client.get<IncidentPage>('/incidents?order=-number&limit=1');
      const request = { kind: 'take-back', numbers: [body.rows[0]?.number] };
      const results = (await client.send<ResponseResult[]>('POST', '/responses', request)).body;
      expect(results.map(({ state }) => state)).toEqual(['sent']);
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'not-for-you' });
      expect((await client.send<ResponseResult[]>('POST', '/responses', request)).body[0]?.reason).toBe(
        'nothing-to-take-back',
      );
      await share(file.id, { address: OUTSIDE });
      expect((await opened(file.id)).status).toBe('open');
    });

    it('stays open after somebody let it go, until what is in it changes', async () => {
      await publish(
        client,
        'Asked about',
        [
          ruleOf({
            when: { kind: 'file', kinds: [], names: ['granted*'], atLeastKilobytes: null, misnamed: false },
            override: { mayAsk: {}, decides: 'approvers' },
          }),
        ],
        { channels: ['drive'] },
      );
      const file = await put('granted.txt', 'Departures');
      const [refused] = await share(file.id, { address: OUTSIDE });
      expect(refused?.state).toBe('refused');
      const words = 'The agency prints them';
      await client.send('POST', `${drive(orla)}/shares/${refused?.id ?? ''}/override`, { words });
      const pending = (await second.get<WaitingView[]>('/waiting')).body.find((each) => each.words === words);
      await second.send('POST', `/waiting/${pending?.id ?? ''}/decision`, { goesOn: true, words: 'Once' });
      expect(await opened(file.id)).toMatchObject({ status: 'open' });

      await client.send('POST', '/revisions', { name: 'r', reason: 'test' });
      await running.application.get(DriveShares).followRevision();
      expect(await opened(file.id)).toMatchObject({ status: 'open' });
      const { version } = file;
      await client.send('PUT', `${drive(orla)}/files/${file.id}/text`, { text: 'Arrivals', version });
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'withdrawn' });
    });

    it('leaves a movement for each time it is opened, also for the same person again', async () => {
      const of = () => running.database.getRepository(MovementEntity).countBy({ channel: 'drive' });
      const file = await put('again.txt', 'Departures');
      const before = await of();
      const [given] = await share(file.id, { address: OUTSIDE });
      await client.send('DELETE', `${drive(orla)}/shares/${given?.id ?? ''}`);
      await share(file.id, { address: OUTSIDE });
      expect(await of()).toBe(before + 2);
    });

    it('follows a new revision', async () => {
      const file = await put('later.txt', 'The code word is Corrigan');
      await share(file.id, { address: OUTSIDE });
      const list = await client.send<{ pattern: { id: string } }>('POST', '/patterns', {
        name: 'Code word',
        about: '',
        words: 'Corrigan',
      });
      const when = { kind: 'all', of: [{ ...CARD, pattern: list.body.pattern.id, certainty: 50 }, LEAVES] };
      await client.send(
        'POST',
        '/policies',
        policyOf('Code words', [ruleOf({ when })], { channels: ['drive'] }),
      );
      await client.send('POST', '/revisions', { name: 'r', reason: 'test' });
      await running.application.get(DriveShares).followRevision();
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'withdrawn' });
    });

    it('lets access end by itself after the days a rule says', async () => {
      const when = { kind: 'file', kinds: [], names: ['ending*'], atLeastKilobytes: null, misnamed: false };
      await publish(
        client,
        'Ending',
        [
          ruleOf({
            when,
            bands: [{ answer: 'note', severity: 'low', treatments: [{ kind: 'end-access', days: 14 }] }],
          }),
        ],
        { channels: ['drive'] },
      );
      const file = await put('ending.txt', 'Departures');
      const [given] = await share(file.id, { address: OUTSIDE });
      const days = (Date.parse(given?.until ?? '') - Date.now()) / 86_400_000;
      expect(days).toBeGreaterThan(13.9);
      expect(days).toBeLessThanOrEqual(14);
      expect(await opened(file.id)).toMatchObject({ status: 'open' });
      await running.database
        .getRepository(DriveShareEntity)
        .update({ fileId: file.id }, { until: new Date(Date.now() - 1_000) });
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'over' });
    });

    it('lets some people do less with what is opened, as a rule says', async () => {
      const when = { kind: 'file', kinds: [], names: ['lowered*'], atLeastKilobytes: null, misnamed: false };
      const lowered = {
        kind: 'lower-handling',
        effects: ['make-another', 'take-out'],
        people: { without: [{ kind: 'domain', domain: 'merrowstrait.example' }] },
      };
      await publish(
        client,
        'Lowered',
        [ruleOf({ when, bands: [{ answer: 'note', severity: 'low', treatments: [lowered] }] })],
        { channels: ['drive'] },
      );
      const file = await put('lowered.txt', 'Departures');
      await share(file.id, { address: OUTSIDE });
      await share(file.id, { address: 'bea.lindqvist@merrowstrait.example' });
      const outside = await opened(file.id);
      expect(outside).toMatchObject({ status: 'open', file: { text: 'Departures' } });
      expect(outside.status === 'open' && outside.file.refused['make-another']).toContain('A rule');
      const bytes = (player: string) =>
        fetch(`${running.address}/api${drive(player)}/files/${file.id}/content`, {
          headers: { cookie: client.cookie },
        });
      expect((await bytes(OUTSIDE)).status).toBe(403);
      expect(await (await bytes(bea)).text()).toBe('Departures');
    });

    it('makes one share of the same asked twice at once, and none of a file that is gone', async () => {
      const file = await put('twice.txt', 'Departures');
      await Promise.all(Array.from({ length: 5 }, () => share(file.id, { address: OUTSIDE })));
      expect(await running.database.getRepository(DriveShareEntity).countBy({ fileId: file.id })).toBe(1);
      await client.send('DELETE', `${drive(orla)}/files/${file.id}`);
      expect(await opened(file.id)).toMatchObject({ status: 'closed', why: 'gone' });
      expect(
        (await client.send('POST', `${drive(orla)}/files/${file.id}/shares`, { address: OUTSIDE })).status,
      ).toBe(404);
    });

    it('keeps the first of two saves at once', async () => {
      const file = await put('race.txt', 'one');
      const saves = await Promise.all(
        ['two', 'three'].map((text) =>
          client.send<{ code?: string }>('PUT', `${drive(orla)}/files/${file.id}/text`, {
            text,
            version: file.version,
          }),
        ),
      );
      expect(saves.map(({ status }) => status).sort()).toEqual([200, 409]);
    });

    it('refuses what it cannot mean', async () => {
      const file = await put('odd.txt', 'x');
      const asked = (request: object) =>
        client.send('POST', `${drive(orla)}/files/${file.id}/shares`, request);
      expect((await asked({})).status).toBe(400);
      expect((await asked({ address: OUTSIDE, link: 'whole-house' })).status).toBe(400);
      expect((await asked({ address: 'nobody' })).status).toBe(422);
      expect(
        (await client.send('POST', `${drive(bea)}/files/${file.id}/shares`, { address: OUTSIDE })).status,
      ).toBe(403);
      expect(
        (await client.send('POST', `${drive(OUTSIDE)}/files`, fileForm('a.txt', 'a', { folder: '/' })))
          .status,
      ).toBe(403);
      expect(
        (await client.send('POST', `${drive(orla)}/files`, fileForm('odd.txt', 'y', { folder: 'Groups/' })))
          .status,
      ).toBe(409);
    });
  });

  describe('desktop and browser', () => {
    const path = (agent: string, target: string) =>
      `/stand-ins/desk/${agent}/${orla}/targets/${target}/things`;
    const put = async (agent: string, target: string, text: string, over: Record<string, string> = {}) =>
      (await client.send<ThingView>('POST', path(agent, target), textForm(text, over))).body;
    const taken = { takenFrom: 'Booking system', activity: 'paste' };

    it.each([
      ['manifest', 'shown'],
      ['booking', 'shown'],
      ['notes', 'withheld'],
      ['stick-house', 'withheld'],
      ['screen', 'withheld'],
    ])('what is taken from the booking system and put into %s is %s', async (target, state) => {
      expect((await put('endpoint', target, 'Booking 4100', taken)).state).toBe(state);
    });

    it('decides by content on the same drive, and says what it knows of the way', async () => {
      expect((await put('endpoint', 'stick-blue', 'Timetable', { activity: 'copy' })).state).toBe('shown');
      expect((await put('endpoint', 'stick-blue', CARDS, { activity: 'copy' })).state).toBe('waiting');
      expect((await put('endpoint', 'stick-house', CARDS, { activity: 'copy' })).state).toBe('shown');
      const [last] = await running.database.getRepository(MovementEntity).find({
        where: { channel: 'endpoint' },
        order: { at: 'DESC' },
        take: 1,
      });
      expect(last?.way).toMatchObject({
        activity: 'copy',
        into: [{ name: 'Company USB drive', trusted: true }],
      });
    });

    it('refuses writing onto a drive, or reading from it as well, as rules say', async () => {
      const strange = { kind: 'device', device: 'plugged-in', name: 'Blue*', trusted: false };
      await publish(client, 'Reading', [ruleOf({ when: { kind: 'taken-from', spots: [strange] } })], {
        channels: ['endpoint'],
      });
      const read = { takenFrom: 'Blue stick', activity: 'paste' };
      expect((await put('endpoint', 'notes', 'A song', read)).state).toBe('withheld');
      expect((await put('endpoint', 'stick-blue', 'A song', { activity: 'copy' })).state).toBe('shown');
      expect((await put('endpoint', 'notes', 'A song', { takenFrom: 'Company USB drive' })).state).toBe(
        'shown',
      );
    });

    it.each([
      ['paste', 'waiting'],
      ['type', 'waiting'],
      ['upload', 'waiting'],
    ])('judges what is put into a page by %s, and says how in the movement', async (activity, state) => {
      expect((await put('browser', 'marlow', `${activity} ${CARDS}`, { activity })).state).toBe(state);
      const [last] = await running.database
        .getRepository(MovementEntity)
        .find({ where: { channel: 'browser' }, order: { at: 'DESC' }, take: 1 });
      expect(last?.way).toMatchObject({ activity });
    });

    it('names a program that cannot be watched', async () => {
      const { body } = await client.get<TargetView[]>(`/stand-ins/desk/endpoint/${orla}/targets`);
      expect(body.find(({ id }) => id === 'crane')?.unwatched).toContain('cannot be monitored');
    });

    it('leaves no movement of what is typed where nobody watches, and judges what is copied there', async () => {
      const movements = () => running.database.getRepository(MovementEntity).countBy({ channel: 'endpoint' });
      const before = await movements();
      expect((await put('endpoint', 'crane', `Typed ${CARDS}`, { activity: 'type' })).state).toBe('shown');
      expect(await movements()).toBe(before);
      const copied = await put('endpoint', 'crane', `Copied ${CARDS}`, { activity: 'paste' });
      expect(await movements()).toBe(before + 1);
      expect(copied.text).toContain('Copied');
      // The same words typed where an agent looks are a movement.
      await put('endpoint', 'notes', `Typed ${CARDS}`, { activity: 'type' });
      expect(await movements()).toBe(before + 2);
    });

    it('ends a question as stated when its time runs out on a closed page', async () => {
      const asked = await put('browser', 'marlow', CARDS, { activity: 'paste' });
      expect(asked).toMatchObject({ state: 'waiting', notice: { ask: { otherwise: 'stays' } } });
      await running.application.get(PendingService).sweep(new Date(Date.now() + 6 * 60_000));
      const [after] = (await client.get<ThingView[]>(path('browser', 'marlow'))).body.slice(-1);
      expect(after).toMatchObject({ id: asked.id, state: 'withheld', notice: { state: 'taken-back' } });
    });

    describe('a question in a page', () => {
      const page = (id: string, open: boolean) =>
        client.send('POST', `/stand-ins/things/${orla}/${id}/page`, { open });
      const sweepIn = (seconds: number) =>
        running.application.get(PendingService).sweep(new Date(Date.now() + seconds * 1000));
      const stateOf = async (id: string) =>
        (await client.get<ThingView[]>(path('browser', 'marlow'))).body.find((each) => each.id === id)?.state;
      const ask = () => put('browser', 'marlow', `Page ${CARDS}`, { activity: 'paste' });

      it('says that it ends with its page', async () => {
        expect((await ask()).notice?.ask).toMatchObject({ whileOpen: true, otherwise: 'stays' });
        expect(
          (await put('endpoint', 'stick-blue', CARDS, { activity: 'copy' })).notice?.ask?.whileOpen,
        ).toBe(false);
      });

      it('stands while the page says that it is open, and for a slow minute after', async () => {
        const { id } = await ask();
        expect((await page(id, true)).status).toBe(204);
        await sweepIn(80);
        expect(await stateOf(id)).toBe('waiting');
      });

      it('ends as stated when the page has not been heard of', async () => {
        const { id } = await ask();
        await sweepIn(95);
        expect(await stateOf(id)).toBe('withheld');
        const waiting = (await client.get<WaitingView[]>('/waiting')).body;
        expect(waiting.find(({ state, whileOpen }) => state === 'taken-back' && whileOpen)?.decidedBy).toBe(
          'Uncut Lantern',
        );
      });

      it('ends soon after the page says that it closes, and not where it is loaded anew', async () => {
        const [closed, again] = [await ask(), await ask()];
        for (const { id } of [closed, again]) await page(id, false);
        await page(again.id, true);
        await sweepIn(25);
        expect([await stateOf(closed.id), await stateOf(again.id)]).toEqual(['withheld', 'waiting']);
      });

      it('is not prolonged by a page that closes late, and never beyond its time', async () => {
        const { id } = await ask();
        await page(id, true);
        await sweepIn(5 * 60 + 1);
        expect(await stateOf(id)).toBe('withheld');
        await page(id, true);
        expect(await stateOf(id)).toBe('withheld');
      });

      it('of somebody else is nobody’s to keep open', async () => {
        const { id } = await ask();
        expect(
          (await client.send('POST', `/stand-ins/things/${bea}/${id}/page`, { open: true })).status,
        ).toBe(404);
        expect((await page(id, 'yes' as never)).status).toBe(400);
      });
    });

    it('puts in after a reply, and counts turning back', async () => {
      const one = await put('browser', 'marlow', `One ${CARDS}`, { activity: 'type' });
      await client.send('POST', `/stand-ins/things/${orla}/${one.id}/reply`, {
        leads: 'goes-on',
        words: 'Made up',
      });
      const two = await put('browser', 'marlow', `Two ${CARDS}`, { activity: 'type' });
      await client.send('POST', `/stand-ins/things/${orla}/${two.id}/reply`, {
        leads: 'stays',
        words: 'Wrong page',
      });
      const all = (await client.get<ThingView[]>(path('browser', 'marlow'))).body;
      expect(all.filter(({ id }) => id === one.id || id === two.id).map(({ state }) => state)).toEqual([
        'shown',
        'withheld',
      ]);
      expect((await client.get<ThingView[]>(path('browser', 'intranet'))).body).toEqual([]);
    });

    it('has nothing to judge where nothing is put', async () => {
      expect((await client.send('POST', path('browser', 'marlow'), textForm(''))).status).toBe(422);
      expect((await client.send('POST', path('browser', 'nowhere'), textForm('x'))).status).toBe(404);
    });
  });

  describe('where reading does not finish', () => {
    let inspection: InspectionService;
    let whole: InspectionService['inspect'];

    beforeAll(() => {
      inspection = running.application.get(InspectionService);
      whole = inspection.inspect.bind(inspection);
      // What an item that never ends comes to.
      inspection.inspect = async (item) => ({
        ...(await whole(item)),
        finished: false,
        parts: item.texts.map(({ role, path }) => unreadablePart(role, path, 'took-too-long')),
      });
    });
    afterAll(() => {
      inspection.inspect = whole;
    });

    it('does what is stated for the channel, says so, and records it', async () => {
      const rooms = `/stand-ins/chat/${orla}/rooms`;
      const members = ['bea.lindqvist@merrowstrait.example'];
      const { body: room } = await client.send<RoomView>('POST', rooms, { name: 'Slow', members });
      const { body: blocked } = await client.send<ThingView>(
        'POST',
        `${rooms}/${room.id}/things`,
        textForm('x'),
      );
      expect(blocked).toMatchObject({ state: 'withheld', notice: { unfinished: true, answer: 'block' } });

      const desk = `/stand-ins/desk/endpoint/${orla}/targets/notes/things`;
      const { body: wentOn } = await client.send<ThingView>('POST', desk, textForm('y'));
      expect(wentOn).toMatchObject({ state: 'shown', notice: null });
      expect((await verdictsOf(running))[0]).toMatchObject({ answer: 'note', unfinished: true });

      await client.send('PUT', '/channels/endpoint', { unfinished: 'hold' });
      const { body: held } = await client.send<ThingView>('POST', desk, textForm('z'));
      expect(held).toMatchObject({ state: 'waiting', notice: { unfinished: true, answer: 'hold' } });
      const waiting = (await second.get<WaitingView[]>('/waiting')).body;
      expect(waiting[0]).toMatchObject({ kind: 'hold', state: 'waiting', refusal: null });
      await second.send('POST', `/waiting/${waiting[0]?.id ?? ''}/decision`, {
        goesOn: true,
        words: 'Looked at it',
      });
      expect((await client.get<ThingView[]>(desk)).body.at(-1)).toMatchObject({ text: 'z', state: 'shown' });
    });

    it('lets no file go whose label was not read, where a published label could keep it', async () => {
      const desk = `/stand-ins/desk/endpoint/${orla}/targets/stick-blue/things`;
      await client.send('PUT', '/channels/endpoint', { unfinished: 'let-go' });
      const copy = async (name: string) => {
        const form = textForm('', { activity: 'copy' });
        form.append('files', new Blob(['slow']), name);
        return (await client.send<ThingView>('POST', desk, form)).body;
      };
      expect(await copy('before.txt')).toMatchObject({ state: 'shown' });
      const label = {
        ...{ name: 'Not to be copied', rank: 70, choosing: [{ when: 'For us' }], carriers: ['document'] },
        handling: { 'make-another': { kind: 'named', grants: [] } },
      };
      const made = await client.send('POST', '/labels/labels', { label, note: '' });
      expect(made).toMatchObject({ status: 201 });
      const published = await client.send('POST', '/revisions', { name: 'l', reason: 'A label that guards' });
      expect(published.status).toBe(201);
      expect(await copy('after.txt')).toMatchObject({ state: 'waiting', notice: { answer: 'hold' } });
      // Words without a file carry no label.
      expect(
        (await client.send<ThingView>('POST', desk, textForm('words', { activity: 'copy' }))).body.state,
      ).toBe('shown');
    });

    it('leaves a stronger rule in force', async () => {
      const desk = `/stand-ins/desk/endpoint/${orla}/targets/notes/things`;
      await client.send('PUT', '/channels/endpoint', { unfinished: 'let-go' });
      const { body } = await client.send<ThingView>(
        'POST',
        desk,
        textForm('from a booking', { takenFrom: 'Booking system', activity: 'paste' }),
      );
      expect(body).toMatchObject({ state: 'withheld', notice: { policyName: 'Desks' } });
      expect((await verdictsOf(running))[0]).toMatchObject({ answer: 'block', unfinished: true });
    });
  });
});
