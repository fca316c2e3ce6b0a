import { type CleanedMail, MAX_RECIPIENTS, type PersonNotice } from '@lantern/contracts';
import { isDivided, judgementsByRecipient } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { isEmail } from 'class-validator';
import { EntityManager } from 'typeorm';
import { IncidentEntity } from '../../incidents/incident.entity.js';
import { RecorderService } from '../../incidents/recorder.service.js';
import { MachinesService } from '../../people/machines.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { WaitingService } from '../../waiting/waiting.service.js';
import { OutgoingService } from '../gateway/outgoing.service.js';
import { type Attempt, Door, type JudgedAttempt, stateAfter } from '../door.service.js';
import { waitingTerms } from '../waiting-terms.js';
import { withoutValues } from '../without-values.js';
import type { MailLabel } from './mail.entity.js';
import { MailLabels } from './mail-labels.service.js';
import { mailLabel } from './labelled.js';
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
  /** False for the past of the demo: it is not handed on outside again. */
  readonly handOn?: boolean;
}

export interface SentMail {
  readonly status: 'sent' | 'refused' | 'waiting';
  /** The copy in the sent folder, or what was kept of a mail that did not go. */
  readonly messageId: string;
  readonly incident: number | null;
  readonly notice: PersonNotice | null;
}

/** A mail on its way through one transaction. */
interface Placing {
  readonly mail: OutgoingMail;
  readonly to: readonly string[];
  readonly judged: JudgedAttempt;
  readonly label: MailLabel | null;
}

