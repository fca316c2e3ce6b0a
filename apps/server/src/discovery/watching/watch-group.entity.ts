import type { WatchedFolder } from '@lantern/contracts/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** What the machines of one group watch. */
@Entity('watch_group')
export class WatchGroupEntity {
  @PrimaryColumn({ type: 'varchar', length: 60 })
  groupName: string;

  @Column('json')
  folders: WatchedFolder[];

  /** Whose movements they are where the directory gives a machine to nobody; empty for nobody. */
  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  changedBy: string;
}

/** One version of what a group watches; only ever added. */
@Entity('watch_change')
@Index('watch_change_group', ['groupName', 'version'])
export class WatchChangeEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'int' })
  version: number;

  @Column('json')
  folders: WatchedFolder[];

  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;
}
