import type { DriveRestriction, LabelSuggestion, PersonNotice } from '@lantern/contracts';
import type { FileKind, LinkKind } from '@lantern/core/movement';
import type { Treatment } from '@lantern/core/policy';
import type { CarriedLabel } from '../../labels/carried-label.js';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

/** The label of a file, and, where a rule set it, what it stood on before: it goes back when the cause is gone. */
export interface DriveLabel extends CarriedLabel {
  readonly rule?: string;
  readonly over?: CarriedLabel | null;
}

/** A file on the drive of the house. Its content is sealed, or lies in a place. */
@Entity('drive_file')
@Index('drive_owner', ['owner'])
@Index('drive_name', ['folder', 'name'], { unique: true })
@Index('drive_place', ['placeId'])
export class DriveFileEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Folders from the outermost, divided by `/`. */
  @Column({ type: 'varchar', length: 300 })
  folder: string;

  @Column({ type: 'varchar', length: 200 })
  name: string;

  @Column({ type: 'varchar', length: 254 })
  owner: string;

  @Column({ type: 'int' })
  size: number;

  /** Empty where the content lies in a place. */
  @Column({ type: 'longblob' })
  sealed: Buffer;

  /** The place it lies in; null for a file of the drive alone. */
  @Column({ type: 'uuid', nullable: true })
  placeId: string | null;

  /** What its bytes are. */
  @Column({ type: 'varchar', length: 20, default: 'other' })
  kind: FileKind;

  @Column({ type: 'int' })
  version: number;

  /** Counts every write, of its label too: the version counts those of its content alone. */
  @Column({ type: 'int', default: 1 })
  labelVersion: number;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;

  /** When it was put on the drive first. */
  @Column({ type: 'datetime', precision: 3 })
  madeAt: Date;

  /** What would happen to it on its way outside; null for nothing that stops it. */
  @Column({ type: 'json', nullable: true })
  restriction: DriveRestriction | null;

  /** The label it carries, also where its format has no room for one. */
  @Column({ type: 'json', nullable: true })
  label: DriveLabel | null;

  /** A label that its content calls for. */
  @Column({ type: 'json', nullable: true })
  suggestion: LabelSuggestion | null;

  /** A lower label that waits for a second person. */
  @Column({ type: 'json', nullable: true })
  lowering: { readonly label: string | null; readonly by: string; readonly reason: string } | null;

  /** Revision by which that was found. */
  @Column({ type: 'int' })
  judgedBy: number;
}

export type ShareState = 'open' | 'waiting' | 'refused' | 'withdrawn';

/** What opens a file for somebody else. */
@Entity('drive_share')
@Index('share_file', ['fileId'])
@Index('share_address', ['address'])
@Index('share_submission', ['submissionId'])
@Index('share_once', ['fileId', 'target'], { unique: true })
@Index('share_token', ['token'], { unique: true })
export class DriveShareEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => DriveFileEntity, { name: 'share_file_row', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  fileId: string;

  /** The address or the kind of link: one share of each. */
  @Column({ type: 'varchar', length: 254 })
  target: string;

  @Column({ type: 'varchar', length: 254, nullable: true })
  address: string | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  link: LinkKind | null;

  @Column({ type: 'char', length: 43, nullable: true })
  token: string | null;

  @Column({ type: 'varchar', length: 254 })
  by: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 20 })
  state: ShareState;

  /** When it ends by itself; null for never. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  until: Date | null;

  @Column({ type: 'json', nullable: true })
  notice: PersonNotice | null;

  /** What was decided beside the answer. */
  @Column('json')
  treatments: readonly Treatment[];

  @Column('uuid')
  submissionId: string;

  /** Version of the file for which somebody let it be shared; null where nobody had to. */
  @Column({ type: 'int', nullable: true })
  grantedVersion: number | null;

  @Column({ type: 'boolean' })
  reported: boolean;
}
