import { Column, Entity, PrimaryColumn } from 'typeorm';

/** How well a day was guarded, as it stood when it was last looked at. */
@Entity('guard_day')
export class GuardDayEntity {
  /** ISO 8601, UTC. */
  @PrimaryColumn({ type: 'date' })
  day: string;

  /** Kinds of data that some rule asks for. */
  @Column({ type: 'int' })
  kinds: number;

  /** Kinds guarded for everybody, summed over the channels. */
  @Column({ type: 'int' })
  guarded: number;

  /** Kinds times channels. */
  @Column({ type: 'int' })
  possible: number;

  @Column({ type: 'int' })
  people: number;

  /** Machines that something was reported from within four weeks. */
  @Column({ type: 'int' })
  machines: number;
}
