import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A data key, wrapped with a master key that the database has not. */
@Entity('data_key')
@Index('data_key_master', ['master'])
export class DataKeyEntity {
  /** Id of the movement whose evidence it seals, or `installation`. */
  @PrimaryColumn({ type: 'varchar', length: 36 })
  scope: string;

  @Column({ type: 'varbinary', length: 60 })
  wrapped: Buffer;

  /** Fingerprint of the master key. */
  @Column({ type: 'char', length: 16 })
  master: string;
}
