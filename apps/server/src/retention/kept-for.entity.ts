import type { KeptKind } from '@lantern/contracts/retention';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** How long one kind of thing is kept, and what the last sweep did. */
@Entity('kept_for')
export class KeptForEntity {
  @PrimaryColumn({ type: 'varchar', length: 20 })
  kind: KeptKind;

  /** Null for ever. */
  @Column({ type: 'int', nullable: true })
  days: number | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  sweptAt: Date | null;

  @Column({ type: 'int', default: 0 })
  deleted: number;
}
