import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';
import type { Answer, Channel, Treatment } from '@lantern/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A movement that an agent handed in, with where it stands. Its content is kept as the journal says, not here. */
@Entity('attempt')
@Index('attempt_key', ['agent', 'key'], { unique: true })
@Index('attempt_movement', ['movementId'])
export class AttemptEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Id of the agent, or the name of a channel of the house. */
  @Column({ type: 'varchar', length: 60 })
  agent: string;

  @Column({ type: 'varchar', length: 100 })
  key: string;

  /** Keyed digest of all that was handed in: the same key with something else is refused. */
  @Column({ type: 'char', length: 64 })
  digest: string;

  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column('uuid')
  movementId: string;

  @Column({ type: 'int', nullable: true })
  incident: number | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  answer: Answer | null;

  @Column({ type: 'varchar', length: 20 })
  state: IntakeVerdict['state'];

  @Column('json')
  treatments: readonly Treatment[];

  @Column({ type: 'json', nullable: true })
  label: IntakeVerdict['label'];

  @Column('json')
  recipients: IntakeVerdict['recipients'];

  @Column({ type: 'json', nullable: true })
  notice: PersonNotice | null;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;
}
