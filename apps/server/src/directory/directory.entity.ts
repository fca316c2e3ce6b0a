import type { PersonSource } from '@lantern/contracts/directory';
import type { GroupClause } from '@lantern/core/directory';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A group told by a condition. */
@Entity('people_group')
@Index('people_group_name', ['name'], { unique: true })
export class PeopleGroupEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 300 })
  about: string;

  /** A person who meets all clauses of one row is in the group. */
  @Column('json')
  rows: GroupClause[][];
}

/** A person who left the directory. Their name is still shown, and they get their id back if they return. */
@Entity('former_person')
export class FormerPersonEntity {
  @PrimaryColumn({ type: 'varchar', length: 254 })
  address: string;

  @Column('uuid')
  id: string;

  /** Permanent id at the source. A new holder of the address has another one, and is not this person. */
  @Column({ type: 'varchar', length: 200, nullable: true })
  sourceKey: string | null;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 120 })
  department: string;

  @Column({ type: 'datetime', precision: 3 })
  leftAt: Date;
}

/** One change of the people of a directory: how many came, changed and left. */
@Entity('directory_change')
@Index('directory_change_at', ['at'])
export class DirectoryChangeEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 254 })
  actor: string;

  @Column({ type: 'varchar', length: 20 })
  source: PersonSource;

  @Column({ type: 'int' })
  added: number;

  @Column({ type: 'int' })
  changed: number;

  @Column({ type: 'int' })
  left: number;

  @Column({ type: 'int' })
  refused: number;
}

/** How a directory server is read, without its password. */
export interface ServerSettings {
  readonly address: string;
  readonly startTls: boolean;
  readonly authority: string;
  readonly user: string;
  readonly base: string;
  readonly filter: string;
  readonly whole: boolean;
  readonly nightly: boolean;
}

/** The directory server that people are read from; there is one at most. */
@Entity('directory_server')
export class DirectoryServerEntity {
  @PrimaryColumn({ type: 'int' })
  id: number;

  @Column('json')
  settings: ServerSettings;

  /** Sealed; null where nobody signs in. */
  @Column({ type: 'blob', nullable: true })
  password: Buffer | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastRead: Date | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  lastOutcome: string | null;
}
