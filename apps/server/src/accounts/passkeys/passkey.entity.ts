import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { AccountEntity } from '../account.entity.js';

/** A public key with which a device proves that its holder is there. */
@Entity('passkey')
@Index('passkey_credential', ['credentialHash'], { unique: true })
export class PasskeyEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'passkey_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  accountId: string;

  /** SHA-256 of the credential's id: ids can be longer than what an index takes. */
  @Column({ type: 'char', length: 64 })
  credentialHash: string;

  /** Id of the credential, base 64 for addresses. */
  @Column({ type: 'varchar', length: 1400 })
  credentialId: string;

  /** COSE key (RFC 9052). */
  @Column('blob')
  publicKey: Buffer;

  /** What the device counted at its last use; 0 where it does not count. */
  @Column({ type: 'bigint', default: 0 })
  counter: number;

  @Column({ type: 'varchar', length: 60 })
  name: string;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastUsed: Date | null;
}
