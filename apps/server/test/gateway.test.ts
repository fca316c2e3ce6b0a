import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MailDetail, MailSummary, PostView, WaitingView } from '@lantern/contracts';
import { readFileLabels } from '@lantern/files';
import { createTransport } from 'nodemailer';
import { GatewayServer } from '../src/doors/smtp/gateway.server.js';
import { decryptedWith, ownCertificate } from '@lantern/files';
import { PostMailEntity } from '../src/stand-ins/outside-mail/post-mail.entity.js';
import { OutgoingService } from '../src/doors/outgoing/outgoing.service.js';
import { MovementEntity } from '../src/incidents/incident.entity.js';
import { PartnerEntity } from '../src/directory/person.entity.js';
import { unseal } from '../src/platform/sealing.js';
import { CARDS, type Client, OUTSIDE, publish, ruleOf, type Running, start, verdictsOf } from './harness.js';

const ORLA = 'orla.fenwick@merrowstrait.example';
const BEA = 'bea.lindqvist@merrowstrait.example';
const when = (words: string) => ({
  kind: 'all',
  of: [
    { kind: 'recipient', quantity: 'any', side: 'outside' },
    { kind: 'file', kinds: [], names: [words], atLeastKilobytes: null, misnamed: false },
  ],
});

describe('the SMTP door', () => {
  let running: Running;
  let client: Client;
  let port: number;

  beforeAll(async () => {
    running = await start();
    client = await running.client();
    port = running.application.get(GatewayServer).door.port;
    await publish(client, 'Cards', [
      ruleOf({ perRecipient: true }),
      ruleOf({
        answer: 'ask',
        when: when('ask*'),
        ask: { reasons: [{ words: 'Wrong file', leads: 'stays' }], minutes: 60, otherwise: 'stays' },
      }),
      ruleOf({ answer: 'hold', when: when('hold*') }),
      ...(['encrypted-connection', 'encrypt-content', 'no-passing-on'] as const).map((kind) =>
        ruleOf({
          when: when(`${kind}*`),
          bands: [
            { answer: 'note', severity: 'low', treatments: [{ kind }, { kind: 'mark', words: '[ours]' }] },
          ],
        }),
      ),
    ]);
  });
  afterAll(() => running.stop());

  const mailer = () => createTransport({ host: '127.0.0.1', port, tls: { rejectUnauthorized: false } });
  const send = async (
    to: readonly string[],
    over: { text?: string; file?: string; messageId?: string; from?: string } = {},
  ) => {
    const { text = 'Good morning', file, messageId = `<${randomUUID()}@test.example>`, from = ORLA } = over;
    return mailer().sendMail({
      from,
      to: [...to],
      subject: 'Berth',
      text,
      messageId,
      attachments: file ? [{ filename: file, content: 'a list' }] : [],
    });
  };
  const post = async () => {
    await running.application.get(OutgoingService).deliverDue();
    return (await client.get<PostView>('/stand-ins/post')).body;
  };
  /** What the server says to lines written as they are, each after its own answer unless `pipelined`. */
  const talk = (chunks: readonly (string | Buffer)[]): Promise<string> =>
    new Promise((resolve, reject) => {
      const socket = connect(port, '127.0.0.1');
      let heard = '';
      socket.on('data', (data) => (heard += data.toString('latin1')));
      socket.once('error', reject).once('close', () => resolve(heard));
      socket.setTimeout(20_000, () => socket.destroy());
      const next = (index: number): void => {
        const chunk = chunks[index];
        if (chunk === undefined) return;
        socket.write(chunk);
        setTimeout(() => next(index + 1), 120);
      };
      // Whoever speaks before the greeting is sent away.
      socket.once('data', () => next(0));
    });
  const movements = () => running.database.getRepository(MovementEntity).count();

  it('hands on what no rule names, over an encrypted connection where one is offered', async () => {
    const { response } = await send([OUTSIDE, BEA]);
    expect(response).toMatch(/^250 2\.0\.0 /);
    const { arrived } = await post();
    expect(arrived[0]).toMatchObject({
      sender: ORLA,
      recipient: OUTSIDE,
      subject: 'Berth',
      encrypted: false,
    });
    expect(arrived[0]?.tls).toMatch(/^TLS/);
    const bea = await running.person('Bea Lindqvist');
    const inbox = (await client.get<MailSummary[]>(`/stand-ins/mail/${bea.id}/messages`)).body;
    expect(inbox[0]).toMatchObject({ folder: 'inbox', subject: 'Berth' });
  });

  it('refuses with 550 and 5.7.1 (RFC 3463) in words that people read, and keeps nothing on its way', async () => {
    const before = (await post()).arrived.length;
    await expect(send([OUTSIDE], { text: CARDS })).rejects.toMatchObject({
      responseCode: 550,
      response: expect.stringMatching(/^550 5\.7\.1 Use the portal\. Recorded as incident \d+\.$/) as string,
    });
    expect((await post()).arrived).toHaveLength(before);
  });

  it('decides for each of ten recipients, of whom two are outside', async () => {
    const people = (await client.get<{ address: string }[]>('/people')).body
      .slice(0, 8)
      .map(({ address }) => address);
    const { response } = await send([OUTSIDE, 'other@elsewhere.example', ...people], { text: CARDS });
    expect(response).toMatch(/^250 2\.0\.0 Taken for 8 and refused for 2\./);
    expect((await post()).arrived.some(({ recipient }) => recipient === 'other@elsewhere.example')).toBe(
      false,
    );
    const [last] = await verdictsOf(running);
    expect(last?.matches).toMatchObject([{ recipients: [OUTSIDE, 'other@elsewhere.example'] }]);
  });

  it('reports to the sender who does not get a mail that was taken for others (RFC 3464)', async () => {
    await send([OUTSIDE, BEA], { text: CARDS });
    const orla = await running.person('Orla Fenwick');
    const [told] = (await client.get<MailSummary[]>(`/stand-ins/mail/${orla.id}/messages`)).body.filter(
      ({ folder, from }) => folder === 'inbox' && from.startsWith('postmaster@'),
    );
    const { body: mail } = await client.get<MailDetail>(
      `/stand-ins/mail/${orla.id}/messages/${told?.id ?? ''}`,
    );
    expect(mail.body).toContain(OUTSIDE);
    expect(mail.body).toContain('Use the portal.');
    expect(mail.body).not.toContain(BEA);

    // Somebody whom the directory does not know gets it over the wire, from nobody, so that nothing answers it.
    const from = 'robot@merrowstrait.example';
    await send([OUTSIDE, BEA], { text: CARDS, from });
    const { arrived } = await post();
    expect(arrived[0]).toMatchObject({
      sender: '',
      recipient: from,
      subject: 'Your mail was not delivered to everyone',
    });
  });

  it('reports nothing to a mail that is a report itself (RFC 5321, 4.5.5)', async () => {
    const before = (await post()).arrived.length;
    await mailer().sendMail({
      envelope: { from: '', to: [OUTSIDE, BEA] },
      from: 'postmaster@partner.example',
      to: [OUTSIDE, BEA],
      subject: 'Report',
      text: CARDS,
    });
    expect((await post()).arrived).toHaveLength(before);
  });

  it('takes a mail that a client sends again, having heard no answer, for the same', async () => {
    const messageId = `<${randomUUID()}@test.example>`;
    const before = await movements();
    const raw = `From: ${ORLA}\r\nTo: ${OUTSIDE}\r\nMessage-ID: ${messageId}\r\nSubject: Once\r\n\r\nHello\r\n`;
    for (let round = 0; round < 3; round += 1)
      await mailer().sendMail({ envelope: { from: ORLA, to: [OUTSIDE] }, raw });
    expect(await movements()).toBe(before + 1);
    expect((await post()).arrived.filter(({ subject }) => subject === 'Once')).toHaveLength(1);
  });

  it('holds what an approver decides about, byte for byte, and then hands it on', async () => {
    const { response } = await send([OUTSIDE], { file: 'hold.txt' });
    expect(response).toMatch(/^250 2\.0\.0 Taken; it waits for a decision\./);
    expect((await post()).arrived[0]?.files).not.toContain('hold.txt');
    const second = await running.client('second@merrowstrait.example');
    const [waits] = (await second.get<WaitingView[]>('/waiting')).body;
    await second.send('POST', `/waiting/${waits?.id ?? ''}/decision`, { goesOn: true, words: 'It may go' });
    expect((await post()).arrived[0]?.files).toEqual(['hold.txt']);
  });

  it('puts a question into the mail window of its sender, who takes it back', async () => {
    await send([OUTSIDE], { file: 'ask.txt' });
    const orla = await running.person('Orla Fenwick');
    const list = (await client.get<MailSummary[]>(`/stand-ins/mail/${orla.id}/messages`)).body;
    const asked = list.find(({ folder }) => folder === 'waiting');
    const mail = (await client.get<MailDetail>(`/stand-ins/mail/${orla.id}/messages/${asked?.id ?? ''}`))
      .body;
    expect(mail).toMatchObject({
      notice: { state: 'waiting', answer: 'ask' },
      attachments: [{ name: 'ask.txt' }],
    });
    await client.send('POST', `/stand-ins/mail/${orla.id}/messages/${mail.id}/reply`, {
      leads: 'stays',
      words: 'Wrong file',
    });
    const after = (await client.get<MailDetail>(`/stand-ins/mail/${orla.id}/messages/${mail.id}`)).body;
    expect(after).toMatchObject({ folder: 'drafts', notice: { state: 'taken-back' } });
    expect((await post()).arrived[0]?.files).not.toContain('ask.txt');
  });

  it('demands an encrypted connection, and keeps the mail where none is offered', async () => {
    await send([OUTSIDE, 'purser@oldharbour.example'], { file: 'encrypted-connection.txt' });
    const { arrived, underway } = await post();
    expect(arrived[0]).toMatchObject({ recipient: OUTSIDE, subject: '[ours] Berth' });
    expect(underway[0]).toMatchObject({
      recipient: 'purser@oldharbour.example',
      state: 'stuck',
      reason: expect.stringContaining('no encrypted connection') as string,
    });
    await send(['purser@oldharbour.example']);
    expect((await post()).arrived[0]).toMatchObject({ recipient: 'purser@oldharbour.example', tls: '' });
  });

  it('encrypts for the receiver, as openssl reads it, and keeps the mail where no certificate is known', async () => {
    const own = ownCertificate(OUTSIDE, new Date());
    await running.database
      .getRepository(PartnerEntity)
      .update({ address: OUTSIDE }, { certificate: own.certificate });
    await send([OUTSIDE, 'nobody@elsewhere.example'], {
      file: 'encrypt-content.txt',
      text: 'Nur für Sie: äöü',
    });
    const { arrived, underway } = await post();
    expect(arrived[0]).toMatchObject({ recipient: OUTSIDE, encrypted: true, text: null, files: [] });
    expect(underway[0]).toMatchObject({ recipient: 'nobody@elsewhere.example', state: 'stuck' });
    const [row] = await running.database
      .getRepository(PostMailEntity)
      .find({ order: { id: 'DESC' }, take: 1 });
    if (!row) throw new Error('nothing arrived');
    const raw = await unseal(
      running.config.keys.installation,
      `post ${row.messageId} ${row.recipient}`,
      row.sealed,
    );
    expect(decryptedWith(raw, own.certificate, own.privateKey)?.toString('utf8')).toContain(
      'encrypt-content.txt',
    );
    // RFC 8551, checked against another implementation.
    const folder = mkdtempSync(join(tmpdir(), 'smime-'));
    writeFileSync(join(folder, 'mail.eml'), raw);
    writeFileSync(join(folder, 'key.pem'), own.privateKey);
    writeFileSync(join(folder, 'cert.pem'), own.certificate);
    const opened = await program('openssl', [
      ...['cms', '-decrypt', '-in', join(folder, 'mail.eml')],
      ...['-recip', join(folder, 'cert.pem'), '-inkey', join(folder, 'key.pem')],
    ]);
    rmSync(folder, { recursive: true, force: true });
    expect(opened.code).toBe(0);
    expect(opened.out).toContain('encrypt-content.txt');
  });

  it('sets the label that a rule says, into the mail itself, and never over a higher one', async () => {
    const label = (name: string, rank: number) =>
      client.send<{ id: string }>('POST', '/labels/labels', {
        label: { name, rank, choosing: [{ when: 'For us' }], carriers: ['mail', 'document'] },
        note: '',
      });
    const { body: ours, status } = await label('Ours alone', 40);
    expect(status).toBe(201);
    await publish(client, 'Labels', [
      ruleOf({
        when: when('label*'),
        bands: [{ answer: 'note', severity: 'low', treatments: [{ kind: 'set-label', label: ours.id }] }],
      }),
    ]);
    await send([OUTSIDE], { file: 'label.txt' });
    await post();
    const [row] = await running.database
      .getRepository(PostMailEntity)
      .find({ order: { id: 'DESC' }, take: 1 });
    if (!row) throw new Error('nothing arrived');
    const raw = await unseal(
      running.config.keys.installation,
      `post ${row.messageId} ${row.recipient}`,
      row.sealed,
    );
    const { own } = await readFileLabels({ name: 'mail.eml', bytes: raw });
    expect(own).toMatchObject({ id: ours.id, name: 'Ours alone', how: 'automatically' });
  });

  it('forbids passing on in a field of the head, and marks the subject once', async () => {
    await send([OUTSIDE], { file: 'no-passing-on.txt' });
    expect((await post()).arrived[0]).toMatchObject({ notToBePassedOn: true, subject: '[ours] Berth' });
  });

  it('is driven by a client of another maker', async () => {
    const swaks = (body: string) =>
      program('swaks', [
        ...['--server', `127.0.0.1:${port}`, '--from', ORLA, '--to', OUTSIDE],
        ...['--header', 'Subject: From elsewhere', '--body', body, '--tls-optional', '--timeout', '20'],
      ]);
    const taken = await swaks('Good morning');
    expect(taken).toMatchObject({ code: 0, out: expect.stringContaining('250 2.0.0 Taken') as string });
    const refused = await swaks(CARDS);
    expect(refused.code).not.toBe(0);
    expect(refused.out).toContain('550 5.7.1 Use the portal.');
  });

  describe('clients that behave badly', () => {
    const open = ['EHLO t\r\n', `MAIL FROM:<${ORLA}>\r\n`, `RCPT TO:<${OUTSIDE}>\r\n`, 'DATA\r\n'];

    it.each([
      [
        'a bare line feed before a hidden mail',
        'Subject: a\r\n\r\nHello\n.\nMAIL FROM:<x@y.example>\r\n.\r\n',
      ],
      ['a bare return before a hidden mail', 'Subject: a\r\n\r\nHello\r.\rMAIL FROM:<x@y.example>\r\n.\r\n'],
      ['a mixed end before a hidden mail', 'Subject: a\r\n\r\nHello\n.\r\nMAIL FROM:<x@y.example>\r\n.\r\n'],
    ])('smuggle nothing: %s', async (_what, data) => {
      const before = await movements();
      const heard = await talk([...open, data, 'QUIT\r\n']);
      expect(heard).toMatch(/550 5\.6\.0/);
      expect(await movements()).toBe(before);
    });

    it('stop in the middle, and leave nothing behind', async () => {
      const before = await movements();
      await new Promise<void>((resolve) => {
        const socket = connect(port, '127.0.0.1', () => {
          socket.write([...open, 'Subject: half\r\n\r\nHalf a mail'].join(''));
          setTimeout(() => (socket.destroy(), resolve()), 400);
        });
      });
      await new Promise((resolve) => setTimeout(resolve, 300));
      expect(await movements()).toBe(before);
      expect((await send([OUTSIDE])).response).toMatch(/^250/);
    });

    it('send an endless line, and are sent away or answered, and the door stays open', async () => {
      const heard = await talk(['EHLO t\r\n', `${'X'.repeat(200_000)}\r\n`, 'QUIT\r\n']);
      expect(heard).toMatch(/^421 .*too long/m);
      expect((await send([OUTSIDE], { text: 'x'.repeat(2_000_000) })).response).toMatch(/^250/);
    });

    it('name a thousand and one recipients, and hear that it is too many', async () => {
      const many = Array.from(
        { length: 1_001 },
        (_unused, index) => `RCPT TO:<p${index}@x.example>\r\n`,
      ).join('');
      const heard = await talk(['EHLO t\r\n', `MAIL FROM:<${ORLA}>\r\n`, many, 'QUIT\r\n']);
      expect(heard.match(/^250 /gm)?.length ?? 0).toBeGreaterThanOrEqual(1_000);
      expect(heard).toMatch(/452 4\.5\.3/);
    });

    it('write in an unknown encoding and in none', async () => {
      const raw = Buffer.concat([
        Buffer.from(
          `From: ${ORLA}\r\nContent-Type: text/plain; charset=x-unknown\r\nSubject: =?x-no?Q?=FF?=\r\n\r\n`,
        ),
        Buffer.from([0xff, 0xfe, 0x80, 0x0d, 0x0a]),
      ]);
      const { response } = await mailer().sendMail({ envelope: { from: ORLA, to: [OUTSIDE] }, raw });
      expect(response).toMatch(/^250/);
    });
  });
});

function program(name: string, given: readonly string[]): Promise<{ code: number; out: string }> {
  return new Promise((resolve) =>
    execFile(name, [...given], { maxBuffer: 8_000_000 }, (error, out, err) =>
      resolve({ code: typeof error?.code === 'number' ? error.code : error ? 1 : 0, out: `${out}${err}` }),
    ),
  );
}
