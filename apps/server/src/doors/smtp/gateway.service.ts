import { createHash, randomUUID } from 'node:crypto';
import type { IntakeVerdict } from '@lantern/contracts';
import type { Treatment } from '@lantern/core/policy';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { FileWork } from '../../inspection/file-work.service.js';
import type { OpenedMail } from '@lantern/files/inspect';
import { InsideMail } from '../../platform/inside-mail.js';
import { Movements } from '../../movements/movements.service.js';
import type { JudgedSubmission, Submission } from '../../movements/submission.js';
import { PeopleService } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { hashInSlices } from '../../platform/hash-in-slices.js';
import { seal, sealJson, unseal, unsealJson } from '../../platform/sealing.js';
import { MailLabels } from '../../movements/mail/mail-labels.service.js';
import { Mailboxes, type PackedMail } from '../../movements/mail/mailboxes.js';
import { OutgoingService, type SealedOutgoing } from '../outgoing/outgoing.service.js';
import { treated } from '../outgoing/raw-mail.js';
import { GatewayMailEntity } from './gateway.entity.js';
import { type RefusedMail, refusalReport, refusalWords } from './refusal-report.js';
import { adviceText, answerFor, type SmtpAnswer } from './smtp-answers.js';

const SUBMITTER = 'smtp';

export interface Envelope {
  readonly from: string;
  readonly to: readonly string[];
}

/** What is done with a mail, sealed before the transaction that records its movement. */
interface Prepared {
  readonly goes: readonly string[];
  readonly staying: readonly string[];
  readonly outgoing: SealedOutgoing | null;
  /** As people inside read it; null where nobody inside needs it. */
  readonly copy: PackedMail | null;
  /** Byte for byte as it goes on when somebody let it. */
  readonly held: Buffer | null;
  readonly heldCopy: Buffer | null;
  readonly report: SealedOutgoing | null;
}

