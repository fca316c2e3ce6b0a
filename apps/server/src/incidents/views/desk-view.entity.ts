import type { Role, ViewState } from '@lantern/contracts';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A saved state of the desk: filter, order, groups and density. */
@Entity('desk_view')
@Index('view_owner', ['owner'])
export class DeskViewEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  /** Account that made it. */
  @Column('uuid')
  owner: string;

  @Column({ type: 'varchar', length: 120 })
  ownerName: string;

  @Column({ type: 'boolean' })
  shared: boolean;

  /** The role whose desk opens with it; null for none. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  role: Role | null;

  @Column('json')
  state: ViewState;

  @Column({ type: 'int' })
  version: number;
}
