import type { Channel } from '@lantern/core/movement';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A kept movement: who, where, what was found, and its texts where its channel keeps content. All of it is sealed. */
@Entity('journal')
@Index('journal_at', ['at'])
@Index('journal_channel', ['channel', 'at'])
export class JournalEntity {
  @PrimaryColumn('uuid')
  movementId: string;

  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** By whose patterns its findings were found; null for the ready ones alone. */
  @Column({ type: 'int', nullable: true })
  revision: number | null;

  @Column({ type: 'boolean' })
  hasContent: boolean;

  /** The movement with its findings. */
  @Column({ type: 'longblob' })
  sealed: Buffer;

  /** Its texts, sealed apart and read only where they are looked at again; null where they were not kept. */
  @Column({ type: 'longblob', nullable: true, select: false })
  sealedTexts?: Buffer | null;
}

/** What the journal keeps of a channel, and for how many days. */
@Entity('journal_setting')
export class JournalSettingEntity {
  @PrimaryColumn({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'varchar', length: 20 })
  keeps: 'content' | 'findings';

  @Column({ type: 'int' })
  days: number;
}
