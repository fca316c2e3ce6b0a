import { type MailCopy, Mailboxes, type MailFile, type PackedMail } from '../../movements/mail/mailboxes.js';
import { randomUUID } from 'node:crypto';
import type { IntakeVerdict, MailDetail, MailFolder, PersonNotice, MailSummary } from '@lantern/contracts';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { InsideMail } from '../../platform/inside-mail.js';
import { PeopleService } from '../../directory/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, sealJson, unseal, unsealJson } from '../../platform/sealing.js';
import { labelledMail } from './labelled.js';
import { MailAttachmentEntity, MailFileEntity, MailMessageEntity } from './mail.entity.js';
import { type MailLabel } from '../../movements/mail/mailboxes.js';

interface SealedText {
  readonly subject: string;
  readonly body: string;
}

/** The stand-in mailboxes: what a person wrote, got and did not get away. */
@Injectable()
export class MailboxService implements Mailboxes, OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly inside: InsideMail,
  ) {}

  onModuleInit(): void {
    this.inside.deliveredBy(async (manager, { to, from, subject, text, at }) => {
      const [person] = await this.people.findByAddresses([to]);
      if (!person) return false;
      const mail = { at, from, to: [to], subject, body: text, files: [], sealed: [], treatments: [] };
      await this.keep(manager, mail, { owner: person.id, folder: 'inbox', notice: null });
      return true;
    });
  }

  async list(owner: string): Promise<MailSummary[]> {
    const messages = await this.manager.find(MailMessageEntity, {
      where: { ownerId: owner },
      order: { at: 'DESC' },
      take: 500,
    });
    return Promise.all(messages.map((message) => this.toSummary(message)));
  }

  async get(owner: string, id: string): Promise<MailDetail> {
    const message = await this.manager.findOneBy(MailMessageEntity, { id, ownerId: owner });
    if (!message) throw new AppError('not-found', 'This mail is no longer in the mailbox.');
    const attachments = await this.manager.find(MailAttachmentEntity, {
      where: { messageId: id },
      select: { id: true, name: true, size: true },
      order: { name: 'ASC' },
    });
    return {
      ...(await this.toSummary(message)),
      body: (await this.open(message)).body,
      attachments: attachments.map(({ id: attachment, name, size }) => ({ id: attachment, name, size })),
      notice: message.notice,
      reported: message.reported,
    };
  }

  /** Marks a mail whose sender says that what was found is none. */
  async markReported(manager: EntityManager, id: string): Promise<void> {
    await manager.update(MailMessageEntity, { id }, { reported: true });
  }

  /** Files of a mail of `owner`, by id; ids of other mails, and mails of others, are passed over. */
  async files(owner: string, messageId: string, ids: readonly string[]): Promise<MailFile[]> {
    if (ids.length === 0) return [];
    if (!(await this.manager.existsBy(MailMessageEntity, { id: messageId, ownerId: owner }))) return [];
    const found = await this.manager.findBy(MailAttachmentEntity, { messageId, id: In([...ids]) });
    return Promise.all(found.map((attachment) => this.fileOf(attachment)));
  }

  /** Seals the files of a mail, before the transaction that keeps it. */
  async packed(
    mail: Omit<PackedMail, 'files' | 'sealed'> & { readonly files: readonly MailFile[] },
  ): Promise<PackedMail> {
    const sealed = await Promise.all(
      mail.files.map(async ({ bytes }) => {
        const id = randomUUID();
        return { id, sealed: await seal(this.config.keys.installation, `mail file ${id}`, bytes) };
      }),
    );
    const files = mail.files.map(({ name, bytes }, at) => ({
      name,
      size: bytes.length,
      fileId: sealed[at]?.id ?? '',
    }));
    return { ...mail, files, sealed };
  }

  /** Keeps a copy within the caller's transaction. */
  async keep(
    manager: EntityManager,
    mail: PackedMail,
    { owner, folder, notice }: MailCopy,
    id: string = randomUUID(),
  ): Promise<string> {
    const text: SealedText = { subject: mail.subject, body: mail.body };
    await manager.insert(MailMessageEntity, {
      id,
      ownerId: owner,
      folder,
      at: mail.at,
      sender: mail.from,
      recipients: [...mail.to],
      sealed: await sealJson(this.config.keys.installation, `mail ${id}`, text),
      notice,
      treatments: mail.treatments,
      label: mail.label ?? null,
    });
    await this.keepFiles(manager, mail);
    for (const { name, size, fileId } of mail.files)
      await manager.insert(MailAttachmentEntity, {
        id: randomUUID(),
        messageId: id,
        name: name.slice(0, 255),
        size,
        sealed: null,
        fileId,
      });
    return id;
  }

  /** Keeps the files of a mail, once for all of its copies. */
  async keepFiles(manager: EntityManager, { sealed }: PackedMail): Promise<void> {
    for (const file of sealed)
      if (!(await manager.existsBy(MailFileEntity, { id: file.id })))
        await manager.insert(MailFileEntity, file);
  }

  /** Lets files of a mail go that no copy holds any more. */
  async dropFiles(manager: EntityManager, { files }: Pick<PackedMail, 'files'>): Promise<void> {
    for (const { fileId } of files)
      if (!(await manager.existsBy(MailAttachmentEntity, { fileId })))
        await manager.delete(MailFileEntity, { id: fileId });
  }

  /** Copies for receivers inside, as they read it: with the marks of its label. */
  async deliver(manager: EntityManager, given: PackedMail, receivers: readonly string[]): Promise<void> {
    const mail = { ...given, ...labelledMail(given, given.label ?? null) };
    for (const { id } of await this.people.findByAddresses(receivers))
      await this.keep(manager, mail, { owner: id, folder: 'inbox', notice: null });
  }

  /** A kept mail as it was packed, to be sent now; its bytes are opened where they go outside. */
  async unpacked(
    manager: EntityManager,
    id: string,
  ): Promise<{ readonly owner: string; readonly mail: PackedMail; readonly notice: PersonNotice | null }> {
    const message = await manager.findOneByOrFail(MailMessageEntity, { id });
    const attachments = await manager.findBy(MailAttachmentEntity, { messageId: id });
    const { subject, body } = await this.open(message);
    const old = attachments.filter(({ fileId }) => fileId === null);
    const packedOld = await this.packed({
      ...NO_MAIL,
      files: await Promise.all(old.map((attachment) => this.fileOf(attachment))),
    });
    const mail: PackedMail = {
      at: new Date(),
      from: message.sender,
      to: message.recipients,
      subject,
      body,
      files: [
        ...packedOld.files,
        ...attachments.flatMap(({ name, size, fileId }) => (fileId === null ? [] : [{ name, size, fileId }])),
      ],
      sealed: packedOld.sealed,
      treatments: message.treatments ?? [],
      label: message.label,
    };
    return { owner: message.ownerId, mail, notice: message.notice };
  }

  /** The label that a mail of `owner` carries. */
  async labelOf(owner: string, id: string): Promise<MailLabel | null> {
    const found = await this.manager.findOne(MailMessageEntity, {
      where: { id, ownerId: owner },
      select: { id: true, label: true },
    });
    return found?.label ?? null;
  }

  /** The bytes of a packed mail's files. */
  async bytesOf(manager: EntityManager, { files, sealed }: PackedMail): Promise<MailFile[]> {
    return Promise.all(
      files.map(async ({ name, fileId }) => {
        const fresh = sealed.find(({ id }) => id === fileId);
        const row = fresh ?? (await manager.findOneByOrFail(MailFileEntity, { id: fileId }));
        return {
          name,
          bytes: await unseal(this.config.keys.installation, `mail file ${fileId}`, row.sealed),
        };
      }),
    );
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
    if (!message) throw new AppError('not-found', 'This mail is no longer in the mailbox.');
    await manager.update(
      MailMessageEntity,
      { id },
      { folder, notice: message.notice && { ...message.notice, ...notice } },
    );
  }

  async remove(manager: EntityManager, owner: string, id: string): Promise<void> {
    const attachments = await manager.find(MailAttachmentEntity, {
      where: { messageId: id },
      select: { id: true, fileId: true },
    });
    const removed = await manager.delete(MailMessageEntity, { id, ownerId: owner });
    if (!removed.affected) return;
    await manager.delete(MailAttachmentEntity, { messageId: id });
    const files = attachments.flatMap(({ fileId }) =>
      fileId === null ? [] : [{ name: '', size: 0, fileId }],
    );
    await this.dropFiles(manager, { files });
  }

  private async fileOf({ id, name, sealed, fileId }: MailAttachmentEntity): Promise<MailFile> {
    const key = this.config.keys.installation;
    if (sealed) return { name, bytes: await unseal(key, `attachment ${id}`, sealed) };
    const file = await this.manager.findOneByOrFail(MailFileEntity, { id: fileId ?? '' });
    return { name, bytes: await unseal(key, `mail file ${file.id}`, file.sealed) };
  }

  private async open(message: MailMessageEntity): Promise<SealedText> {
    return (await unsealJson(
      this.config.keys.installation,
      `mail ${message.id}`,
      message.sealed,
    )) as SealedText;
  }

  private async toSummary(message: MailMessageEntity): Promise<MailSummary> {
    const { id, folder, sender, recipients, notice } = message;
    return {
      id,
      folder,
      at: message.at.toISOString(),
      from: sender,
      to: recipients,
      subject: (await this.open(message)).subject,
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

const NO_MAIL = { at: new Date(0), from: '', to: [], subject: '', body: '', treatments: [] } as const;
