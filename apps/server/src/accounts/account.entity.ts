import type { Permission } from '@lantern/contracts';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('account')
export class AccountEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254, unique: true })
  email: string;

  @Column({ type: 'varchar', length: 200 })
  passwordHash: string;

  @Column('json')
  permissions: Permission[];
}

@Entity('session')
export class SessionEntity {
  /** SHA-256 of the cookie's value: a copy of the table opens no door. */
  @PrimaryColumn({ type: 'char', length: 64 })
  tokenHash: string;

  @Column('uuid')
  accountId: string;

  @Column({ type: 'char', length: 64 })
  csrfToken: string;

  @Column({ type: 'datetime', precision: 3 })
  expiresAt: Date;
}
