import type { PersonNotice } from '@lantern/contracts';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { DocumentEntity } from './document.entity.js';

/** Somebody whom a document was to be shared with, and what became of it. */
@Entity('document_share')
@Index('document_share_once', ['documentId', 'address'], { unique: true })
@Index('document_share_submission', ['submissionId'])
export class DocumentShareEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => DocumentEntity, {
    name: 'document_share_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  documentId: string;

  @Column({ type: 'varchar', length: 254 })
  address: string;

  /** Id of the person who shared it. */
  @Column('uuid')
  by: string;

  @Column({ type: 'varchar', length: 20 })
  state: 'open' | 'waiting' | 'refused' | 'withdrawn';

  /** Version of the document for which somebody let it be shared; null where nobody had to. */
  @Column({ type: 'int', nullable: true })
  grantedVersion: number | null;

  @Column({ type: 'json', nullable: true })
  notice: PersonNotice | null;

  @Column('uuid')
  submissionId: string;

  @Column({ type: 'boolean' })
  reported: boolean;
}
