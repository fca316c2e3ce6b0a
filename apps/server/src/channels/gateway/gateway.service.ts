import { createHash, randomUUID } from 'node:crypto';
import { openMail } from '@lantern/files';
import { highest, type Label, mayDo, type Treatment } from '@lantern/core';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import type { IntakeVerdict } from '@lantern/contracts';
import { PeopleService } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { seal, unseal } from '../../platform/sealing.js';
import type { Attempt } from '../door.service.js';
import { AttemptsService } from '../intake/attempts.service.js';
import { LabelsOfFiles } from '../labels-of-files.service.js';
import { MailLabels } from '../mail/mail-labels.service.js';
import { MailboxService } from '../mail/mailbox.service.js';
import { GatewayMailEntity } from './gateway.entity.js';
import { OutgoingService } from './outgoing.service.js';
import { treated } from './raw-mail.js';
import { refusalReport, refusalWords } from './refusal-report.js';

const AGENT = 'smtp';

export interface Envelope {
  readonly from: string;
  readonly to: readonly string[];
}

/** What the client is answered: a code of RFC 5321 with a status of RFC 3463, and words for people. */
export interface SmtpAnswer {
  readonly code: number;
  readonly words: string;
}

/** Mail that comes in by SMTP: judged, then handed on, held, or refused. What is accepted is stored first. */
@Injectable()
export class GatewayService implements OnModuleInit {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly attempts: AttemptsService,
    private readonly people: PeopleService,
    private readonly outgoing: OutgoingService,
    private readonly mailboxes: MailboxService,
    private readonly labels: LabelsOfFiles,
    private readonly mailLabels: MailLabels,
  ) {}

  onModuleInit(): void {
    this.attempts.listen(AGENT, (manager, verdict) => this.settle(manager, verdict));
  }

  async take(envelope: Envelope, raw: Buffer): Promise<SmtpAnswer> {
    const from = envelope.from.toLowerCase();
    const to = [...new Set(envelope.to.map((address) => address.toLowerCase()))];
    const mail = await openMail(raw);
    const [person] = await this.people.findByAddresses([from]);
    const inHeader = await this.labels.of([{ name: 'mail.eml', bytes: raw }]);
    const onFiles = await this.labels.of(mail.attachments);
    const forbidden = await this.forbidden([...inHeader, ...onFiles], { from, person });
    if (forbidden) return { code: 550, words: `5.7.1 ${forbidden}` };
    const own = highest(inHeader);
    const attempt: Attempt = {
      channel: 'mail',
      activity: 'send',
      person: person ?? { address: from || 'no sender' },
      at: new Date(),
      to,
      texts: [
        { role: 'subject', path: ['subject'], text: mail.subject },
        ...mail.texts.map(({ name, text }) => ({ role: 'body' as const, path: [name], text })),
      ],
      files: mail.attachments,
      labels: onFiles.map(({ id, name }) => ({ id: String(id), name })),
      own: own && { label: own, how: 'by-hand' },
    };
    const verdict = await this.attempts.take(
      { agent: AGENT, key: keyOf(raw, from, to) },
      attempt,
      (manager, judged) => this.apply(manager, { verdict: judged, from, to, raw, person: person ?? null }),
    );
    this.outgoing.kick();
    return answerFor(verdict);
  }

  /** A label that lets this sender not pass it on. */
  private async forbidden(
    labels: readonly Label[],
    { from, person }: { from: string; person: PersonEntity | undefined },
  ): Promise<string | null> {
    const isOutside = await this.people.outsideTest();
    const handler = {
      address: from,
      outside: isOutside(from),
      ...(person ? { groups: person.groups, department: person.department, office: person.port } : {}),
    };
    const stopping = labels.find(
      ({ handling }) =>
        !mayDo('pass-on', handler, { owner: '', handling, since: 0, named: {} }, Date.now()).allowed,
    );
    return stopping
      ? `The label "${stopping.name}" does not let you pass this on. Ask its owner; nothing was sent.`
      : null;
  }

  /** In the transaction of the verdict: what may go is queued, what waits is kept byte for byte. */
  private async apply(manager: EntityManager, { verdict, from, to, raw, person }: Applied): Promise<void> {
    const goes = goingOn(verdict, to);
    const whose = { sender: from, at: new Date() };
    const sent = await this.mailLabels.writtenInto(treated(raw, verdict.treatments), verdict, whose);
    await this.handOn(manager, { from, to: goes, raw: sent, treatments: verdict.treatments });
    const staying = to.filter((address) => !goes.includes(address));
    // Taken for some and not for others: SMTP has no answer for that, so a report says who does not get it.
    if (verdict.state === 'refused' && goes.length > 0)
      await this.report(manager, { from, refused: staying, notice: verdict.notice, raw });
    if (verdict.state !== 'waiting' || staying.length === 0) return;
    await manager.insert(GatewayMailEntity, {
      id: verdict.id,
      at: new Date(),
      sender: from,
      recipients: staying,
      treatments: verdict.treatments.map((each) => ({ ...each })),
      sealed: seal(this.config.evidenceKey, `gateway ${verdict.id}`, sent),
    });
    if (person) await this.show(manager, { verdict, raw, person, to: staying });
  }

  /** Tells a sender who does not get a mail that was taken: in their window, or by a report over the wire. */
  private async report(
    manager: EntityManager,
    {
      from,
      refused,
      notice,
      raw,
    }: {
      readonly from: string;
      readonly refused: readonly string[];
      readonly notice: IntakeVerdict['notice'];
      readonly raw: Buffer;
    },
  ): Promise<void> {
    // Nobody is told of a mail that is a report itself (RFC 5321, 4.5.5).
    if (from === '') return;
    const [person] = await this.people.findByAddresses([from]);
    const { domains } = await this.people.getOrganisation();
    const words = oneLine(notice?.text ?? '') || 'A rule of this organisation stops this mail.';
    const said = { sender: from, domain: domains[0] ?? 'localhost', refused, words, raw, at: new Date() };
    if (person)
      await this.mailboxes.keep(manager, {
        owner: person.id,
        folder: 'inbox',
        at: said.at,
        from: `postmaster@${said.domain}`,
        to: [from],
        subject: 'Your mail did not go to everybody',
        body: refusalWords(said),
        files: [],
        notice: null,
        treatments: [],
      });
    else
      await this.outgoing.queue(manager, {
        sender: '',
        recipients: [from],
        raw: await refusalReport(said),
        treatments: [],
      });
  }

  /** In the sender's mail window, where the question can be answered; under the same id as what waits. */
  private async show(
    manager: EntityManager,
    {
      verdict,
      raw,
      person,
      to,
    }: { verdict: IntakeVerdict; raw: Buffer; person: PersonEntity; to: readonly string[] },
  ): Promise<void> {
    const mail = await openMail(raw);
    await this.mailboxes.keep(
      manager,
      {
        owner: person.id,
        folder: 'waiting',
        at: new Date(),
        from: person.address,
        to,
        subject: mail.subject,
        body: mail.texts.map(({ text }) => text).join('\n\n'),
        files: mail.attachments,
        notice: verdict.notice,
        treatments: verdict.treatments,
      },
      verdict.id,
    );
  }

  /** Receivers inside read it in their windows; the others get it over the wire. */
  private async handOn(
    manager: EntityManager,
    {
      from,
      to,
      raw,
      treatments,
    }: { from: string; to: readonly string[]; raw: Buffer; treatments: readonly Treatment[] },
  ): Promise<void> {
    if (to.length === 0) return;
    const isOutside = await this.people.outsideTest();
    await this.outgoing.queue(manager, { sender: from, recipients: to.filter(isOutside), raw, treatments });
    const inside = await this.people.findByAddresses(to.filter((address) => !isOutside(address)));
    const [sender] = await this.people.findByAddresses([from]);
    if (inside.length === 0 && !sender) return;
    const mail = await openMail(raw);
    const kept = {
      at: new Date(),
      from,
      to,
      subject: mail.subject,
      body: mail.texts.map(({ text }) => text).join('\n\n'),
      files: mail.attachments,
      notice: null,
      treatments,
    };
    for (const receiver of inside)
      await this.mailboxes.keep(manager, { ...kept, owner: receiver.id, folder: 'inbox' });
    if (sender) await this.mailboxes.keep(manager, { ...kept, owner: sender.id, folder: 'sent' });
  }

  /** What waited goes on its way, or is let go; what its sender sees of it goes along. */
  private async settle(manager: EntityManager, { id, state, notice }: IntakeVerdict): Promise<void> {
    const held = await manager.findOneBy(GatewayMailEntity, { id });
    if (!held) return;
    if (state === 'went-on') {
      const raw = unseal(this.config.evidenceKey, `gateway ${id}`, held.sealed);
      await this.handOn(manager, {
        from: held.sender,
        to: held.recipients,
        raw,
        treatments: held.treatments as readonly Treatment[],
      });
    }
    // Whoever the directory knows reads it in their window.
    const [known] = await this.people.findByAddresses([held.sender]);
    if (state !== 'went-on' && !known) {
      const raw = unseal(this.config.evidenceKey, `gateway ${id}`, held.sealed);
      await this.report(manager, { from: held.sender, refused: held.recipients, notice, raw });
    }
    await manager.delete(GatewayMailEntity, { id });
    await this.mailboxes.settleCopy(manager, id, state, notice);
    this.outgoing.kick();
  }
}

