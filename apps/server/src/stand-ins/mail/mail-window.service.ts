import { randomUUID } from 'node:crypto';
import { type CleanedMail, type IntakeVerdict, MAX_RECIPIENTS, type PersonNotice } from '@lantern/contracts';
import { isDivided, judgementsByRecipient, type Treatment } from '@lantern/core/policy';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { isEmail } from 'class-validator';
import type { EntityManager } from 'typeorm';
import { marked } from '../../doors/outgoing/marked.js';
import { OutgoingService, type SealedOutgoing } from '../../doors/outgoing/outgoing.service.js';
import { composed } from '../../doors/outgoing/raw-mail.js';
import { MovementJudge } from '../../movements/judge.service.js';
import { Movements } from '../../movements/movements.service.js';
import { withoutValues } from '../../movements/notice/without-values.js';
import { PersonAnswers } from '../../movements/person-answers.service.js';
import { type JudgedSubmission, stateAfter, type Submission } from '../../movements/submission.js';
import { MachinesService } from '../../directory/machines/machines.service.js';
import { PeopleService } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { labelledMail, mailLabel } from './labelled.js';
import { MailLabels } from '../../movements/mail/mail-labels.service.js';
import { MailboxService } from './mailbox.service.js';
import { type MailFile, type PackedMail } from '../../movements/mail/mailboxes.js';

/** Name by which the mail window submits. */
const SUBMITTER = 'mail-window';

/** A mail somebody sends. */
export interface MailToSend {
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
  /** Of its movement. */
  readonly submissionId: string;
  readonly incident: number | null;
  readonly notice: PersonNotice | null;
}

/** A mail on its way, sealed before the transaction that records its movement. */
interface Prepared {
  /** As its sender keeps it. */
  readonly mail: PackedMail;
  /** Those who get it now, and those it stays back for. */
  readonly now: readonly string[];
  readonly staying: readonly string[];
  /** The mail as it goes to those who get it now, and over the wire to those of them who are outside. */
  readonly going: PackedMail;
  readonly outgoing: SealedOutgoing | null;
}

/** The mail window: it submits like anybody, and places the mail where its verdict leaves it. */
@Injectable()
export class MailWindow implements OnModuleInit {
  constructor(
    private readonly judge: MovementJudge,
    private readonly movements: Movements,
    private readonly answers: PersonAnswers,
    private readonly mailboxes: MailboxService,
    private readonly labels: MailLabels,
    private readonly machines: MachinesService,
    private readonly people: PeopleService,
    private readonly outgoing: OutgoingService,
  ) {}

  onModuleInit(): void {
    this.movements.listen(SUBMITTER, (manager, verdict) => this.settle(manager, verdict));
  }

  async send(mail: MailToSend): Promise<SentMail> {
    const to = readRecipients(mail.to);
    let messageId = '';
    const drafted = mail.draft ? await this.mailboxes.labelOf(mail.person.id, mail.draft) : null;
    const submission = await this.submissionOf(mail, to);
    const by = { submitter: SUBMITTER, key: randomUUID() };
    const verdict = await this.movements.submit<Prepared>(by, submission, {
      prepare: (_verdict, judged) => this.prepare(mail, to, judged),
      apply: async (manager, decided, { judged, prepared }) => {
        if (mail.draft) await this.mailboxes.remove(manager, mail.person.id, mail.draft);
        messageId = await this.place(manager, mail, { verdict: decided, prepared });
        if (decided.state === 'refused') return;
        const whose = { sender: mail.person.address, at: mail.at, itemId: messageId };
        await this.labels.record(manager, [drafted, judged.own, this.labels.standing(judged)], whose);
      },
    });
    const { state, incident, notice } = verdict;
    const status = state === 'went-on' ? 'sent' : state === 'waiting' ? 'waiting' : 'refused';
    return { status, messageId, submissionId: verdict.id, incident, notice };
  }

  /** The person answers the question that holds a mail back. */
  async reply(
    person: PersonEntity,
    id: string,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    await this.answers.reply(await this.answers.ofPerson(id, person.address), reply);
  }

  /** Asks somebody to let a blocked mail go; it waits with what the person wrote. */
  async askOverride(person: PersonEntity, id: string, words: string): Promise<void> {
    await this.answers.askOverride(await this.answers.ofPerson(id, person.address), words);
  }

  /** Its sender says that what was found is none. */
  async report(person: PersonEntity, id: string, words: string): Promise<void> {
    const { notice } = await this.mailboxes.get(person.id, id);
    if (!notice) throw new AppError('act-refused', 'There are no findings to report.');
    const ref = await this.answers.ofIncident(notice.incident);
    await this.answers.report(ref, words, (manager) => this.mailboxes.markReported(manager, id));
  }

  /** Subject and text without the values that stop a mail, for its sender to go on with. Its files stay as they are. */
  async withoutValues(mail: Omit<MailToSend, 'at' | 'draft'>): Promise<CleanedMail> {
    const to = readRecipients(mail.to);
    const judged = await this.judge.judge(
      await this.submissionOf({ ...mail, draft: null, at: new Date() }, to),
    );
    const [subject, body] = [mail.subject, mail.body].map((text, at) => withoutValues(text, judged, at));
    if (!subject || !body || subject.takenOut + body.takenOut === 0)
      throw new AppError(
        'act-refused',
        'The findings are in a file, not in the text. Change the file and try again.',
      );
    return { subject: subject.text, body: body.text };
  }

