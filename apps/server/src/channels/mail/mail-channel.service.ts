import { MAX_RECIPIENTS, type MailNotice } from '@lantern/contracts';
import { evaluate, type InspectedMovement, type MovedLabel, NO_POLICIES } from '@lantern/core';
import { fileFacts } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { isEmail } from 'class-validator';
import { EntityManager } from 'typeorm';
import { HistoryEntity, IncidentEntity } from '../../incidents/incident.entity.js';
import { EarlierMovements } from '../../incidents/earlier-movements.js';
import { type JudgedMovement, RecorderService } from '../../incidents/recorder.service.js';
import { InspectionService } from '../../inspection/inspection.service.js';
import { MAX_KEPT_TEXT } from '../../journal/journal-entry.js';
import { factsOf, PeopleService } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import { WaitingService } from '../../waiting/waiting.service.js';
import type { MailLabel } from './mail.entity.js';
import { MailLabels } from './mail-labels.service.js';
import { decidingRule, mailNotice } from './mail-notice.js';
import { marked } from './marked.js';
import { type MailFile, MailboxService } from './mailbox.service.js';

/** A mail somebody sends. */
export interface OutgoingMail {
  readonly person: PersonEntity;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly MailFile[];
  /** The draft it was written from; it is gone when the mail has gone. */
  readonly draft: string | null;
  readonly at: Date;
  /** What the sender chose; null for none, left out where nobody was asked. */
  readonly label?: string | null;
}

export interface SentMail {
  readonly status: 'sent' | 'refused' | 'waiting';
  /** The copy in the sent folder, or what was kept of a mail that did not go. */
  readonly messageId: string;
  readonly incident: number | null;
  readonly notice: MailNotice | null;
}

type JudgedMail = JudgedMovement & { readonly notice: MailNotice | null };

