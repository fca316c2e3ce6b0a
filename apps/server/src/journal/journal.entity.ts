import type { Channel } from '@lantern/core';
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

  @Column({ type: 'longblob' })
  sealed: Buffer;
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
