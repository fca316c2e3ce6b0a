import type { Permission } from '@lantern/contracts';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

@Entity('account')
@Index('email', ['email'], { unique: true })
export class AccountEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254 })
  email: string;

  @Column({ type: 'varchar', length: 200 })
  passwordHash: string;

  @Column('json')
  permissions: Permission[];
}

@Entity('session')
@Index('session_expires', ['expiresAt'])
export class SessionEntity {
  /** SHA-256 of the cookie's value: a copy of the table opens no door. */
  @PrimaryColumn({ type: 'char', length: 64 })
  tokenHash: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'session_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  accountId: string;

  @Column({ type: 'char', length: 64 })
  csrfToken: string;

  @Column({ type: 'datetime', precision: 3 })
  expiresAt: Date;
}