interface Applied {
  readonly verdict: IntakeVerdict;
  readonly from: string;
  readonly to: readonly string[];
  readonly raw: Buffer;
  readonly person: PersonEntity | null;
}

/** Who gets it now. */
function goingOn({ state, recipients }: IntakeVerdict, to: readonly string[]): string[] {
  if (state === 'went-on') return [...to];
  return recipients.filter(({ goesOn }) => goesOn).map(({ address }) => address);
}

/** The same bytes for the same receivers are the same mail, as when a client heard no answer and sends it again. */
function keyOf(raw: Buffer, from: string, to: readonly string[]): string {
  // Without a message id nobody can tell a mail from one that merely reads the same.
  if (!/^message-id:/im.test(raw.subarray(0, 65_536).toString('latin1'))) return randomUUID();
  return createHash('sha256')
    .update(`${from}\n${to.join(',')}\n`)
    .update(raw)
    .digest('hex');
}

function answerFor({ state, notice, incident, recipients }: IntakeVerdict): SmtpAnswer {
  const number = incident === null ? '' : ` This is recorded under number ${incident}.`;
  const some = recipients.some(({ goesOn }) => goesOn);
  if (state === 'refused' && !some)
    return {
      code: 550,
      words: `5.7.1 ${oneLine(notice?.text ?? '') || 'A rule of this organisation stops this mail.'}${number}`,
    };
  if (state === 'refused')
    return {
      code: 250,
      words: `2.0.0 Taken for ${count(recipients, true)} and refused for ${count(recipients, false)}.${number}`,
    };
  if (state === 'waiting')
    return {
      code: 250,
      words: `2.0.0 Taken; it waits for ${notice?.ask ? 'your answer in the mail window' : 'a decision'}.${number}`,
    };
  return { code: 250, words: '2.0.0 Taken' };
}

const count = (recipients: IntakeVerdict['recipients'], goesOn: boolean): number =>
  recipients.filter((each) => each.goesOn === goesOn).length;

/** Words of an author on one line of a reply, and no longer than clients take (RFC 5321, 4.5.3.1.5: 512 octets). */
function oneLine(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length > 380 ? `${line.slice(0, 379)}…` : line;
}
