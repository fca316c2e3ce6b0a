import { randomUUID } from 'node:crypto';
import type { IntakeVerdict, MailDetail, MailFolder, PersonNotice, MailSummary } from '@lantern/contracts';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import type { Treatment } from '@lantern/core';
import { PeopleService } from '../../people/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { marked } from './marked.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { OutgoingService } from '../gateway/outgoing.service.js';
import { composed } from '../gateway/raw-mail.js';
import { Reports } from '../reports.service.js';
import { AttemptEntity } from '../intake/attempt.entity.js';
import { Outcomes } from '../outcomes.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, sealJson, unseal } from '../../platform/sealing.js';
import { labelledMail } from './labelled.js';
import { MailAttachmentEntity, type MailLabel, MailMessageEntity } from './mail.entity.js';

/** A file on a mail. */
export interface MailFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export interface MailToKeep {
  readonly owner: string;
  readonly folder: MailFolder;
  readonly at: Date;
  readonly from: string;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly MailFile[];
  readonly notice: PersonNotice | null;
  readonly treatments: readonly Treatment[];
  readonly label?: MailLabel | null;
  /** False for the past of the demo, which nobody outside needs to get again. */
  readonly handOn?: boolean;
}

interface SealedText {
  readonly subject: string;
  readonly body: string;
}

