import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A mail that came in by SMTP and waits, byte for byte as it came. */
@Entity('gateway_mail')
export class GatewayMailEntity {
  /** The same as of what waits. */
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 320 })
  sender: string;

  /** Those it waits for. */
  @Column('json')
  recipients: string[];

  @Column('json')
  treatments: object[];

  @Column({ type: 'longblob' })
  sealed: Buffer;

  /** The same as people inside read it, with references to its files; null where none of them gets it. */
  @Column({ type: 'longblob', nullable: true })
  copy: Buffer | null;
}
