import type { LedgerDeed, LedgerFacts } from '@lantern/contracts';
import type { UseWay } from '@lantern/core/movement';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** One thing that somebody does in the ledger: an export, a record that is read, a sign-in, a connection. */
@Entity('ledger_deed')
@Index('ledger_deed_person', ['person', 'at'])
@Index('ledger_deed_submission', ['submissionId'])
export class LedgerDeedEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Address of whoever does it. */
  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'varchar', length: 20 })
  deed: LedgerDeed;

  @Column({ type: 'varchar', length: 20 })
  way: UseWay;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 20 })
  state: 'waiting' | 'went-on' | 'refused' | 'taken-back';

  @Column('uuid')
  submissionId: string;

  @Column('json')
  facts: LedgerFacts;

  /** What it gives once it goes on, sealed; null where it gives nothing. */
  @Column({ type: 'longblob', nullable: true, select: false })
  result?: Buffer | null;

  /** A sign-in that ended, or a connection that was cut off. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'boolean', default: false })
  reported: boolean;
}

/** A key by which a program of somebody asks the ledger's interface. */
@Entity('ledger_key')
@Index('ledger_key_hash', ['hash'], { unique: true })
export class LedgerKeyEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'char', length: 64 })
  hash: string;

  @Column({ type: 'datetime', precision: 3 })
  madeAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;
}

/** The label of a report. */
@Entity('ledger_report')
export class LedgerReportEntity {
  @PrimaryColumn({ type: 'varchar', length: 40 })
  id: string;

  @Column({ type: 'varchar', length: 60 })
  label: string;

  @Column({ type: 'varchar', length: 120 })
  labelName: string;

  @Column({ type: 'int' })
  rank: number;

  @Column({ type: 'varchar', length: 254 })
  setBy: string;

  @Column({ type: 'datetime', precision: 3 })
  setAt: Date;
}
