import type { RecordReport, RecordShape } from '@lantern/core/detection';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Facts about an index beside its buffer. */
export interface IndexFacts {
  readonly records: number;
  readonly keyLengths: readonly number[];
  readonly keyShapes: readonly number[] | null;
}

/** One set of the organisation's records, without any of their values. */
@Entity('record_source')
@Index('name', ['name'], { unique: true })
export class RecordSourceEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'text' })
  about: string;

  @Column('json')
  shape: RecordShape;

  @Column({
    type: 'longtext',
    transformer: {
      to: (facts: IndexFacts) => JSON.stringify(facts),
      from: (text: string) => JSON.parse(text) as IndexFacts,
    },
  })
  facts: IndexFacts;

  @Column('json')
  report: RecordReport;

  /** Changes with every import. */
  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}

/** A piece of an index: keyed hashes and nothing else. */
@Entity('record_chunk')
export class RecordChunkEntity {
  @PrimaryColumn('uuid')
  source: string;

  @PrimaryColumn({ type: 'int' })
  version: number;

  @PrimaryColumn({ type: 'int' })
  number: number;

  @Column({ type: 'mediumblob' })
  bytes: Buffer;
}
