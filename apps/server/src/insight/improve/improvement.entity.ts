import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Something that could be better, from when it was first seen until it was gone. */
@Entity('improvement')
@Index('improvement_gone', ['goneAt'])
export class ImprovementEntity {
  /** Key of the improvement. */
  @PrimaryColumn({ type: 'varchar', length: 120 })
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  /** Null while it is open. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  goneAt: Date | null;
}
