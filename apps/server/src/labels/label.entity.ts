import type { Automatic, Label, Offer } from '@lantern/core/labels';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

export const LABEL_PARTS = ['label', 'offer', 'automatic'] as const;
export type LabelPartKind = (typeof LABEL_PARTS)[number];
export type LabelPart = Omit<Label, 'id'> | Omit<Offer, 'id'> | Omit<Automatic, 'id'>;

/** A label, an offer or an automatic rule as its authors are writing it. */
@Entity('label_part')
@Index('label_part_kind', ['kind', 'position'])
export class LabelPartEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  kind: LabelPartKind;

  /** The first offer that names a person decides; labels are shown in this order. */
  @Column({ type: 'int' })
  position: number;

  @Column('json')
  definition: LabelPart;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}

/** What changed about one of them, by whom and why. Only ever added to. */
@Entity('label_history')
@Index('label_history_part', ['partId'])
export class LabelHistoryEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  id: number;

  @Column('uuid')
  partId: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  by: string;

  @Column('text')
  note: string;

  @Column({ type: 'json', nullable: true })
  before: LabelPart | null;

  @Column({ type: 'json', nullable: true })
  after: LabelPart | null;
}

/** What somebody of the business said about the labels and offers of a moment, told by their fingerprint. */
@Entity('label_sign_off')
export class SignOffEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  id: number;

  @Column({ type: 'char', length: 64 })
  fingerprint: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  by: string;

  @Column({ type: 'boolean' })
  agrees: boolean;

  @Column('text')
  words: string;
}
