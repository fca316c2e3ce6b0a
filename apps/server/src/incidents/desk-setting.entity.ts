import type { Promises, WorkingHours } from '@lantern/core/incidents';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** When analysts work, and within how many of these hours incidents are to be decided. One row. */
@Entity('desk_setting')
export class DeskSettingEntity {
  @PrimaryColumn({ type: 'int' })
  id: number;

  @Column('json')
  hours: WorkingHours;

  @Column('json')
  promises: Promises;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}