/** Turns mail into a movement and applies the verdict: what is blocked stays with its sender as a draft. */
@Injectable()
export class MailChannelService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly door: Door,
    private readonly recorder: RecorderService,
    private readonly mailboxes: MailboxService,
    private readonly waiting: WaitingService,
    private readonly live: LiveEvents,
    private readonly labels: MailLabels,
    private readonly machines: MachinesService,
    private readonly outgoing: OutgoingService,
  ) {}

  async send(mail: OutgoingMail): Promise<SentMail> {
    const to = readRecipients(mail.to);
    const { own, ofFiles } = await this.labels.of(mail);
    const judged = await this.judge(mail, to, { own, labels: ofFiles });
    const whose = { sender: mail.person.address, at: mail.at };
    // What does not go keeps the label that its sender gave it.
    const stays = stateAfter(judged.verdict) === 'refused';
    const standing = stays ? own && { ...own, rule: null } : this.labels.afterVerdict(judged);
    const label = standing && mailLabel(standing.label, { how: standing.how, ...whose });
    const sent = await this.manager.transaction(async (manager) => {
      const recorded = await this.recorder.record(manager, judged);
      if (mail.draft) await this.mailboxes.remove(manager, mail.person.id, mail.draft);
      const notice = judged.notice && { ...judged.notice, incident: recorded.incident ?? 0 };
      const placing = { mail, to, judged: { ...judged, notice }, label };
      const messageId = await this.place(manager, placing);
      if (standing && !stays) await this.labels.record(manager, standing, { ...whose, itemId: messageId });
      if (recorded.incident !== null) await this.wait(manager, placing, { ...recorded, messageId });
      return { messageId, incident: recorded.incident };
    });
    if (sent.incident !== null) this.live.publish({ kind: 'incident-recorded', number: sent.incident });
    this.outgoing.kick();
    const state = stateAfter(judged.verdict);
    return { status: state === 'went-on' ? 'sent' : state, ...sent, notice: judged.notice };
  }

  /**
   * Puts the mail where its verdict leaves it: sent with copies for those inside, kept as a draft, or waiting. Where rules
   * are asked of each recipient, those it is let to have it at once, and only the rest stays back.
   */
  private async place(manager: EntityManager, { mail, to, judged, label }: Placing): Promise<string> {
    const { at, subject, body, files, person } = mail;
    const { treatments } = judged.verdict;
    const common = {
      at,
      from: person.address,
      subject,
      body,
      files,
      label,
      owner: person.id,
      handOn: mail.handOn ?? true,
    };
    const state = stateAfter(judged.verdict);
    const now = state === 'went-on' ? to : letThrough(judged, to);
    const staying = to.filter((address) => !now.includes(address));
    const notice = state === 'went-on' ? judged.notice : null;
    const sent =
      now.length === 0
        ? null
        : await this.mailboxes.deliver(manager, {
            ...common,
            to: now,
            treatments: treatmentsFor(judged, now),
            subject: marked(subject, treatmentsFor(judged, now)),
            notice,
          });
    if (staying.length === 0 && sent) return sent;
    const folder = state === 'refused' ? 'drafts' : 'waiting';
    return this.mailboxes.keep(manager, {
      ...common,
      to: staying,
      treatments,
      notice: judged.notice,
      folder,
    });
  }

  /** Writes down that a mail waits, for whom and until when. */
  private async wait(
    manager: EntityManager,
    { mail, judged }: Placing,
    held: { movementId: string; incident: number | null; messageId: string },
  ): Promise<void> {
    const terms = waitingTerms(judged.verdict, judged.set, judged.notice);
    if (held.incident === null || !terms) return;
    await this.waiting.add(manager, {
      ...terms,
      id: held.messageId,
      movementId: held.movementId,
      incidentNumber: held.incident,
      channel: 'mail',
      person: mail.person.id,
      since: judged.at,
      words: '',
    });
  }

  /** Subject and text without the values that stop a mail, for its sender to go on with. Its files stay as they are. */
  async withoutValues(mail: Omit<OutgoingMail, 'at' | 'draft'>): Promise<CleanedMail> {
    const outgoing = { ...mail, draft: null, at: new Date() };
    const judged = await this.judge(outgoing, readRecipients(mail.to), {
      own: null,
      labels: await this.labels.carriedBy(mail.files),
    });
    const [subject, body] = [mail.subject, mail.body].map((text, at) => withoutValues(text, judged, at));
    if (!subject || !body || subject.takenOut + body.takenOut === 0)
      throw new AppError(
        'act-refused',
        'Nothing in the text itself can be taken out: what was found stands in a file. Change the file and try again.',
      );
    return { subject: subject.text, body: body.text };
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
      await this.waiting.askOverride(manager, {
        id,
        movementId,
        incidentNumber: incident,
        channel: 'mail',
        person,
        decides: override,
        words,
      });
    });
    this.live.publish({ kind: 'incident-changed', number: incident });
  }

  private async judge(
    mail: OutgoingMail,
    to: readonly string[],
    { own, labels }: Pick<Attempt, 'own' | 'labels'>,
  ): Promise<JudgedAttempt> {
    const { person, at, files } = mail;
    const machine = await this.machines.ofPerson(person.address);
    return this.door.judge({
      channel: 'mail',
      activity: 'send',
      person,
      at,
      to,
      texts: [
        { role: 'subject', path: ['subject'], text: mail.subject },
        { role: 'body', path: ['body'], text: mail.body },
      ],
      files,
      labels: labels ?? [],
      own: own ?? null,
      ...(machine ? { machine } : {}),
    });
  }
}

/** Recipients who get a mail that does not go to all of them. */
function letThrough({ verdict }: JudgedAttempt, to: readonly string[]): string[] {
  if (!isDivided(verdict)) return [];
  return judgementsByRecipient(verdict, to)
    .filter((each) => stateAfter(each) === 'went-on')
    .map(({ address }) => address);
}

function treatmentsFor(
  { verdict }: JudgedAttempt,
  to: readonly string[],
): JudgedAttempt['verdict']['treatments'] {
  if (!isDivided(verdict)) return verdict.treatments;
  const all = judgementsByRecipient(verdict, to).flatMap(({ treatments }) => treatments);
  return [...new Map(all.map((each) => [JSON.stringify(each), each])).values()];
}

/** Addresses in lower case, each once. Throws a refusal that names what is wrong; the draft is untouched by it. */
export function readRecipients(to: readonly string[]): string[] {
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
