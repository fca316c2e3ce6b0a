import type { Crossings } from '@lantern/contracts/crossings';
import type { OwnPattern } from '@lantern/core/detection';
import type { WholeLabelSet } from '@lantern/core/labels';
import type { PolicySet } from '@lantern/core/policy';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

/** Everything that a revision fixes. */
export interface RevisionDocument extends PolicySet {
  readonly patterns: readonly OwnPattern[];
  /** Revisions of earlier versions have none. */
  readonly labels?: WholeLabelSet;
  /** Revisions of earlier versions have none. */
  readonly crossings?: Crossings;
}

/** The part of a document that decides about movements. */
export function setOf({ policies, texts, exchanges, spots }: RevisionDocument): PolicySet {
  return { policies, texts, exchanges, spots };
}

/** An immutable published set. */
@Entity('revision')
export class RevisionEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  number: number;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'text' })
  reason: string;

  @Column({
    type: 'longtext',
    transformer: {
      to: (value: RevisionDocument) => JSON.stringify(value),
      from: (text: string) => JSON.parse(text) as RevisionDocument,
    },
  })
  document: RevisionDocument;

  /** Names of specimens that no longer gave what they should when it was published, which its author took upon them. */
  @Column({
    type: 'longtext',
    default: "'[]'",
    transformer: {
      to: (names: readonly string[] | undefined) => JSON.stringify(names ?? []),
      from: (text: string) => JSON.parse(text) as string[],
    },
  })
  brokenSpecimens: readonly string[];

  @Column({ type: 'datetime', precision: 3 })
  publishedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  publishedBy: string;
}
