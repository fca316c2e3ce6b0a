import type { CrossingKind } from '@lantern/contracts/crossings';
import type { AnyAutomation, CrossingSet, FlowService, Workspace } from '@lantern/core/automations';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

export type CrossingPart = Omit<FlowService, 'id'> | Omit<Workspace, 'id'> | Omit<CrossingSet, 'id'>;

/** A service, a workspace or a set of what may cross, as its authors are writing it. */
@Entity('crossing_part')
@Index('crossing_part_kind', ['kind'])
export class CrossingPartEntity {
  @PrimaryColumn({ type: 'varchar', length: 120 })
  id: string;

  @Column({ type: 'varchar', length: 20 })
  kind: CrossingKind;

  @Column('json')
  definition: CrossingPart;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}

/** A flow or an assistant. */
@Entity('automation')
@Index('automation_name', ['name'])
@Index('automation_owner', ['owner'])
export class AutomationEntity {
  @PrimaryColumn({ type: 'varchar', length: 120 })
  id: string;

  @Column({ type: 'varchar', length: 12 })
  kind: AnyAutomation['kind'];

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254 })
  owner: string;

  @Column({ type: 'varchar', length: 120 })
  workspace: string;

  @Column('json')
  definition: AnyAutomation;

  /** It runs; never where what is published forbids it. */
  @Column({ type: 'boolean' })
  isOn: boolean;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  madeAt: Date;

  /** Id of an agent, or the address of whoever built it here. */
  @Column({ type: 'varchar', length: 120 })
  handedInBy: string;
}
