import type { TalkPartState } from '@lantern/contracts/crossings';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A question to an assistant, with what it answered. */
@Entity('assistant_talk')
@Index('assistant_talk_person', ['person', 'automationId', 'at'])
@Index('assistant_talk_question', ['questionSubmission'])
@Index('assistant_talk_answer', ['answerSubmission'])
export class AssistantTalkEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  automationId: string;

  /** Address of whoever asks. */
  @Column({ type: 'varchar', length: 254 })
  person: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** Sealed, with the question of it. */
  @Column('longblob')
  question: Buffer;

  /** Sealed; null while there is no answer. */
  @Column({ type: 'longblob', nullable: true })
  answer: Buffer | null;

  @Column('uuid')
  questionSubmission: string;

  @Column({ type: 'uuid', nullable: true })
  answerSubmission: string | null;

  @Column({ type: 'varchar', length: 20 })
  questionState: TalkPartState;

  @Column({ type: 'varchar', length: 20, nullable: true })
  answerState: TalkPartState | null;

  @Column({ type: 'boolean' })
  reported: boolean;
}
