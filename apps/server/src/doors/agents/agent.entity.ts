import type { Audience } from '@lantern/core/directory';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Something that hands in movements, known by its key. */
@Entity('agent')
@Index('agent_key', ['keyDigest'], { unique: true })
export class AgentEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  /** SHA-256 of the key; the key itself is shown once and kept nowhere. */
  @Column({ type: 'char', length: 64 })
  keyDigest: string;

  /** People in whose name it may submit; null for everybody. */
  @Column({ type: 'json', nullable: true })
  people: Audience | null;

  /** Hours that a movement may lie back; null for no limit. */
  @Column({ type: 'int', nullable: true })
  hoursBack: number | null;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'varchar', length: 120 })
  createdBy: string;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastSeen: Date | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  revokedAt: Date | null;
}
