import type { MachineState } from '@lantern/core/movement';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A machine of the organisation, as the directory knows it. */
@Entity('machine')
export class MachineEntity {
  @PrimaryColumn({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 20 })
  state: MachineState;

  /** All groups: those of `listed`, and those whose condition the machine meets. */
  @Column('json')
  groups: string[];

  /** Groups that the source lists. */
  @Column({ type: 'json', default: '[]' })
  listed: string[];

  /** Address of the person who usually works at it; empty for none. */
  @Column({ type: 'varchar', length: 254 })
  owner: string;

  @Column({ type: 'varchar', length: 120, default: '' })
  serial: string;

  /** Addresses of its network connections. */
  @Column({ type: 'json', default: '[]' })
  addresses: string[];
}

/** A group of machines told by a condition. */
@Entity('machine_group')
@Index('machine_group_name', ['name'], { unique: true })
export class MachineGroupEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 300 })
  about: string;

  /** Networks and ranges of addresses. */
  @Column('json')
  networks: string[];

  /** Serial numbers and ranges of them. */
  @Column('json')
  serials: string[];

  /** What names begin with. */
  @Column('json')
  names: string[];
}
