import type { WholeLabelSet } from '@lantern/core/labels';
import type { LabelRunItem, LabelRunState } from '@lantern/contracts';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import type { FileLabel } from '@lantern/files';

/** What a run has found and done so far. */
export interface RunFigures {
  readonly outcomes: Readonly<Record<string, number>>;
  readonly unreadable: number;
  readonly failed: number;
  readonly byPlace: Readonly<Record<string, number>>;
  readonly byLabel: Readonly<Record<string, { readonly before: number; readonly after: number }>>;
  readonly byPattern: Readonly<Record<string, number>>;
  /** Items labelled by each rule, for its limit. */
  readonly byRule: Readonly<Record<string, number>>;
}

/** A walk of automatic rules through places. */
@Entity('label_run')
@Index('label_run_at', ['startedAt'])
export class LabelRunEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 10 })
  does: 'look' | 'label';

  @Column({ type: 'varchar', length: 10 })
  state: LabelRunState;

  @Column({ type: 'datetime', precision: 3 })
  startedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  startedBy: string;

  @Column('json')
  places: string[];

  @Column('json')
  rules: string[];

  /** Those rules and the labels as they were when it was started; null for runs of earlier versions. */
  @Column({ type: 'json', nullable: true })
  snapshot: Pick<WholeLabelSet, 'automatic' | 'labels'> | null;

  @Column({ type: 'int', nullable: true })
  pace: number | null;

  @Column({ type: 'int' })
  total: number;

  @Column({ type: 'int' })
  seen: number;

  @Column({ type: 'double' })
  seconds: number;

  @Column('json')
  figures: RunFigures;
}

@Entity('label_run_item')
@Index('label_run_item_run', ['runId', 'outcome'])
export class LabelRunItemEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  id: number;

  @Column('uuid')
  runId: string;

  @Column('uuid')
  placeId: string;

  @Column({ type: 'varchar', length: 500 })
  path: string;

  @Column({ type: 'varchar', length: 20 })
  outcome: LabelRunItem['outcome'];

  /** What the file carried before, whole, so that it can be put back. */
  @Column({ type: 'json', nullable: true })
  before: FileLabel | null;

  @Column({ type: 'varchar', length: 36, nullable: true })
  labelId: string | null;

  @Column({ type: 'varchar', length: 36, nullable: true })
  ruleId: string | null;

  @Column('json')
  outranked: string[];

  @Column('json')
  held: { readonly pattern: string; readonly count: number }[];

  @Column({ type: 'varchar', length: 60, nullable: true })
  reason: string | null;

  @Column({ type: 'boolean' })
  applied: boolean;

  /** When the label was written, to tell it from later ones. */
  @Column({ type: 'varchar', length: 30, nullable: true })
  setAt: string | null;
}
