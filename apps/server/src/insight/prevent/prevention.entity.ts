import type { ChangeEffect, PreventingChange } from '@lantern/core/insight';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A change that was made to prevent false positives, with what was computed before it was made. */
@Entity('prevention')
@Index('prevention_rule', ['ruleId', 'at'])
export class PreventionEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  /** Null where it was about several. */
  @Column({ type: 'int', nullable: true })
  incidentNumber: number | null;

  @Column({ type: 'varchar', length: 60 })
  ruleId: string;

  @Column('json')
  definition: PreventingChange;

  @Column('json')
  effect: ChangeEffect;
}
