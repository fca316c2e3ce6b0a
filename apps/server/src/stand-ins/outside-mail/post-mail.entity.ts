import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';

/** A mail that arrived at the stand-in post office: what the world outside got, and how. */
@Entity('post_mail')
@Index('post_once', ['messageId', 'recipient'], { unique: true })
export class PostMailEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 320 })
  sender: string;

  @Column({ type: 'varchar', length: 320 })
  recipient: string;

  /** Digest of its message id: the same mail handed over twice is one. */
  @Column({ type: 'char', length: 64 })
  messageId: string;

  /** Version of the encrypted connection it came over; empty for none. */
  @Column({ type: 'varchar', length: 20 })
  tls: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;

  /** It came encrypted for its receiver (S/MIME). */
  @Column({ type: 'boolean', default: false })
  encrypted: boolean;

  /** It says that it is not to be passed on. */
  @Column({ type: 'boolean', default: false })
  noPassingOn: boolean;

  /** What its reader sees, taken out of it as it came and sealed; null for mails of earlier versions. */
  @Column({ type: 'longblob', nullable: true })
  shown: Buffer | null;
}
