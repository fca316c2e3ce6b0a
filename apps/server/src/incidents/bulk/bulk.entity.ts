import type { BulkState } from '@lantern/contracts';
import type { DeskAct, DeskState } from '@lantern/core/incidents';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

/** One decision about many incidents. */
@Entity('bulk_decision')
@Index('bulk_at', ['at'])
export class BulkEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  /** E-mail address of the account. */
  @Column({ type: 'varchar', length: 254 })
  account: string;

  @Column('json')
  act: DeskAct;

  @Column({ type: 'varchar', length: 12 })
  state: BulkState;

  @Column({ type: 'int' })
  total: number;

  @Column({ type: 'int' })
  done: number;

  @Column({ type: 'int' })
  skipped: number;

  @Column({ type: 'int', default: 0 })
  undone: number;
}

/** What became of one incident of a decision in bulk, and what it was before. */
@Entity('bulk_decision_item')
export class BulkItemEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => BulkEntity, { name: 'bulk_item', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  bulkId: string;

  @PrimaryColumn({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'varchar', length: 12 })
  state: 'waiting' | 'done' | 'skipped' | 'undone' | 'kept';

  /** Version that the decision left behind: undone only while nothing else happened. */
  @Column({ type: 'int', nullable: true })
  version: number | null;

  @Column({ type: 'json', nullable: true })
  earlier: DeskState | null;

  /** Why it was left alone. */
  @Column({ type: 'varchar', length: 40, nullable: true })
  reason: string | null;
}