  /** Seals the mail as its sender keeps it and as it goes on, and composes what goes over the wire. */
  private async prepare(
    mail: MailToSend,
    to: readonly string[],
    judged: JudgedSubmission,
  ): Promise<Prepared> {
    const { at, subject, body, files, person } = mail;
    const state = stateAfter(judged.verdict);
    // What does not go keeps the label that its sender gave it.
    const standing =
      state === 'refused' ? judged.own && { ...judged.own, rule: null } : this.labels.standing(judged);
    const label = standing && mailLabel(standing.label, { how: standing.how, sender: person.address, at });
    const kept = await this.mailboxes.packed({
      ...{ at, from: person.address, to, subject, body, files, label },
      treatments: judged.verdict.treatments,
    });
    const now = state === 'went-on' ? to : letThrough(judged, to);
    const staying = to.filter((address) => !now.includes(address));
    const treatments = treatmentsFor(judged, now);
    const going = { ...kept, to: now, treatments, subject: marked(subject, treatments) };
    const outgoing = mail.handOn === false ? null : await this.toOutside(going, files);
    return { mail: { ...kept, to: staying }, now, staying, going, outgoing };
  }

  private async toOutside(going: PackedMail, files: readonly MailFile[]): Promise<SealedOutgoing | null> {
    const isOutside = await this.people.outsideTest();
    const recipients = going.to.filter(isOutside);
    if (recipients.length === 0) return null;
    const shown = { ...going, ...labelledMail(going, going.label ?? null), files };
    const raw = await composed(randomUUID(), shown);
    return this.outgoing.sealed({ sender: going.from, recipients, raw, treatments: going.treatments });
  }

  /**
   * Puts the mail where its verdict leaves it: sent with copies for those inside, kept as a draft, or waiting. Where rules
   * are asked of each recipient, those it is let to have it at once, and only the rest stays back.
   */
  private async place(
    manager: EntityManager,
    { person }: MailToSend,
    { verdict, prepared }: { readonly verdict: IntakeVerdict; readonly prepared: Prepared },
  ): Promise<string> {
    const { mail, now, staying, going, outgoing } = prepared;
    const notice = verdict.state === 'went-on' ? verdict.notice : null;
    const sent =
      now.length === 0 ? null : await this.handOver(manager, person.id, { going, outgoing, notice });
    if (staying.length === 0 && sent) return sent;
    const folder = verdict.state === 'refused' ? 'drafts' : 'waiting';
    return this.mailboxes.keep(
      manager,
      mail,
      { owner: person.id, folder, notice: verdict.notice },
      verdict.id,
    );
  }

  /** Gives a mail to those who get it, and its sender a copy. */
  private async handOver(
    manager: EntityManager,
    owner: string,
    {
      going,
      outgoing,
      notice,
    }: Pick<Prepared, 'going' | 'outgoing'> & { readonly notice: PersonNotice | null },
  ): Promise<string> {
    if (outgoing) await this.outgoing.queue(manager, outgoing);
    await this.mailboxes.deliver(manager, going, going.to);
    const shown = { ...going, ...labelledMail(going, going.label ?? null) };
    return this.mailboxes.keep(manager, shown, { owner, folder: 'sent', notice });
  }

  /** What waited goes on its way as of now, with its treatments, or is a draft again. */
  private async settle(manager: EntityManager, { id, state, notice }: IntakeVerdict): Promise<void> {
    if (state !== 'went-on')
      return this.mailboxes.move(manager, id, state === 'waiting' ? 'waiting' : 'drafts', notice ?? {});
    const { owner, mail } = await this.mailboxes.unpacked(manager, id);
    const going = { ...mail, subject: marked(mail.subject, mail.treatments) };
    const outgoing = await this.toOutside(going, await this.mailboxes.bytesOf(manager, going));
    await this.handOver(manager, owner, { going, outgoing, notice });
    await this.mailboxes.remove(manager, owner, id);
  }

  private async submissionOf(mail: MailToSend, to: readonly string[]): Promise<Submission> {
    const { person, at, files, label } = mail;
    const machine = await this.machines.ofPerson(person.address);
    return {
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
      chooses: (ofFiles) =>
        this.labels.chosen({ person, at, ofFiles, ...(label === undefined ? {} : { label }) }),
      ...(machine ? { machine } : {}),
    };
  }
}

/** Recipients who get a mail that does not go to all of them. */
function letThrough({ verdict }: JudgedSubmission, to: readonly string[]): string[] {
  if (!isDivided(verdict) || verdict.forbidden) return [];
  return judgementsByRecipient(verdict, to)
    .filter((each) => stateAfter(each) === 'went-on')
    .map(({ address }) => address);
}

function treatmentsFor({ verdict }: JudgedSubmission, to: readonly string[]): readonly Treatment[] {
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
      `The mail names ${addresses.length} recipients. The limit is ${MAX_RECIPIENTS}. It was not sent, and nothing was lost.`,
      {
        details: { recipients: addresses.length, limit: MAX_RECIPIENTS },
      },
    );
  }
  const wrong = addresses.find((address) => !isEmail(address, { require_tld: false }));
  if (wrong !== undefined)
    throw new AppError(
      'bad-address',
      `"${wrong.slice(0, 100)}" is not a mail address. The mail was not sent.`,
      {
        details: { address: wrong.slice(0, 100) },
      },
    );
  return addresses;
}
