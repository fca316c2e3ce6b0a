import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A match that somebody learns of with the others of the day. */
@Entity('digest_entry')
@Index('digest_at', ['at'])
export class DigestEntity {
  @PrimaryColumn({ type: 'bigint', generated: 'increment' })
  id: string;

  @Column({ type: 'varchar', length: 254 })
  address: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;
}
