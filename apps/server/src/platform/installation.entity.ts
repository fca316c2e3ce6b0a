import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A fact about this installation as a whole, such as how far loading the demo came. */
@Entity('installation')
export class InstallationEntity {
  @PrimaryColumn({ type: 'varchar', length: 40 })
  name: string;

  @Column({ type: 'varchar', length: 200 })
  value: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;
}
