import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';
import type { Channel } from '@lantern/core/movement';
import type { Answer, Treatment } from '@lantern/core/policy';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** One movement handed in under a key, and where it stands. Its content is kept as the journal says, not here. */
@Entity('submission')
@Index('submission_key', ['submitter', 'key'], { unique: true })
@Index('submission_movement', ['movementId'])
@Index('submission_incident', ['incident'])
export class SubmissionEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Id of an agent, or the name of a door or stand-in. */
  @Column({ type: 'varchar', length: 60 })
  submitter: string;

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
