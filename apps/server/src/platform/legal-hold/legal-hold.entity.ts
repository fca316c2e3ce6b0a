import type { HeldKind } from '@lantern/contracts/retention';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Whatever a hold is about is deleted by nobody while it stands. Ended ones stay as a record. */
@Entity('legal_hold')
@Index('legal_hold_kind', ['kind', 'endedAt'])
export class LegalHoldEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  kind: HeldKind;

  /** An address in small letters, or the number of an incident or case. */
  @Column({ type: 'varchar', length: 254 })
  subject: string;

  @Column({ type: 'varchar', length: 500 })
  reason: string;

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  @Column({ type: 'varchar', length: 254 })
  startedBy: string;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'varchar', length: 254, nullable: true })
  endedBy: string | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  endReason: string | null;
}
