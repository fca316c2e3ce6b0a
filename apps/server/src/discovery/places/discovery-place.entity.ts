import type { PlaceCheck, Store, StoreAddress } from '@lantern/contracts/discovery';
import type { ItemReach } from '@lantern/core/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A place that readers go through. */
@Entity('discovery_place')
@Index('discovery_place_name', ['name'], { unique: true })
export class DiscoveryPlaceEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 20 })
  store: Store;

  @Column('json')
  address: StoreAddress;

  /** Sealed at `discovery-place:ID`. */
  @Column({ type: 'longblob', nullable: true })
  secret: Buffer | null;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  /** Address of whoever answers for it; empty for nobody. */
  @Column({ type: 'varchar', length: 254 })
  owner: string;

  /** How far it opens by itself; people outside who were let in may widen it. */
  @Column({ type: 'varchar', length: 20 })
  reach: ItemReach;

  @Column({ type: 'boolean' })
  unmanaged: boolean;

  @Column({ type: 'varchar', length: 36, nullable: true })
  labelId: string | null;

  @Column('json')
  unwanted: string[];

  /** The same place in the directory, which knows who outside was let in. */
  @Column({ type: 'uuid', nullable: true })
  directoryPlaceId: string | null;

  @Column({ type: 'int' })
  version: number;

  @Column('json')
  checked: PlaceCheck;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  readAt: Date | null;
}