/** Turns mail into a movement and applies the verdict: what is blocked stays with its sender as a draft. */
@Injectable()
export class MailChannelService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
    private readonly recorder: RecorderService,
    private readonly earlier: EarlierMovements,
    private readonly mailboxes: MailboxService,
    private readonly waiting: WaitingService,
    private readonly live: LiveEvents,
    private readonly labels: MailLabels,
  ) {}

  async send(mail: OutgoingMail): Promise<SentMail> {
    const to = readRecipients(mail.to);
    const { label, carried } = await this.labels.of(mail);
    const judged = await this.judge(mail, to, carried);
    const { answer } = judged.verdict;
    const status =
      answer === 'block' ? 'refused' : answer === 'ask' || answer === 'hold' ? 'waiting' : 'sent';
    const sent = await this.manager.transaction(async (manager) => {
      const recorded = await this.recorder.record(manager, judged);
      if (mail.draft) await this.mailboxes.remove(manager, mail.person.id, mail.draft);
      const notice = judged.notice && { ...judged.notice, incident: recorded.incident ?? 0 };
      const messageId = await this.place(manager, mail, { to, status, judged: { ...judged, notice }, label });
      if (label && status !== 'refused')
        await this.labels.record(manager, label, {
          sender: mail.person.address,
          at: mail.at,
          itemId: messageId,
        });
      if (recorded.incident !== null) await this.wait(manager, judged, { ...recorded, messageId, mail });
      return { messageId, incident: recorded.incident };
    });
    if (sent.incident !== null) this.live.publish({ kind: 'incident-recorded', number: sent.incident });
    return { status, ...sent, notice: judged.notice };
  }

  /** Puts the mail where its verdict leaves it: sent with copies for those inside, kept as a draft, or waiting. */
  private async place(
    manager: EntityManager,
    mail: OutgoingMail,
    {
      to,
      status,
      judged,
      label,
    }: {
      to: readonly string[];
      status: SentMail['status'];
      judged: JudgedMail;
      label: MailLabel | null;
    },
  ): Promise<string> {
    const { at, subject, body, files, person } = mail;
    const { treatments } = judged.verdict;
    const kept = {
      at,
      from: person.address,
      to,
      subject,
      body,
      files,
      treatments,
      notice: judged.notice,
      label,
    };
    if (status !== 'sent') {
      const folder = status === 'refused' ? 'drafts' : 'waiting';
      return this.mailboxes.keep(manager, { ...kept, owner: person.id, folder });
    }
    return this.mailboxes.deliver(manager, {
      ...kept,
      subject: marked(subject, treatments),
      owner: person.id,
    });
  }

  /** Writes down that a mail waits, for whom and until when. */
  private async wait(
    manager: EntityManager,
    judged: JudgedMail,
    held: { movementId: string; incident: number | null; messageId: string; mail: OutgoingMail },
  ): Promise<void> {
    const { answer } = judged.verdict;
    const told = decidingRule(judged.verdict, this.published.current?.document ?? NO_POLICIES);
    if (held.incident === null || !told || (answer !== 'ask' && answer !== 'hold')) return;
    await this.waiting.add(manager, {
      id: held.messageId,
      movementId: held.movementId,
      incidentNumber: held.incident,
      channel: 'mail',
      kind: answer,
      person: held.mail.person.id,
      since: judged.at,
      deadline: judged.notice?.ask ? new Date(judged.notice.ask.until) : null,
      otherwise: judged.notice?.ask?.otherwise ?? 'stays',
      decides: answer === 'ask' ? 'person' : (told.rule.override?.decides ?? 'approvers'),
      words: '',
    });
  }

  /** Asks somebody to let a blocked mail go; it waits with what the person wrote. */
  async askOverride(person: PersonEntity, id: string, words: string): Promise<void> {
    const mail = await this.mailboxes.get(person.id, id);
    const { override, incident } = mail.notice ?? { override: null, incident: 0 };
    if (mail.folder !== 'drafts' || !override)
      throw new AppError('act-refused', 'Nobody can be asked to let this mail go.');
    await this.manager.transaction(async (manager) => {
      const { movementId } = await manager.findOneByOrFail(IncidentEntity, { number: incident });
      await this.mailboxes.move(manager, id, 'waiting', { state: 'waiting', decision: null });
      await this.waiting.add(manager, {
        id,
        movementId,
        incidentNumber: incident,
        channel: 'mail',
        kind: 'override',
        person: person.id,
        since: new Date(),
        deadline: null,
        otherwise: 'stays',
        decides: override,
        words,
      });
      await manager.insert(HistoryEntity, {
        incidentNumber: incident,
        at: new Date(),
        actor: person.name,
        kind: 'override',
        act: null,
        text: `Asks to let it go: ${words}`,
      });
    });
    this.live.publish({ kind: 'incident-changed', number: incident });
  }

  /** Inspects and judges a mail by the revision that is in force as it begins. Writes nothing. */
  private async judge(
    mail: OutgoingMail,
    to: readonly string[],
    labels: readonly MovedLabel[],
  ): Promise<JudgedMail> {
    const revision = this.published.current;
    const document = revision?.document ?? { patterns: [], ...NO_POLICIES };
    const inspected = await this.inspection.inspect({
      texts: [
        { role: 'subject', path: ['subject'], text: mail.subject },
        { role: 'body', path: ['body'], text: mail.body },
      ],
      files: mail.files.map((file) => ({ role: 'attachment', name: file.name, bytes: file.bytes })),
      keepTexts: MAX_KEPT_TEXT,
    });
    const contentDigest = this.earlier.digestOf([mail.subject, mail.body], mail.files);
    const { person, at } = mail;
    const movement: InspectedMovement = {
      channel: 'mail',
      at: at.getTime(),
      sender: factsOf(person),
      recipients: await this.people.recipients(to),
      parts: inspected.map(({ part }) => part),
      files: mail.files.map(({ name, bytes }) => fileFacts(name, bytes)),
      labels,
      earlier: await this.earlier.of(person.address, at, { document, contentDigest }),
    };
    const verdict = evaluate(document, movement);
    const silent = verdict.answer === null || verdict.answer === 'note';
    const notice = silent
      ? null
      : mailNotice(movement, verdict, document, { ...factsOf(person), language: person.language });
    const { name, department } = person;
    return {
      movement,
      person: { name, department },
      at,
      inspected,
      verdict,
      revision: revision?.number ?? null,
      contentDigest,
      set: document,
      notice,
    };
  }
}

/** Addresses in lower case, each once. Throws a refusal that names what is wrong; the draft is untouched by it. */
function readRecipients(to: readonly string[]): string[] {
  const addresses = [
    ...new Set(to.map((address) => address.trim().toLowerCase()).filter((address) => address !== '')),
  ];
  if (addresses.length === 0)
    throw new AppError('no-recipients', 'The mail has no recipient. It was not sent.');
  if (addresses.length > MAX_RECIPIENTS) {
    throw new AppError(
      'too-many-recipients',
      `The mail names ${addresses.length} recipients; one mail takes ${MAX_RECIPIENTS}. It was not sent, and nothing of it was lost.`,
      {
        details: { recipients: addresses.length, limit: MAX_RECIPIENTS },
      },
    );
  }
  const wrong = addresses.find((address) => !isEmail(address, { require_tld: false }));
  if (wrong !== undefined)
    throw new AppError('bad-address', `"${wrong.slice(0, 100)}" is no mail address. The mail was not sent.`, {
      details: { address: wrong.slice(0, 100) },
    });
  return addresses;
}
