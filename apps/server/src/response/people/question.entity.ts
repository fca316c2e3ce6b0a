import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A question to somebody about an incident, which they answer behind a link. */
@Entity('question')
@Index('question_token', ['tokenHash'], { unique: true })
@Index('question_incident', ['incidentNumber'])
@Index('question_deadline', ['state', 'deadline'])
export class QuestionEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  /** SHA-256 of the token in the link. */
  @Column({ type: 'char', length: 64 })
  tokenHash: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** Who asks. */
  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'varchar', length: 120 })
  personName: string;

  @Column('text')
  text: string;

  @Column({ type: 'datetime', precision: 3 })
  deadline: Date;

  @Column({ type: 'varchar', length: 10 })
  state: 'open' | 'replied' | 'over';

  @Column({ type: 'text', nullable: true })
  reply: string | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  repliedAt: Date | null;
}