/** The stand-in mailboxes: what a person wrote, got and did not get away. */
@Injectable()
export class MailboxService implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly outcomes: Outcomes,
    private readonly reports: Reports,
    private readonly outgoing: OutgoingService,
  ) {}

  onModuleInit(): void {
    this.outcomes.register(['mail'], async (manager, { id, state, notice }) => {
      // What waits at the gateway is the gateway's; its sender only sees a copy.
      if (await manager.existsBy(AttemptEntity, { id })) return false;
      if (!(await manager.existsBy(MailMessageEntity, { id }))) return false;
      if (state === 'went-on') await this.release(manager, id, notice);
      else await this.move(manager, id, 'drafts', notice);
      return true;
    });
  }

  async list(owner: string): Promise<MailSummary[]> {
    const messages = await this.manager.find(MailMessageEntity, {
      where: { ownerId: owner },
      order: { at: 'DESC' },
      take: 500,
    });
    return messages.map((message) => this.toSummary(message));
  }

  async get(owner: string, id: string): Promise<MailDetail> {
    const message = await this.manager.findOneBy(MailMessageEntity, { id, ownerId: owner });
    if (!message) throw new AppError('not-found', 'This mail is not in the mailbox any more.');
    const attachments = await this.manager.find(MailAttachmentEntity, {
      where: { messageId: id },
      select: { id: true, name: true, size: true },
      order: { name: 'ASC' },
    });
    return {
      ...this.toSummary(message),
      body: this.open(message).body,
      attachments: attachments.map(({ id: attachment, name, size }) => ({ id: attachment, name, size })),
      notice: message.notice,
      reported: message.reported,
    };
  }

  /** Its sender says that what was found is none. */
  async report(person: PersonEntity, id: string, words: string): Promise<void> {
    const { notice } = await this.get(person.id, id);
    if (!notice) throw new AppError('act-refused', 'Nothing was found here that could be wrong.');
    await this.manager.transaction(async (manager) => {
      await manager.update(MailMessageEntity, { id }, { reported: true });
      await this.reports.record(manager, { incident: notice.incident, by: person.name, words });
    });
    this.reports.announce(notice.incident);
  }

  /** Files of a mail, by id; ids of other mails are passed over. */
  async files(messageId: string, ids: readonly string[]): Promise<MailFile[]> {
    if (ids.length === 0) return [];
    const found = await this.manager.findBy(MailAttachmentEntity, { messageId, id: In([...ids]) });
    return found.map(({ id, name, sealed }) => ({
      name,
      bytes: unseal(this.config.evidenceKey, `attachment ${id}`, sealed),
    }));
  }

  /** Keeps a mail within the caller's transaction. */
  async keep(manager: EntityManager, mail: MailToKeep, id: string = randomUUID()): Promise<string> {
    const text: SealedText = { subject: mail.subject, body: mail.body };
    await manager.insert(MailMessageEntity, {
      id,
      ownerId: mail.owner,
      folder: mail.folder,
      at: mail.at,
      sender: mail.from,
      recipients: [...mail.to],
      sealed: sealJson(this.config.evidenceKey, `mail ${id}`, text),
      notice: mail.notice,
      treatments: mail.treatments,
      label: mail.label ?? null,
    });
    for (const file of mail.files) {
      const attachment = randomUUID();
      const sealed = seal(this.config.evidenceKey, `attachment ${attachment}`, file.bytes);
      await manager.insert(MailAttachmentEntity, {
        id: attachment,
        messageId: id,
        name: file.name.slice(0, 255),
        size: file.bytes.length,
        sealed,
      });
    }
    return id;
  }

  /** Puts a mail that goes on in its sender's sent folder, with copies for receivers inside. Gives the sender's. */
  async deliver(manager: EntityManager, given: Omit<MailToKeep, 'folder'>): Promise<string> {
    const mail = { ...given, ...labelledMail(given, given.label ?? null) };
    const receivers = await this.people.findByAddresses(mail.to);
    const isOutside = await this.people.outsideTest();
    const outside = mail.to.filter(isOutside);
    if (outside.length > 0 && given.handOn !== false)
      await this.outgoing.queue(manager, {
        sender: mail.from,
        recipients: outside,
        raw: await composed(randomUUID(), mail),
        treatments: mail.treatments,
      });
    for (const receiver of receivers)
      await this.keep(manager, { ...mail, owner: receiver.id, folder: 'inbox', notice: null });
    return this.keep(manager, { ...mail, folder: 'sent' });
  }

  /** Lets a mail that waited go: it is sent as of now, with its treatments. Gives the sent copy. */
  async release(manager: EntityManager, id: string, notice: Partial<PersonNotice>): Promise<string> {
    const message = await manager.findOneByOrFail(MailMessageEntity, { id });
    const files = await manager.findBy(MailAttachmentEntity, { messageId: id });
    const { subject, body } = this.open(message);
    const treatments = message.treatments ?? [];
    const sent = await this.deliver(manager, {
      owner: message.ownerId,
      at: new Date(),
      from: message.sender,
      to: message.recipients,
      subject: marked(subject, treatments),
      body,
      files: files.map(({ id: file, name, sealed }) => ({
        name,
        bytes: unseal(this.config.evidenceKey, `attachment ${file}`, sealed),
      })),
      notice: message.notice && { ...message.notice, ...notice },
      treatments,
      label: message.label,
    });
    await this.remove(manager, message.ownerId, id);
    return sent;
  }

  /** What a sender sees of a mail that waited at the gateway, where they see any: it went, or it is a draft again. */
  async settleCopy(
    manager: EntityManager,
    id: string,
    state: IntakeVerdict['state'],
    notice: PersonNotice | null,
  ): Promise<void> {
    if (!(await manager.existsBy(MailMessageEntity, { id }))) return;
    const folder = state === 'waiting' ? 'waiting' : 'drafts';
    if (state === 'went-on')
      await this.remove(manager, (await manager.findOneByOrFail(MailMessageEntity, { id })).ownerId, id);
    else await this.move(manager, id, folder, notice ?? {});
  }

  /** Moves a mail to another folder of its owner, with what changed about its notice. */
  async move(
    manager: EntityManager,
    id: string,
    folder: MailFolder,
    notice: Partial<PersonNotice>,
  ): Promise<void> {
    const message = await manager.findOneBy(MailMessageEntity, { id });
    if (!message) throw new AppError('not-found', 'This mail is not in the mailbox any more.');
    await manager.update(
      MailMessageEntity,
      { id },
      { folder, notice: message.notice && { ...message.notice, ...notice } },
    );
  }

  async remove(manager: EntityManager, owner: string, id: string): Promise<void> {
    const removed = await manager.delete(MailMessageEntity, { id, ownerId: owner });
    if (removed.affected) await manager.delete(MailAttachmentEntity, { messageId: id });
  }

  private open(message: MailMessageEntity): SealedText {
    return JSON.parse(
      unseal(this.config.evidenceKey, `mail ${message.id}`, message.sealed).toString('utf8'),
    ) as SealedText;
  }

  private toSummary(message: MailMessageEntity): MailSummary {
    const { id, folder, sender, recipients, notice } = message;
    return {
      id,
      folder,
      at: message.at.toISOString(),
      from: sender,
      to: recipients,
      subject: this.open(message).subject,
      refused: folder === 'drafts' && notice !== null,
      label: message.label && {
        id: message.label.id,
        name: message.label.name,
        colour: message.label.colour,
      },
      noPassingOn: (message.treatments ?? []).some(({ kind }) => kind === 'no-passing-on'),
    };
  }
}
