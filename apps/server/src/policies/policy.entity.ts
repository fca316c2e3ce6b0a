import type { Policy } from '@lantern/core/policy';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A policy as its authors are writing it. */
@Entity('policy_draft')
export class PolicyDraftEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Policies are read in this order. */
  @Column({ type: 'int' })
  position: number;

  @Column('json')
  definition: Omit<Policy, 'id'>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
