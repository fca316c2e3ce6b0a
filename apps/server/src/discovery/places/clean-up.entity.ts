import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { ItemEntity } from '../results/item.entity.js';
import { DiscoveryPlaceEntity } from './discovery-place.entity.js';

/** A request to whoever answers for a place: to clean it up by a day. */
@Entity('discovery_clean_up')
@Index('discovery_clean_up_place_at', ['placeId', 'at'])
export class CleanUpEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => DiscoveryPlaceEntity, {
    name: 'discovery_clean_up_place',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  placeId: string;

  /** Address of whoever was asked. */
  @Column({ type: 'varchar', length: 254 })
  owner: string;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** The last day, as YYYY-MM-DD. */
  @Column({ type: 'date' })
  dueOn: string;

  @Column({ type: 'varchar', length: 2000 })
  note: string;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;
}

/** What was asked about: what outran the guard of the place on that day. */
@Entity('discovery_clean_up_item')
@Index('discovery_clean_up_of_item', ['itemId'])
export class CleanUpItemEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => CleanUpEntity, {
    name: 'discovery_clean_up_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  cleanUpId: string;

  @PrimaryColumn('uuid')
  @ForeignKey(() => ItemEntity, {
    name: 'discovery_clean_up_item_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  itemId: string;
}
