import type { SampleSide } from '@lantern/contracts';
import type { CategoryReport, DocumentsPattern } from '@lantern/core/detection';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A pattern learnt from sample documents, without the samples and what was learnt. */
@Entity('document_pattern')
@Index('name', ['name'], { unique: true })
export class DocumentPatternEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'text' })
  about: string;

  @Column({ type: 'varchar', length: 20 })
  learns: DocumentsPattern['learns'];

  @Column({ type: 'double' })
  leastShare: number;

  @Column({ type: 'json', nullable: true })
  report: Omit<CategoryReport, 'certainties'> | null;

  /** Changes with every time it learns. */
  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}

/** A sample document; its text is content and stands sealed. */
@Entity('document_sample')
@Index('pattern', ['pattern', 'place'])
export class DocumentSampleEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  pattern: string;

  @Column({ type: 'varchar', length: 200 })
  name: string;

  @Column({ type: 'varchar', length: 10 })
  side: SampleSide;

  /** Order in which samples came. */
  @Column({ type: 'int' })
  place: number;

  @Column({ type: 'int' })
  characters: number;

  @Column({ type: 'int', nullable: true })
  fingerprints: number | null;

  @Column({ type: 'int', nullable: true })
  certainty: number | null;

  @Column({ type: 'longblob', select: false })
  sealed: Buffer;
}

/** A piece of what was learnt, sealed as a whole: words of samples can be read in it. */
@Entity('document_piece')
export class DocumentPieceEntity {
  @PrimaryColumn('uuid')
  pattern: string;

  @PrimaryColumn({ type: 'int' })
  version: number;

  @PrimaryColumn({ type: 'int' })
  number: number;

  @Column({ type: 'mediumblob' })
  bytes: Buffer;
}
