import type { ReaderCost, ReaderRight, ReaderUse } from '@lantern/contracts';
import type { ReaderTold, WatchingTold } from '@lantern/contracts/discovery';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A code by which one reader can enrol, once. Only its digest is kept. */
@Entity('reader_code')
export class ReaderCodeEntity {
  @PrimaryColumn({ type: 'char', length: 64 })
  digest: string;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'datetime', precision: 3 })
  endsAt: Date;

  @Column({ type: 'varchar', length: 120 })
  createdBy: string;
}

/** A program near the data, known by its keys. */
@Entity('reader')
@Index('reader_group', ['groupName'])
export class ReaderEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 60 })
  groupName: string;

  @Column({ type: 'varchar', length: 120 })
  platform: string;

  @Column({ type: 'varchar', length: 40 })
  version: string;

  /** Public Ed25519 key, base64url. */
  @Column({ type: 'varchar', length: 64 })
  signingKey: string;

  /** Public X25519 key, base64url. */
  @Column({ type: 'varchar', length: 64 })
  sealingKey: string;

  @Column({ type: 'datetime', precision: 3 })
  keyEndsAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  enrolledAt: Date;

  @Column({ type: 'varchar', length: 120 })
  enrolledBy: string;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastSeen: Date | null;

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  @Column('json')
  rights: ReaderRight[];

  @Column('json')
  notLookedFor: string[];

  @Column({ type: 'varchar', length: 300, nullable: true })
  trouble: string | null;

  /** Limits of its own; null for those of its group. */
  @Column({ type: 'json', nullable: true })
  cost: ReaderCost | null;

  @Column({ type: 'json', nullable: true })
  used: ReaderUse | null;

  /** The program that works with this identity: another one that begins takes it over. */
  @Column({ type: 'varchar', length: 36, nullable: true })
  instance: string | null;

  /** What it said last of its watching. */
  @Column({ type: 'json', nullable: true })
  watching: WatchingTold | null;

  /** What it said last of its machine and of the way here; `through` is the id of the reader that passed it on. */
  @Column({ type: 'json', nullable: true })
  told: (ReaderTold & { readonly through: string | null }) | null;

  /** It may look for own records and documents: their keys go to it while it reads. */
  @Column({ type: 'boolean', default: false })
  holdsRecords: boolean;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  withdrawnAt: Date | null;
}
