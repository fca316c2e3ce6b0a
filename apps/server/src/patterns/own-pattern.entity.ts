import type { ExpressionPattern, ListedWord } from '@lantern/core/detection';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** An own expression without what every own pattern has. */
export type ExpressionFields = Omit<ExpressionPattern, 'origin' | 'id' | 'name' | 'kind' | 'about'>;

@Entity('own_pattern')
@Index('name', ['name'], { unique: true })
export class OwnPatternEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'text' })
  about: string;

  @Column({
    type: 'longtext',
    transformer: {
      to: (words: ListedWord[]) => JSON.stringify(words),
      from: (text: string) => JSON.parse(text) as ListedWord[],
    },
  })
  words: ListedWord[];

  /** Log-odds that the words must come to together; null where each stands for itself, and for expressions. */
  @Column({ type: 'double', nullable: true })
  threshold: number | null;

  /** Words are found inside longer ones too. */
  @Column({ type: 'boolean', default: false })
  inside: boolean;

  /** What an own expression is made of; null for a word list. */
  @Column({
    type: 'longtext',
    nullable: true,
    transformer: {
      to: (fields: ExpressionFields | null) => (fields === null ? null : JSON.stringify(fields)),
      from: (text: string | null) => (text === null ? null : (JSON.parse(text) as ExpressionFields)),
    },
  })
  expression: ExpressionFields | null;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
