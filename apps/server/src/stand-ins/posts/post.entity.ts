import type { Activity } from '@lantern/contracts';
import type { LabelledHow } from '@lantern/core/labels';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Stand-ins whose things are kept here. */
export const POST_WINDOWS = ['chat', 'browser', 'endpoint', 'business'] as const;
export type PostWindow = (typeof POST_WINDOWS)[number];

/** The label of a message, as it was set. */
export interface LabelOfPost {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  readonly how: LabelledHow;
  /** Where a rule set it: what it stood on before, to which it goes back when the cause is gone. */
  readonly over?: LabelOfPost | null;
}

/** Text, files and label of a thing, sealed together. */
export interface PostContent {
  /** Left out of what was kept before things had labels. */
  readonly label?: LabelOfPost | null;
  readonly text: string;
  /** Files of earlier versions stand in it themselves, in base 64; the others in {@link PostFileEntity}. */
  readonly files: readonly KeptFile[];
}

export type KeptFile =
  | { readonly name: string; readonly base64: string }
  | { readonly name: string; readonly size: number; readonly id: string };

/** Bytes of a file of a post, sealed apart from its text: lists need the text alone. */
@Entity('post_file')
@Index('post_file_post', ['postId'])
export class PostFileEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  postId: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}

/** Something that was put somewhere in a stand-in: a message in a room, a text in a page, a copy on a drive. */
@Entity('post')
@Index('post_place', ['window', 'place', 'at'])
@Index('post_submission', ['submissionId'])
export class PostEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  window: PostWindow;

  /** Room, site, program or device it is put into. */
  @Column({ type: 'varchar', length: 60 })
  place: string;

  @Column({ type: 'varchar', length: 254 })
  author: string;

  @Column({ type: 'varchar', length: 20 })
  activity: Activity;

  /** The program it was taken from; empty where it was typed. */
  @Column({ type: 'varchar', length: 200 })
  takenFrom: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 20 })
  state: 'shown' | 'waiting' | 'withheld';

  /** What readers see; null while they see nothing of it. */
  @Column({ type: 'longblob', nullable: true })
  shown: Buffer | null;

  /** What its author wrote last and readers do not see. */
  @Column({ type: 'longblob', nullable: true })
  pending: Buffer | null;

  @Column({ type: 'int' })
  edits: number;

  /** The submission that decided about what was written last. */
  @Column('uuid')
  submissionId: string;

  @Column({ type: 'boolean' })
  reported: boolean;
}
