import type { Effect } from '@lantern/core/labels';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import type { CarriedLabel } from '../../labels/carried-label.js';

/** A document of the stand-in: a real file, sealed. */
@Entity('document')
@Index('document_owner', ['ownerId'])
export class DocumentEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  ownerId: string;

  @Column({ type: 'varchar', length: 254 })
  ownerAddress: string;

  @Column({ type: 'varchar', length: 200 })
  name: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;

  @Column({ type: 'json', nullable: true })
  label: CarriedLabel | null;

  /** People whom the setter named, by effect. */
  @Column('json')
  named: Partial<Record<Effect, string[]>>;

  @Column('json')
  sharedWith: string[];

  /** A lowering that waits for a second person. */
  @Column({ type: 'json', nullable: true })
  waiting: { readonly label: string | null; readonly by: string; readonly reason: string } | null;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  updatedAt: Date;
}
