import type { ScheduledReportRequest } from '@lantern/contracts/insight';
import type { ComparedLine } from '@lantern/core/insight';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

/** A view that is written down on a schedule, and sent. */
@Entity('report')
@Index('report_due', ['active', 'nextAt'])
export class ReportEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  /** Account that answers for it. */
  @Column('uuid')
  owner: string;

  @Column({ type: 'varchar', length: 120 })
  ownerName: string;

  @Column('json')
  definition: Omit<ScheduledReportRequest, 'name' | 'active'>;

  @Column({ type: 'boolean' })
  active: boolean;

  /** Null where its rule has no further day. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  nextAt: Date | null;

  @Column({ type: 'int' })
  version: number;
}

/** What a report said, as it was sent. */
@Entity('report_run')
@Index('report_run_report', ['reportId', 'at'])
export class ReportRunEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => ReportEntity, {
    name: 'report_run_report_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  reportId: string;

  @Column({ type: 'datetime', precision: 3 })
  plannedAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'datetime', precision: 3 })
  fromAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  toAt: Date;

  /** Planned runs before it that did not come about. */
  @Column({ type: 'int' })
  missed: number;

  @Column('json')
  content: ComparedLine[];

  /** Queued mails by address. */
  @Column('json')
  mails: Record<string, string>;
}
