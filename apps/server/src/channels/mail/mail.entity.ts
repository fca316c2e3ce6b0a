import type { MailFolder, MailNotice } from '@lantern/contracts';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A mail in somebody's stand-in mailbox. Subject and body are content, so they are sealed. */
@Entity('mail_message')
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
  notice: MailNotice | null;
}

@Entity('mail_attachment')
export class MailAttachmentEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  messageId: string;

  @Column({ type: 'varchar', length: 255 })
  name: string;

  @Column({ type: 'int' })
  size: number;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}
