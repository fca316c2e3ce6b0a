import { Column, Entity, ForeignKey, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** A mail on its way to receivers outside. */
@Entity('outgoing_mail')
export class OutgoingMailEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 320 })
  sender: string;

  /** It goes over an encrypted connection or not at all. */
  @Column({ type: 'boolean' })
  needsTls: boolean;

  /** It goes encrypted for its receiver (S/MIME) or not at all. */
  @Column({ type: 'boolean' })
  needsSmime: boolean;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}

export type DeliveryState = 'queued' | 'delivered' | 'stuck';

/** One receiver of a mail that goes out. */
@Entity('outgoing_recipient')
@Index('outgoing_due', ['state', 'nextAt'])
export class OutgoingRecipientEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column('uuid')
  @ForeignKey(() => OutgoingMailEntity, {
    name: 'outgoing_recipient_mail',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  mailId: string;

  @Column({ type: 'varchar', length: 320 })
  address: string;

  @Column({ type: 'varchar', length: 20 })
  state: DeliveryState;

  /** Why it is not delivered yet; empty for none. */
  @Column({ type: 'varchar', length: 300 })
  reason: string;

  @Column({ type: 'int' })
  tries: number;

  @Column({ type: 'datetime', precision: 3 })
  nextAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  deliveredAt: Date | null;
}
