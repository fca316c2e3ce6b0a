import type { Channel } from '@lantern/core/movement';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** One version of a standing approval. Rows are added; only `latest` and `usedBy` change. */
@Entity('standing_approval')
@Index('standing_approval_person', ['person', 'latest', 'until'])
@Index('standing_approval_incident', ['incidentNumber'])
export class StandingApprovalEntity {
  @PrimaryColumn('uuid')
  id: string;

  @PrimaryColumn({ type: 'int' })
  version: number;

  /** No version came after it. */
  @Column({ type: 'boolean' })
  latest: boolean;

  @Column({ type: 'varchar', length: 20 })
  change: 'given' | 'changed' | 'ended';

  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column('json')
  rules: string[];

  @Column('json')
  destinations: string[];

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  @Column({ type: 'datetime', precision: 3 })
  until: Date;

  /** Keyed digest of the only content it is for, once; null for any content, any number of times. */
  @Column({ type: 'char', length: 64, nullable: true })
  content: string | null;

  /** The movement that used up an approval for one. */
  @Column({ type: 'uuid', nullable: true })
  usedBy: string | null;

  /** The incident whose override it came from. */
  @Column({ type: 'int' })
  incidentNumber: number;

  /** People who had to allow it, and who must allow a later end. */
  @Column({ type: 'tinyint' })
  approvers: number;

  @Column({ type: 'text' })
  words: string;

  @Column({ type: 'varchar', length: 120 })
  by: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;
}
