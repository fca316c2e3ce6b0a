import type { AnswerText, Exchange } from '@lantern/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A text or an exchange as its authors are writing it. */
@Entity('set_part')
@Index('part_kind', ['kind'])
export class SetPartEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  kind: 'text' | 'exchange';

  @Column('json')
  definition: Omit<AnswerText, 'id'> | Omit<Exchange, 'id'>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
