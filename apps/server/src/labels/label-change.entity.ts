import type { Carrier, LabelledHow, LabelShift } from '@lantern/core/labels';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';

/** A label as a change remembers it: by name and rank, since the label itself may change later. */
export interface RememberedLabel {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
}

/** A change of the label of an item (L8). No content; only ever added to. */
@Entity('label_change')
@Index('label_change_at', ['at'])
@Index('label_change_item', ['itemId'])
@Index('label_change_run', ['runId'])
export class LabelChangeEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  id: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 254 })
  by: string;

  @Column({ type: 'varchar', length: 20 })
  how: LabelledHow;

  @Column({ type: 'varchar', length: 10 })
  shift: Exclude<LabelShift, 'same'>;

  @Column({ type: 'varchar', length: 10 })
  carrier: Carrier;

  /** Name of the document, path in its place, or "mail". */
  @Column({ type: 'varchar', length: 500 })
  item: string;

  @Column({ type: 'varchar', length: 36, nullable: true })
  itemId: string | null;

  @Column({ type: 'varchar', length: 36, nullable: true })
  runId: string | null;

  @Column({ type: 'json', nullable: true })
  before: RememberedLabel | null;

  @Column({ type: 'json', nullable: true })
  after: RememberedLabel | null;

  @Column('text')
  reason: string;
}
