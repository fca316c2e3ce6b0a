import type { ReaderCost } from '@lantern/contracts';
import type { WatchedFolder } from '@lantern/contracts/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** What settings of a group say, in force, as a draft, or in an earlier version. */
abstract class Settings {
  @Column('json')
  folders: WatchedFolder[];

  /** Whose movements they are where the directory gives a machine to nobody; empty for nobody. */
  @Column({ type: 'varchar', length: 254 })
  person: string;

  /** What each machine may cost that has no limits of its own. */
  @Column({ type: 'json', nullable: true })
  cost: ReaderCost | null;
}

/** What the machines of one group watch and may cost. */
@Entity('watch_group')
export class WatchGroupEntity extends Settings {
  @PrimaryColumn({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  changedBy: string;
}

/** Settings of a group that are not in force yet. */
@Entity('watch_draft')
export class WatchDraftEntity extends Settings {
  @PrimaryColumn({ type: 'varchar', length: 60 })
  groupName: string;

  /** Another one with every save. */
  @Column('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;
}

/** One version of the settings of a group; only ever added. */
@Entity('watch_change')
@Index('watch_change_group', ['groupName', 'version'])
export class WatchChangeEntity extends Settings {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** Who put it in force. */
  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'varchar', length: 120 })
  writtenBy: string;
}
