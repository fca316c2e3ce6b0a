import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A place that holds real files on this machine. */
@Entity('place')
@Index('place_name', ['name'], { unique: true })
export class PlaceEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 500 })
  about: string;

  /** Folder below the one that holds all places. */
  @Column({ type: 'varchar', length: 120 })
  folder: string;

  @Column({ type: 'varchar', length: 254 })
  owner: string;

  /** Addresses outside that can open it. */
  @Column('json')
  sharedOutside: string[];

  /** Addresses inside whom its owner let in. */
  @Column({ type: 'json', default: '[]' })
  members: string[];
}
