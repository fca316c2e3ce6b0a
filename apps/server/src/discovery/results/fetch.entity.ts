import type { FetchState } from '@lantern/contracts/discovery';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { ItemEntity } from './item.entity.js';

/** An item that somebody asked for whole; its content, sealed at `discovery-fetch:ID`, for some hours. */
@Entity('discovery_fetch')
@Index('discovery_fetch_item', ['itemId', 'at'])
@Index('discovery_fetch_account', ['accountId', 'at'])
@Index('discovery_fetch_state', ['state', 'endedAt'])
export class FetchEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => ItemEntity, {
    name: 'discovery_fetch_item_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  itemId: string;

  @Column('uuid')
  accountId: string;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'varchar', length: 300 })
  reason: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 10 })
  state: FetchState;

  @Column({ type: 'varchar', length: 60, nullable: true })
  problem: string | null;

  @Column({ type: 'bigint', nullable: true, transformer: { to: (value: number) => value, from: asNumber } })
  bytes: number | null;

  @Column({ type: 'char', length: 64, nullable: true })
  digest: string | null;

  /** When it came, or failed. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'longblob', nullable: true })
  sealed: Buffer | null;
}

function asNumber(value: unknown): number | null {
  return value === null ? null : Number(value);
}
