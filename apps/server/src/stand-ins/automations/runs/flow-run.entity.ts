import type { FlowRunState, StepRun } from '@lantern/contracts/crossings';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A step that was reached, with what is needed to go on after it. */
export interface KeptStep extends StepRun {
  /** The movement that it led to; null for none. */
  readonly submission: string | null;
  /** The deed in the ledger whose records it takes once it goes on; left out for none. */
  readonly deed?: string;
}

/** One run of a flow. */
@Entity('flow_run')
@Index('flow_run_automation', ['automationId', 'startedAt'])
@Index('flow_run_state', ['state'])
export class FlowRunEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  automationId: string;

  /** The person as whom it runs, by id in the directory. */
  @Column('uuid')
  player: string;

  @Column({ type: 'datetime', precision: 3 })
  startedAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'varchar', length: 20 })
  state: FlowRunState;

  @Column('json')
  steps: readonly KeptStep[];

  @Column({ type: 'int' })
  stepsInAll: number;

  /** What each step gave, sealed; null once the run is over. */
  @Column({ type: 'longblob', nullable: true, select: false })
  carried?: Buffer | null;
}
