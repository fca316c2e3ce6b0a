import type { StoreProblem } from '@lantern/contracts/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

export type PartKind = 'check' | 'list' | 'read' | 'act' | 'fetch';
export type PartState = 'waiting' | 'taken' | 'done' | 'failed' | 'stopped';

/** A piece of work for one reader, given back where it falls silent. */
@Entity('discovery_part')
@Index('discovery_part_next', ['groupName', 'state', 'rank', 'createdAt'])
@Index('discovery_part_run', ['runId', 'state'])
@Index('discovery_part_place', ['placeId'])
export class PartEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'uuid', nullable: true })
  runId: string | null;

  @Column('uuid')
  placeId: string;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'varchar', length: 10 })
  kind: PartKind;

  /** What is handed out first: people wait for checks and acts. */
  @Column({ type: 'int' })
  rank: number;

  @Column({ type: 'varchar', length: 10 })
  state: PartState;

  @Column({ type: 'uuid', nullable: true })
  readerId: string | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  leaseUntil: Date | null;

  /** How often it was handed out. */
  @Column({ type: 'int' })
  taken: number;

  /** Ids of its items, of the act it carries out, or of the request for a whole item. */
  @Column('json')
  content: { readonly items?: readonly string[]; readonly act?: string; readonly fetch?: string };

  @Column({ type: 'varchar', length: 20, nullable: true })
  problem: StoreProblem | null;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;
}
