import { Column, Entity, PrimaryColumn } from 'typeorm';

/**
 * One entry of the audit trail, in a database of its own behind a view. The server's account can only add rows; each
 * carries the hash of the one before it.
 */
@Entity('trail_entry', { synchronize: false })
export class TrailEntity {
  /** From 1 on, without gaps. */
  @PrimaryColumn('int')
  number: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** Address of the account, name of the agent, or what was typed where nobody is known. */
  @Column({ type: 'varchar', length: 254 })
  actor: string;

  @Column({ type: 'varchar', length: 80 })
  action: string;

  /** Id or number of what it was done to; empty for none. */
  @Column({ type: 'varchar', length: 254 })
  target: string;

  /** Names of things and settings, never content. */
  @Column('json')
  facts: Record<string, string>;

  /** SHA-256 of the entry before it, and of this one. */
  @Column({ type: 'char', length: 64 })
  previous: string;

  @Column({ type: 'char', length: 64 })
  hash: string;
}

/** Where a part of the trail ended that was deleted by age. Rows are added by the keeper's account alone. */
@Entity('trail_segment', { synchronize: false })
export class TrailSegmentEntity {
  /** Number of the last entry that was deleted. */
  @PrimaryColumn('int')
  number: number;

  @Column({ type: 'char', length: 64 })
  hash: string;

  @Column({ type: 'char', length: 64 })
  signature: string;

  @Column({ type: 'datetime', precision: 3 })
  firstAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  lastAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  removedAt: Date;
}

/** The end of the trail, signed with a key that the database has not. */
@Entity('trail_head')
export class TrailHeadEntity {
  /** Always 1. */
  @PrimaryColumn('int')
  id: number;

  @Column('int')
  number: number;

  @Column({ type: 'char', length: 64 })
  hash: string;

  @Column({ type: 'char', length: 64 })
  signature: string;
}
