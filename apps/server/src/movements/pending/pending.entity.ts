import type { Channel } from '@lantern/core/movement';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Stands for a person whom the directory does not know. */
export const NOBODY = '00000000-0000-0000-0000-000000000000';

export type PendingState = 'waiting' | 'went-on' | 'taken-back' | 'refused';

/** A movement that waits: for the person's own reply, or for somebody's decision. Its content stays with its channel. */
@Entity('pending_movement')
@Index('pending_state', ['state', 'deadline'])
@Index('pending_incident', ['incidentNumber'])
export class PendingEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  movementId: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'varchar', length: 20 })
  kind: 'ask' | 'hold' | 'override' | 'prove';

  @Column({ type: 'varchar', length: 20 })
  state: PendingState;

  /** Who moved it. */
  @Column('uuid')
  person: string;

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  /** When the outcome comes about by itself; null for never. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  deadline: Date | null;

  /** Until when the page that asks is taken to be open; moved on while it is, null where no page is asked about. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  openUntil: Date | null;

  @Column({ type: 'varchar', length: 20 })
  otherwise: 'goes-on' | 'stays';

  @Column({ type: 'varchar', length: 20 })
  decides: 'person' | 'approvers' | 'authors';

  /** People who must allow it. */
  @Column({ type: 'tinyint', default: 1 })
  approvers: number;

  /** Who decides after the deadline of a hold, for so many minutes; null where nobody does. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  nextDecides: 'approvers' | 'authors' | null;

  @Column({ type: 'int', nullable: true })
  nextMinutes: number | null;

  @Column({ type: 'text' })
  words: string;

  @Column({ type: 'varchar', length: 120, nullable: true })
  decidedBy: string | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  decidedAt: Date | null;

  /** Who said later that it was wrong to approve it; null for nobody. */
  @Column({ type: 'varchar', length: 120, nullable: true })
  judgedBy: string | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  judgedAt: Date | null;

  @Column({ type: 'text', nullable: true })
  judgedReason: string | null;
}
