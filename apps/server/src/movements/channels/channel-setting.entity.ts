import type { UnfinishedChoice } from '@lantern/contracts';
import type { Channel } from '@lantern/core/movement';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What is stated for one channel. */
@Entity('channel_setting')
export class ChannelSettingEntity {
  @PrimaryColumn({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'varchar', length: 20 })
  unfinished: UnfinishedChoice;

  /** Time for reading one movement; null for the usual. */
  @Column({ type: 'int', nullable: true })
  seconds: number | null;
}
