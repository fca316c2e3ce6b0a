import type { AnswerText, Exchange, SpotGroup } from '@lantern/core/policy';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A text, an exchange or a group of spots as its authors are writing it. */
@Entity('set_part')
@Index('part_kind', ['kind'])
export class SetPartEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  kind: 'text' | 'exchange' | 'spots';

  @Column('json')
  definition: Omit<AnswerText, 'id'> | Omit<Exchange, 'id'> | Omit<SpotGroup, 'id'>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
