import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A saved text with what patterns should find in it; both are content and stand sealed. */
@Entity('specimen')
export class SpecimenEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;

  @Column({ type: 'datetime', precision: 3 })
  savedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  savedBy: string;
}
