import type { MailFolder, PersonNotice } from '@lantern/contracts';
import type { Treatment } from '@lantern/core/policy';
import type { MailLabel } from '../../movements/mail/mailboxes.js';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

/** A mail in somebody's stand-in mailbox. Subject and body are content, so they are sealed. */
@Entity('mail_message')
@Index('mail_owner', ['ownerId', 'at'])
export class MailMessageEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  ownerId: string;

  @Column({ type: 'varchar', length: 20 })
  folder: MailFolder;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 254 })
  sender: string;

  @Column('json')
  recipients: string[];

  @Column({ type: 'longblob' })
  sealed: Buffer;

  /** Why it was refused; null for what went on. */
  @Column({ type: 'json', nullable: true })
  notice: PersonNotice | null;

  /** What is done to it beside the answer; null for mails of earlier versions. */
  @Column({ type: 'json', nullable: true })
  treatments: readonly Treatment[] | null;

  /** Its sender called what was found a false finding. */
  @Column({ type: 'boolean', default: false })
  reported: boolean;

  /** The label it carries; null for none. */
  @Column({ type: 'json', nullable: true })
  label: MailLabel | null;
}

@Entity('mail_attachment')
@Index('attachment_message', ['messageId'])
@Index('attachment_file', ['fileId'])
export class MailAttachmentEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => MailMessageEntity, {
    name: 'attachment_message_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  messageId: string;

  @Column({ type: 'varchar', length: 255 })
  name: string;

  @Column({ type: 'int' })
  size: number;

  /** The bytes of attachments of earlier versions; the others stand once for all copies in {@link MailFileEntity}. */
  @Column({ type: 'longblob', nullable: true })
  sealed: Buffer | null;

  @Column({ type: 'uuid', nullable: true })
  fileId: string | null;
}

/** Bytes of an attachment, once for every copy of its mail. */
@Entity('mail_file')
export class MailFileEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}
