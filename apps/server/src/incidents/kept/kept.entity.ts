import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { MovementEntity } from '../incident.entity.js';

/** What was moved, as it was: a ZIP archive of its mail, texts and files, sealed. */
@Entity('kept_original')
export class KeptOriginalEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => MovementEntity, {
    name: 'kept_original_movement',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  movementId: string;

  /** Of the content, before it was packed. */
  @Column({ type: 'bigint' })
  bytes: number;

  @Column({ type: 'int' })
  items: number;

  /** Null where it was too large to be kept. */
  @Column({ type: 'longblob', nullable: true })
  sealed: Buffer | null;
}

/** What the screen showed around a movement: a ZIP archive of pictures in the order of `taken`, sealed. */
@Entity('kept_pictures')
export class KeptPicturesEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => MovementEntity, {
    name: 'kept_pictures_movement',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  movementId: string;

  /** When each was taken (ISO 8601). */
  @Column('json')
  taken: string[];

  @Column({ type: 'longblob' })
  sealed: Buffer;
}
