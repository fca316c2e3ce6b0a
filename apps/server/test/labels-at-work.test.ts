import type {
  DriveFileDetail,
  ImportLabelsResult,
  IntakeVerdict,
  LabelChangePage,
  LabelSuggestion,
  MailSummary,
  NewAgent,
  OpenedView,
  ReplayView,
  RoomView,
  SendMailResult,
  ThingView,
} from '@lantern/contracts';
import { STARTER_LABELS } from '@lantern/demo';
import { readFileLabels } from '@lantern/files';
import { docxFile } from '@lantern/testkit';
import { CARDS, type Client, mailForm, OUTSIDE, publish, ruleOf, type Running, start } from './harness.js';

const PASSPORT = 'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10';
const labelled = (name: string): string =>
  STARTER_LABELS.labels.find((label) => label.name === name)?.id ?? '';
const OPEN = labelled('Open water');
const CARE = labelled('Passenger care');
const SEALED = labelled('Sealed hold');

const textForm = (fields: Readonly<Record<string, string>>): FormData => {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  return form;
};

describe('labels on what people write', () => {
  let running: Running;
  let client: Client;
  let orla: string;
  let bea: string;
  let edda: string;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    orla = (await running.person('Orla Fenwick')).id;
    bea = (await running.person('Bea Lindqvist')).id;
    edda = (await running.database.query("SELECT id FROM person WHERE department = 'Executive Office'"))[0]
      .id;
    const text = JSON.stringify({
      format: 'uncut-lantern labels 1',
      ...STARTER_LABELS,
      automatic: STARTER_LABELS.automatic.filter(
        ({ places, name }) => places.length === 0 && !name.startsWith('Words'),
      ),
    });
    const taken = await client.send<ImportLabelsResult>('POST', '/labels/text', { text, onlyLook: false });
    expect(taken.body.faults).toEqual([]);
    // What carries the label of passengers goes to nobody outside, and tariffs are for the house from the first share on.
    const outside = { kind: 'recipient', quantity: 'any', side: 'outside' };
    await publish(
      client,
      'Labelled',
      [
        ruleOf({
          when: { kind: 'all', of: [{ kind: 'label', carries: 'one-of', labels: [CARE] }, outside] },
        }),
        ruleOf({
          when: { kind: 'file', names: ['tariff*'] },
          bands: [
            {
              answer: 'note',
              severity: 'low',
              text: null,
              treatments: [{ kind: 'set-label', label: CARE }],
            },
          ],
        }),
      ],
      { channels: ['mail', 'chat', 'drive'] },
    );
  });
  afterAll(() => running.stop());

  const changes = async () => (await client.get<LabelChangePage>('/labels/changes')).body.rows;

  describe('while it is written', () => {
    const suggested = async (player: string, carrier: string, body: object) =>
      (
        await client.send<{ suggestion: LabelSuggestion | null }>(
          'POST',
          `/stand-ins/labels/${player}/${carrier}/suggestions`,
          body,
        )
      ).body.suggestion;

    it.each(['mail', 'chat', 'document'])('says on a %s which label it calls for', async (carrier) => {
      expect(await suggested(orla, carrier, { text: PASSPORT })).toEqual({
        label: CARE,
        name: 'Passenger care',
        rule: 'Passports and payment cards',
        applied: true,
      });
      expect(await suggested(orla, carrier, { text: PASSPORT, label: CARE })).toBeNull();
      expect(await suggested(orla, carrier, { text: 'The gate opens at five.' })).toBeNull();
    });

    it('offers each carrier its own, and people outside nothing', async () => {
      const names = async (player: string, carrier: string) =>
        (
          await client.get<{ labels: { name: string }[] }>(`/stand-ins/labels/${player}/${carrier}`)
        ).body.labels.map(({ name }) => name);
      expect(await names(orla, 'chat')).toEqual(['Ship’s company', 'Open water', 'Passenger care']);
      expect(await names(OUTSIDE, 'chat')).toEqual([]);
      expect((await client.get(`/stand-ins/labels/${orla}/balloon`)).status).toBe(400);
    });
  });

  describe('on a chat', () => {
    let room: RoomView;
    let guests: RoomView;
    const things = (player: string, where = room) => `/stand-ins/chat/${player}/rooms/${where.id}/things`;
    const write = async (fields: Readonly<Record<string, string>>, where = room) =>
      (await client.send<ThingView>('POST', things(orla, where), textForm(fields))).body;
    const edit = (id: string, body: object) =>
      client.send<ThingView & { code?: string }>('PUT', `/stand-ins/things/${orla}/${id}`, body);
    const seen = async (player: string, id: string, where = room) =>
      (await client.get<ThingView[]>(things(player, where))).body.find((thing) => thing.id === id);

    beforeAll(async () => {
      const open = async (name: string, members: string[]) =>
        (await client.send<RoomView>('POST', `/stand-ins/chat/${orla}/rooms`, { name, members })).body;
      room = await open('Desk', ['bea.lindqvist@merrowstrait.example']);
      guests = await open('Groups', ['bea.lindqvist@merrowstrait.example', OUTSIDE]);
    });

    it('is chosen, and stands on the message for its readers', async () => {
      const thing = await write({ text: 'Gate 2 opens at five', label: OPEN });
      expect(thing.label?.name).toBe('Open water');
      expect((await seen(bea, thing.id))?.label?.name).toBe('Open water');
      expect((await changes())[0]).toMatchObject({
        carrier: 'chat',
        item: 'a message',
        how: 'by-hand',
        shift: 'set',
        after: { name: 'Open water' },
      });
    });

    it('is set by a rule before policies are asked, so that a rule about the label stops it', async () => {
      const thing = await write({ text: PASSPORT }, guests);
      expect(thing).toMatchObject({ state: 'withheld', notice: { policyName: 'Labelled' } });
      // Withheld, nothing carries it on: the author's draft is as bare as it was.
      expect(thing.label).toBeNull();
    });

    it('is set by a rule on what goes on, and goes again with its cause', async () => {
      const thing = await write({ text: PASSPORT });
      expect(thing).toMatchObject({ state: 'shown', label: { name: 'Passenger care' } });
      const { body } = await edit(thing.id, { text: 'Nothing of it' });
      expect(body).toMatchObject({ state: 'shown', label: null });
    });

    it('goes back to what its author had chosen', async () => {
      const thing = await write({ text: PASSPORT, label: OPEN });
      expect(thing.label?.name).toBe('Passenger care');
      expect((await edit(thing.id, { text: 'Nothing of it' })).body.label?.name).toBe('Open water');
    });

    it('keeps the reason for a lower label', async () => {
      const thing = await write({ text: 'Gate 3', label: CARE });
      const lower = { text: 'Gate 3', label: OPEN };
      const { body } = await edit(thing.id, { ...lower, reason: 'No passengers named' });
      expect(body.label?.name).toBe('Open water');
      expect((await changes())[0]).toMatchObject({
        ...{ carrier: 'chat', shift: 'lowered', reason: 'No passengers named' },
        before: { name: 'Passenger care' },
        after: { name: 'Open water' },
      });
    });

    it('keeps a message from a reader whom it does not let read', async () => {
      const thing = await write({ text: 'For the desk alone', label: CARE });
      expect(thing.state).toBe('shown');
      await client.send(
        'DELETE',
        `/stand-ins/chat/${orla}/rooms/${room.id}/members/nobody@merrowstrait.example`,
      );
      await running.database.query('UPDATE chat_room SET members = ? WHERE id = ?', [
        JSON.stringify(['orla.fenwick@merrowstrait.example', 'bea.lindqvist@merrowstrait.example', OUTSIDE]),
        room.id,
      ]);
      const forGuest = await seen(OUTSIDE, thing.id);
      expect(forGuest).toMatchObject({
        text: '',
        files: [],
        closed: expect.stringContaining('Passenger care'),
      });
      expect(await seen(bea, thing.id)).toMatchObject({ text: 'For the desk alone', closed: null });
    });

    it.each([
      ['a label that is not offered', { text: 'x', label: SEALED }, 'label-not-offered'],
      ['what is no label', { text: 'x', label: 'deep water' }, 'invalid-request'],
    ])('refuses %s, and sends nothing', async (_what, fields, code) => {
      const before = (await client.get<ThingView[]>(things(orla))).body.length;
      expect(await write(fields as Record<string, string>)).toMatchObject({ code });
      expect((await client.get<ThingView[]>(things(orla))).body).toHaveLength(before);
    });
  });

  describe('on a file of the drive', () => {
    const drive = (player: string) => `/stand-ins/drive/${player}`;
    let count = 0;
    const put = async (content: string | Uint8Array<ArrayBuffer>, name = 'list.txt') => {
      const form = textForm({ folder: `/Labels/${(count += 1)}` });
      form.append('file', new Blob([content]), name);
      return (await client.send<DriveFileDetail>('POST', `${drive(orla)}/files`, form)).body;
    };
    const label = (id: string, wish: object, player = orla) =>
      client.send<DriveFileDetail & { code?: string }>('PUT', `${drive(player)}/files/${id}/label`, wish);
    const share = (id: string, address: string) =>
      client.send<DriveFileDetail & { code?: string }>('POST', `${drive(orla)}/files/${id}/shares`, {
        address,
      });
    const opened = async (player: string, id: string) =>
      (await client.get<OpenedView>(`${drive(player)}/files/${id}`)).body;
    const write = async ({ id, version }: DriveFileDetail, text: string) =>
      (await client.send<DriveFileDetail>('PUT', `${drive(orla)}/files/${id}/text`, { text, version })).body;

    it('is asked for before the file is opened for anybody', async () => {
      const file = await put('Departures');
      expect(await share(file.id, OUTSIDE)).toMatchObject({ status: 422, body: { code: 'label-needed' } });
      await label(file.id, { label: OPEN });
      expect((await share(file.id, OUTSIDE)).body.shares).toMatchObject([{ state: 'open' }]);
      expect(await opened(OUTSIDE, file.id)).toMatchObject({
        status: 'open',
        file: { label: { name: 'Open water' } },
      });
    });

    it('appears with what is saved, counts for what it was opened for, and goes with its cause', async () => {
      const file = await put('Departures');
      await label(file.id, { label: OPEN });
      await share(file.id, OUTSIDE);
      const current = (await opened(orla, file.id)) as { file: DriveFileDetail };
      const raised = await write(current.file, `Departures\n${PASSPORT}`);
      expect(raised).toMatchObject({
        label: { name: 'Passenger care' },
        labelKeepsInside: true,
        shares: [{ state: 'withdrawn' }],
        restriction: { policyName: 'Labelled' },
      });
      expect(await opened(OUTSIDE, file.id)).toMatchObject({ status: 'closed', why: 'withdrawn' });
      expect((await changes())[0]).toMatchObject({
        how: 'automatically',
        shift: 'raised',
        by: 'Passports and payment cards',
      });

      const cleaned = await write(raised, 'Departures');
      expect(cleaned).toMatchObject({
        label: { name: 'Open water' },
        shares: [{ state: 'open' }],
        restriction: null,
      });
      expect(await opened(OUTSIDE, file.id)).toMatchObject({ status: 'open' });
      expect((await changes())[0]).toMatchObject({
        shift: 'lowered',
        reason: 'The reason for the label no longer exists',
      });
    });

    it('that a person chose stays when the content changes', async () => {
      const file = await put('Departures');
      const { body: chosen } = await label(file.id, { label: CARE });
      expect((await write(chosen, 'Other departures')).label?.name).toBe('Passenger care');
    });

    it('costs a reason on its way down', async () => {
      const file = await put('Departures');
      await label(file.id, { label: CARE });
      expect(await label(file.id, { label: OPEN })).toMatchObject({
        status: 422,
        body: { code: 'reason-needed' },
      });
      const { body } = await label(file.id, { label: OPEN, reason: 'It is in the timetable now' });
      expect(body.label?.name).toBe('Open water');
      expect((await changes())[0]).toMatchObject({ shift: 'lowered', reason: 'It is in the timetable now' });
      expect(await label(file.id, { label: null, reason: 'None' })).toMatchObject({
        body: { code: 'label-needed' },
      });
      expect(await label(file.id, { label: SEALED })).toMatchObject({ body: { code: 'label-not-offered' } });
      expect((await label(file.id, { label: CARE }, bea)).status).toBe(403);
    });

    it('waits for a second person where going down costs one, who is somebody else for whom it is open', async () => {
      const form = textForm({ folder: '/Executive' });
      form.append('file', new Blob(['The ship']), 'ship.txt');
      const { body: file } = await client.send<DriveFileDetail>('POST', `${drive(edda)}/files`, form);
      await label(file.id, { label: SEALED }, edda);
      const asked = await label(file.id, { label: OPEN, reason: 'It was announced' }, edda);
      expect(asked.body).toMatchObject({
        label: { name: 'Sealed hold' },
        lowering: { label: 'Open water', reason: 'It was announced', mayDecide: false },
      });
      const decide = (player: string, agrees: boolean) =>
        client.send<OpenedView & { code?: string }>('POST', `${drive(player)}/files/${file.id}/lowering`, {
          agrees,
        });
      expect((await decide(edda, true)).body.code).toBe('act-refused');
      // Nobody who cannot open it decides about it.
      expect((await decide(bea, true)).status).toBe(403);
      await client.send('POST', `${drive(edda)}/files/${file.id}/shares`, {
        address: 'bea.lindqvist@merrowstrait.example',
      });
      expect(await opened(bea, file.id)).toMatchObject({
        status: 'open',
        file: { lowering: { mayDecide: true } },
      });
      expect((await decide(bea, true)).body).toMatchObject({
        file: { label: { name: 'Open water' }, lowering: null },
      });
      expect((await changes())[0]?.reason).toContain('agreed by bea.lindqvist@merrowstrait.example');
      expect((await decide(bea, true)).body.code).toBe('act-refused');
    });

    it('is let go of again by the second person', async () => {
      const form = textForm({ folder: '/Executive' });
      form.append('file', new Blob(['The other ship']), 'other ship.txt');
      const { body: file } = await client.send<DriveFileDetail>('POST', `${drive(edda)}/files`, form);
      await label(file.id, { label: SEALED }, edda);
      await client.send('POST', `${drive(edda)}/files/${file.id}/shares`, {
        address: 'bea.lindqvist@merrowstrait.example',
      });
      await label(file.id, { label: OPEN, reason: 'It was announced' }, edda);
      const kept = await client.send('POST', `${drive(bea)}/files/${file.id}/lowering`, { agrees: false });
      expect(kept.body).toMatchObject({ file: { label: { name: 'Sealed hold' }, lowering: null } });
    });

    it('is set by the verdict on a share, and counts from the next one on', async () => {
      const file = await put('Tariffs of the year', 'tariff 2027.txt');
      await label(file.id, { label: OPEN });
      const first = await share(file.id, OUTSIDE);
      // The first share was judged before: its own label let it go. Now the file stays inside, for it as for the next.
      expect(first.body).toMatchObject({
        label: { name: 'Passenger care' },
        shares: [{ state: 'withdrawn' }],
      });
      const next = await share(file.id, 'purser@oldharbour.example');
      expect(next.body.shares.find(({ address }) => address === 'purser@oldharbour.example')?.state).toBe(
        'refused',
      );
    });

    it('stands in a real document, and is read out of one that brings it along', async () => {
      const file = await put(
        new Uint8Array(await docxFile({ paragraphs: ['Departures'] })),
        'departures.docx',
      );
      await label(file.id, { label: CARE });
      const answer = await fetch(`${running.address}/api${drive(orla)}/files/${file.id}/content`, {
        headers: { cookie: client.cookie },
      });
      const bytes = new Uint8Array(await answer.arrayBuffer());
      expect((await readFileLabels({ name: file.name, bytes })).own).toMatchObject({
        id: CARE,
        how: 'by-hand',
      });
      const again = await put(bytes, 'departures.docx');
      expect(again.label?.name).toBe('Passenger care');
    });

    it('is not undone by a save of the text that was read before it', async () => {
      const file = await put('Departures');
      const [relabelled, saved] = await Promise.all([
        label(file.id, { label: CARE }),
        client.send('PUT', `${drive(orla)}/files/${file.id}/text`, {
          text: 'Arrivals',
          version: file.version,
        }),
      ]);
      expect(relabelled.status).toBe(200);
      expect([200, 409]).toContain(saved.status);
      const after = await opened(orla, file.id);
      expect(after).toMatchObject({ status: 'open', file: { label: { name: 'Passenger care' } } });
    });

    it('refuses to save over what was saved meanwhile in another window', async () => {
      const file = await put('one');
      await write(file, 'two');
      expect(await write(file, 'three')).toMatchObject({ code: 'changed-meanwhile' });
      expect(await opened(orla, file.id)).toMatchObject({ file: { text: 'two' } });
    });
  });

  describe('on a mail', () => {
    it('is set by a rule before policies are asked', async () => {
      const inside = mailForm({ person: orla, to: ['bea.lindqvist@merrowstrait.example'], body: PASSPORT });
      const sent = await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', inside);
      expect(sent.body.status).toBe('sent');
      const [mail] = (await client.get<MailSummary[]>(`/stand-ins/mail/${bea}/messages`)).body;
      expect(mail?.label?.name).toBe('Passenger care');
      const outside = mailForm({ person: orla, to: [OUTSIDE], body: PASSPORT });
      const refused = await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', outside);
      expect(refused.body).toMatchObject({ status: 'refused', draft: { label: null } });
    });
  });

  it('says on the change of a mail which label its sender had chosen', async () => {
    const form = mailForm({ person: orla, to: ['bea.lindqvist@merrowstrait.example'], body: PASSPORT });
    form.append('label', OPEN);
    await client.send('POST', '/stand-ins/mail/messages', form);
    const change = (await changes()).find(({ carrier, shift }) => carrier === 'mail' && shift === 'raised');
    expect(change).toMatchObject({ before: { name: 'Open water' }, after: { name: 'Passenger care' } });
  });

  describe('a mail that was stopped for its label', () => {
    const clean = (body: object) =>
      client.send<{ subject?: string; body?: string; code?: string }>(
        'POST',
        `/stand-ins/mail/${orla}/without-values`,
        body,
      );

    it('is told what the label was set for, and cleaned of it', async () => {
      const mail = { to: [OUTSIDE], subject: 'Passports', body: `Anna: ${PASSPORT}` };
      const form = mailForm({ person: orla, to: [OUTSIDE], body: mail.body });
      const { body: sent } = await client.send<SendMailResult>('POST', '/stand-ins/mail/messages', form);
      expect(sent).toMatchObject({
        status: 'refused',
        draft: {
          notice: { found: [{ pattern: 'passport-machine-readable', distinct: 1, where: ['body'] }] },
        },
      });
      expect(await clean(mail)).toMatchObject({ status: 200, body: { body: 'Anna: [taken out]' } });
      expect((await clean({ ...mail, body: 'Anna' })).body.code).toBe('act-refused');
      expect((await clean({ ...mail, to: ['nobody'] })).body.code).toBe('bad-address');
    });
  });

  describe('on what an agent hands in', () => {
    it('is told to the agent, which writes it onto what goes on', async () => {
      const { body: agent } = await client.send<NewAgent>('POST', '/agents', { name: 'Gateway of the test' });
      const movement = (key: string, text: string) => ({
        key,
        channel: 'mail',
        activity: 'send',
        person: 'orla.fenwick@merrowstrait.example',
        to: ['bea.lindqvist@merrowstrait.example'],
        texts: [{ role: 'body', text }],
      });
      const answer = await fetch(`${running.address}/api/intake/movements`, {
        method: 'POST',
        headers: { authorization: `Bearer ${agent.key}`, 'content-type': 'application/json' },
        body: JSON.stringify({
          movements: [movement('a', PASSPORT), movement('b', `Only ${CARDS.slice(0, 4)}`)],
        }),
      });
      const { results } = (await answer.json()) as { results: IntakeVerdict[] };
      expect(results.map(({ label: set }) => set?.name ?? null)).toEqual(['Passenger care', null]);
    });
  });

  describe('in a replay', () => {
    it('shows what a change of an automatic rule lets through and what it stops', async () => {
      const replay = async (): Promise<ReplayView> => {
        const period = { since: '2000-01-01T00:00:00Z', until: '2099-01-01T00:00:00Z' };
        const { body } = await client.send<ReplayView>('POST', '/replays', period);
        for (;;) {
          const now = (await client.get<ReplayView>(`/replays/${body.id}`)).body;
          if (now.state !== 'waiting' && now.state !== 'running') return now;
          await new Promise((resolve) => setTimeout(resolve, 100));
        }
      };
      const stopped = (view: ReplayView) => view.difference?.shifts;
      expect(stopped(await replay())).toMatchObject({ 'newly-let-through': 0, 'newly-stopped': 0 });
      // Without its rules nothing of passengers carries a label, and the policy about labels meets only what people chose.
      const text = JSON.stringify({
        format: 'uncut-lantern labels 1',
        labels: STARTER_LABELS.labels,
        offers: STARTER_LABELS.offers,
        automatic: [],
      });
      await client.send('POST', '/labels/text', { text, onlyLook: false });
      const without = stopped(await replay());
      expect(without?.['newly-let-through']).toBeGreaterThan(1);
      expect(without?.['newly-stopped']).toBe(0);
    });
  });
});
