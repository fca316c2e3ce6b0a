import type { Activity } from '@lantern/contracts';
import type { LabelledHow } from '@lantern/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Stand-ins whose things are kept here. */
export const THING_AGENTS = ['chat', 'browser', 'endpoint'] as const;
export type ThingAgent = (typeof THING_AGENTS)[number];

/** The label of a message, as it was set. */
export interface LabelOfThing {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  readonly how: LabelledHow;
  /** Where a rule set it: what it stood on before, to which it goes back when the cause is gone. */
  readonly over?: LabelOfThing | null;
}

/** Text, files and label of a thing, sealed together. */
export interface ThingContent {
  /** Left out of what was kept before things had labels. */
  readonly label?: LabelOfThing | null;
  readonly text: string;
  readonly files: readonly { readonly name: string; readonly base64: string }[];
}

/** Something that was put somewhere in a stand-in: a message in a room, a text in a page, a copy on a drive. */
@Entity('thing')
@Index('thing_place', ['agent', 'place', 'at'])
@Index('thing_attempt', ['attemptId'])
export class ThingEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  agent: ThingAgent;

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

  /** The attempt that decided about what was written last. */
  @Column('uuid')
  attemptId: string;

  @Column({ type: 'boolean' })
  reported: boolean;
}