/** Mail that comes in by SMTP: judged, then handed on, held, or refused. What is accepted is stored first. */
@Injectable()
export class GatewayService implements OnModuleInit {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly outgoing: OutgoingService,
    private readonly mailboxes: Mailboxes,
    private readonly labels: MailLabels,
    private readonly files: FileWork,
    private readonly inside: InsideMail,
  ) {}

  onModuleInit(): void {
    this.movements.listen(SUBMITTER, (manager, verdict) => this.settle(manager, verdict));
  }

  async take(envelope: Envelope, raw: Buffer): Promise<SmtpAnswer> {
    const from = envelope.from.toLowerCase();
    const to = [...new Set(envelope.to.map((address) => address.toLowerCase()))];
    const [person] = await this.people.findByAddresses([from]);
    const mail = { from, to, raw, person: person ?? null };
    const submission: Submission = {
      channel: 'mail',
      activity: 'send',
      person: person ?? { address: from || 'no sender' },
      at: new Date(),
      to,
      texts: [],
      files: [],
      mail: raw,
    };
    const by = { submitter: SUBMITTER, key: await keyOf(raw, from, to) };
    const verdict = await this.movements.submit<Prepared>(by, submission, {
      prepare: (decided, judged) => this.prepare(mail, decided, judged),
      apply: (manager, decided, { prepared }) => this.apply(manager, mail, { verdict: decided, prepared }),
    });
    return answerFor(verdict);
  }

  /** Writes on the mail what its verdict says, and seals all that is kept of it. */
  private async prepare(
    { from, to, raw, person }: TakenMail,
    verdict: IntakeVerdict,
    { mail, own }: JudgedSubmission,
  ): Promise<Prepared> {
    const goes = goingOn(verdict, to);
    const staying = to.filter((address) => !goes.includes(address));
    const whose = { sender: from, at: new Date(), own };
    const sent = await this.labels.writtenInto(treated(raw, verdict.treatments), verdict, whose);
    const isOutside = await this.people.outsideTest();
    const outside = goes.filter(isOutside);
    const { treatments } = verdict;
    const outgoing =
      outside.length === 0
        ? null
        : await this.outgoing.sealed({ sender: from, recipients: outside, raw: sent, treatments });
    const waits = verdict.state === 'waiting' && staying.length > 0;
    const heldAt = `gateway ${verdict.id}`;
    const isRead = person !== null || to.some((address) => !isOutside(address));
    const shown = isRead ? (mail ?? (await this.opened(raw))) : null;
    const copy = shown && (await this.packed(shown, { from, to, treatments }));
    return {
      goes,
      staying,
      outgoing,
      copy,
      held: waits ? await seal(this.config.keys.installation, heldAt, sent) : null,
      heldCopy: waits && copy ? await this.sealedCopy(verdict.id, copy) : null,
      // Taken for some and not for others: SMTP has no answer for that, so a report says who does not get it.
      report:
        verdict.state === 'refused' && goes.length > 0 && person === null && from !== ''
          ? await this.report(from, staying, { notice: verdict.notice, raw })
          : null,
    };
  }

  /** In the transaction of the verdict: what may go is queued, what waits is kept byte for byte. */
  private async apply(
    manager: EntityManager,
    { from, person }: TakenMail,
    { verdict, prepared }: { readonly verdict: IntakeVerdict; readonly prepared: Prepared },
  ): Promise<void> {
    const { goes, staying, outgoing, copy, held, heldCopy, report } = prepared;
    if (outgoing) await this.outgoing.queue(manager, outgoing);
    if (copy && goes.length > 0) await this.show(manager, { ...copy, to: goes }, person);
    if (report) await this.outgoing.queue(manager, report);
    else if (verdict.state === 'refused' && goes.length > 0)
      await this.tellRefused(manager, from, staying, verdict.notice);
    if (verdict.state === 'went-on' && verdict.notice) await this.advise(manager, from, verdict.notice);
    if (!held) return;
    await manager.insert(GatewayMailEntity, {
      id: verdict.id,
      at: new Date(),
      sender: from.slice(0, 320),
      recipients: [...staying],
      treatments: verdict.treatments.map((each) => ({ ...each })),
      sealed: held,
      copy: heldCopy,
    });
    if (copy) await this.mailboxes.keepFiles(manager, copy);
    // In the sender's mail window, where the question can be answered; under the same id as what waits.
    if (person && copy)
      await this.mailboxes.keep(
        manager,
        { ...copy, to: staying },
        { owner: person.id, folder: 'waiting', notice: verdict.notice },
        verdict.id,
      );
  }

  /** Copies for people inside, and for its sender where they are one of them. */
  private async show(manager: EntityManager, copy: PackedMail, person: PersonEntity | null): Promise<void> {
    await this.mailboxes.deliver(manager, copy, copy.to);
    if (person) await this.mailboxes.keep(manager, copy, { owner: person.id, folder: 'sent', notice: null });
  }

  /** An advice reaches its sender: the mail went on, and they are told what would have been better. */
  private async advise(
    manager: EntityManager,
    from: string,
    notice: NonNullable<IntakeVerdict['notice']>,
  ): Promise<void> {
    if (from === '') return;
    const { domains } = await this.people.getOrganisation();
    const mail = {
      from: `postmaster@${domains[0] ?? 'localhost'}`,
      to: from,
      subject: 'About the mail that you sent',
      text: adviceText(notice),
      at: new Date(),
    };
    await this.inside.send(manager, mail);
  }

  /** Tells a sender inside who does not get a mail that was taken for others. */
  private async tellRefused(
    manager: EntityManager,
    from: string,
    refused: readonly string[],
    notice: IntakeVerdict['notice'],
  ): Promise<void> {
    const said = await this.said(from, refused, { notice, raw: Buffer.alloc(0) });
    await this.inside.send(manager, {
      at: said.at,
      from: `postmaster@${said.domain}`,
      to: from,
      subject: 'Your mail was not delivered to everyone',
      text: refusalWords(said),
    });
  }

  /** A report over the wire for a sender whom the directory does not know (RFC 3464). */
  private async report(
    from: string,
    refused: readonly string[],
    mail: Pick<RefusedMail, 'raw'> & { readonly notice: IntakeVerdict['notice'] },
  ): Promise<SealedOutgoing> {
    const raw = await refusalReport(await this.said(from, refused, mail));
    return this.outgoing.sealed({ sender: '', recipients: [from], raw, treatments: [] });
  }

  private async said(
    sender: string,
    refused: readonly string[],
    { notice, raw }: Pick<RefusedMail, 'raw'> & { readonly notice: IntakeVerdict['notice'] },
  ): Promise<RefusedMail> {
    const { domains } = await this.people.getOrganisation();
    const words =
      (notice?.text ?? '').replace(/\s+/g, ' ').trim() || 'A policy of this organisation blocks this mail.';
    return { sender, domain: domains[0] ?? 'localhost', refused, words, raw, at: new Date() };
  }

  private async opened(raw: Buffer): Promise<OpenedMail | null> {
    const mail = await this.files.openMail(raw);
    if (!mail) return null;
    const body = mail.texts.map(({ text }) => text).join('\n\n');
    const labels = { own: null, foreign: [] };
    return { subject: mail.subject, body, attachments: mail.attachments, labels };
  }

  /** The copy of a held mail without its files: those are kept already. */
  private sealedCopy(id: string, { sealed: _sealed, ...copy }: PackedMail): Promise<Buffer> {
    return sealJson(this.config.keys.installation, `gateway copy ${id}`, copy);
  }

  private async openedCopy({ id, copy }: GatewayMailEntity): Promise<PackedMail | null> {
    if (!copy) return null;
    const opened = await unsealJson(this.config.keys.installation, `gateway copy ${id}`, copy);
    return { ...(opened as Omit<PackedMail, 'sealed'>), at: new Date(), sealed: [] };
  }

  private packed(
    { subject, body, attachments }: OpenedMail,
    { from, to, treatments }: { from: string; to: readonly string[]; treatments: readonly Treatment[] },
  ): Promise<PackedMail> {
    return this.mailboxes.packed({ at: new Date(), from, to, subject, body, files: attachments, treatments });
  }

  /** What waited goes on its way, or is let go; what its sender sees of it goes along. */
  private async settle(manager: EntityManager, { id, state, notice }: IntakeVerdict): Promise<void> {
    const held = await manager.findOneBy(GatewayMailEntity, { id });
    if (!held) return this.mailboxes.settleCopy(manager, id, state, notice);
    const [known] = await this.people.findByAddresses([held.sender]);
    const raw = await unseal(this.config.keys.installation, `gateway ${id}`, held.sealed);
    if (state === 'went-on') await this.handOn(manager, held, { raw, person: known ?? null });
    // Whoever the directory knows reads it in their window.
    else if (!known && held.sender !== '')
      await this.outgoing.queue(manager, await this.report(held.sender, held.recipients, { notice, raw }));
    await manager.delete(GatewayMailEntity, { id });
    await this.mailboxes.settleCopy(manager, id, state, notice);
    const copy = await this.openedCopy(held);
    if (copy) await this.mailboxes.dropFiles(manager, copy);
  }

  /** A held mail to those it waited for: over the wire, and into the windows of those inside, from its sender's copy. */
  private async handOn(
    manager: EntityManager,
    held: GatewayMailEntity,
    { raw, person }: { readonly raw: Buffer; readonly person: PersonEntity | null },
  ): Promise<void> {
    const { sender, recipients } = held;
    const treatments = held.treatments as readonly Treatment[];
    const isOutside = await this.people.outsideTest();
    const outside = recipients.filter(isOutside);
    const sealed = await this.outgoing.sealed({ sender, recipients: outside, raw, treatments });
    await this.outgoing.queue(manager, sealed);
    const copy = await this.openedCopy(held);
    if (copy) await this.show(manager, { ...copy, to: recipients }, person);
  }
}

interface TakenMail {
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
async function keyOf(raw: Buffer, from: string, to: readonly string[]): Promise<string> {
  // Without a message id nobody can tell a mail from one that merely reads the same.
  if (!/^message-id:/im.test(raw.subarray(0, 65_536).toString('latin1'))) return randomUUID();
  const hash = createHash('sha256').update(`${from}\n${to.join(',')}\n`);
  await hashInSlices(hash, raw);
  return hash.digest('hex');
}
