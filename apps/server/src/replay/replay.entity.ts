import type { ReplayState } from '@lantern/contracts';
import type { ReplayDifference } from '@lantern/core/insight';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Figures of a replay, as far as it came. */
export interface ReplayFigures {
  readonly total: number;
  readonly judged: number;
  readonly detectedAgain: number;
  readonly notJudged: number;
  readonly seconds: number;
  readonly difference: ReplayDifference | null;
  /** Rules by id, as they were called when it ran. */
  readonly rules: Readonly<Record<string, string>>;
}

/** A draft over the journal, and the difference it made. */
@Entity('replay')
@Index('replay_started', ['startedAt'])
export class ReplayEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  state: ReplayState;

  /** What was judged: kept movements, or stored items as if they were opened outside. */
  @Column({ type: 'varchar', length: 20, default: 'journal' })
  over: 'journal' | 'stored';

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  @Column({ type: 'datetime', precision: 3 })
  until: Date;

  @Column({ type: 'datetime', precision: 3 })
  startedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  startedBy: string;

  @Column({
    type: 'longtext',
    transformer: {
      to: (value: ReplayFigures) => JSON.stringify(value),
      from: (text: string) => JSON.parse(text) as ReplayFigures,
    },
  })
  figures: ReplayFigures;
}
