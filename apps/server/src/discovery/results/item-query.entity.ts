import type { ItemOrder } from '@lantern/contracts/discovery';
import type { ItemGroup } from '@lantern/core/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A question about results under a name. */
@Entity('discovery_query')
@Index('discovery_query_account', ['accountId'])
export class ItemQueryEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  accountId: string;

  @Column({ type: 'varchar', length: 120 })
  owner: string;

  @Column({ type: 'varchar', length: 80 })
  name: string;

  @Column('text')
  line: string;

  @Column({ type: 'varchar', length: 20 })
  sorted: ItemOrder;

  @Column('json')
  grouped: ItemGroup[];

  @Column({ type: 'boolean' })
  shared: boolean;
}
