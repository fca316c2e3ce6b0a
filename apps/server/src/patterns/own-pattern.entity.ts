import type { ListedWord } from '@lantern/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

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

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
