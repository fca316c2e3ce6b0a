import type { MachineState } from '@lantern/core/movement';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A machine of the organisation, as the directory knows it. */
@Entity('machine')
export class MachineEntity {
  @PrimaryColumn({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 20 })
  state: MachineState;

  @Column('json')
  groups: string[];

  /** Address of the person who usually works at it; empty for none. */
  @Column({ type: 'varchar', length: 254 })
  owner: string;
}
