import type { GroupRoles } from '@lantern/contracts/sign-on';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** How people sign in through the organisation's identity provider; one row. */
@Entity('single_sign_on')
export class SignOnEntity {
  @PrimaryColumn('int')
  id: number;

  @Column({ type: 'boolean' })
  enabled: boolean;

  @Column({ type: 'varchar', length: 400 })
  issuer: string;

  @Column({ type: 'varchar', length: 200 })
  clientId: string;

  /** Sealed. */
  @Column({ type: 'blob', nullable: true })
  clientSecret: Buffer | null;

  @Column({ type: 'varchar', length: 100 })
  groupsClaim: string;

  @Column('json')
  groupRoles: GroupRoles[];

  @Column({ type: 'boolean' })
  onlyWay: boolean;

  @Column('uuid', { nullable: true })
  emergency: string | null;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;

  @Column({ type: 'varchar', length: 254 })
  changedBy: string;
}
