import type { JobRequest, RunState } from '@lantern/contracts/discovery';
import type { LeftOut } from '@lantern/core/discovery';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

export type JobDefinition = Omit<JobRequest, 'name' | 'active' | 'version'>;

/** What is looked for where, and when. */
@Entity('discovery_job')
@Index('discovery_job_due', ['active', 'nextAt'])
export class JobEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column('json')
  definition: JobDefinition;

  @Column({ type: 'boolean' })
  active: boolean;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  nextAt: Date | null;

  @Column({ type: 'int' })
  version: number;
}

export interface RunFigures {
  readonly items: number;
  readonly unchanged: number;
  readonly read: number;
  readonly unreadable: number;
  readonly sensitive: number;
  readonly labelled: number;
  readonly bytes: number;
  readonly leftOut: Readonly<Partial<Record<LeftOut, number>>>;
  /** Put into quarantine by the last step; left out for runs that do not protect. */
  readonly toProtect?: number;
  /** More than the job allows: nothing was done. */
  readonly tooMany?: boolean;
}

/** A job at work. */
@Entity('discovery_run')
@Index('discovery_run_job', ['jobId', 'startedAt'])
@Index('discovery_run_state', ['state'])
export class RunEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => JobEntity, { name: 'discovery_run_job_row', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  jobId: string;

  @Column('json')
  definition: JobDefinition;

  @Column({ type: 'varchar', length: 10 })
  state: RunState;

  @Column({ type: 'datetime', precision: 3 })
  startedAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'varchar', length: 120 })
  startedBy: string;

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  /** Digest of what is looked for: items that were read with the same need not be read again. */
  @Column({ type: 'char', length: 64 })
  lookedFor: string;

  @Column('json')
  figures: RunFigures;
}
