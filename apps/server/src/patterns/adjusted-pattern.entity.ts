import type { PatternWeights } from '@lantern/core/detection';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Weights of a ready pattern as its authors are changing them. */
@Entity('adjusted_pattern')
export class AdjustedPatternEntity {
  /** The ready pattern. */
  @PrimaryColumn({ type: 'varchar', length: 80 })
  id: string;

  @Column('json')
  weights: Partial<PatternWeights>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
