import type { Permission } from '@lantern/contracts';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';

@Entity('account')
@Index('email', ['email'], { unique: true })
@Index('account_sign_on', ['signOnKey'], { unique: true })
export class AccountEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254 })
  email: string;

  @Column({ type: 'varchar', length: 200 })
  passwordHash: string;

  /** What its roles allow, and whatever was granted beside them. */
  @Column('json')
  permissions: Permission[];

  /** Null for accounts that were made before there were roles. */
  @Column({ type: 'json', nullable: true, default: null })
  roles?: string[] | null;

  /** Programs have keys in the place of a password. */
  @Column({ type: 'varchar', length: 10, default: 'person' })
  kind?: 'person' | 'service';

  @Column({ type: 'boolean', default: false })
  seesSilent?: boolean;

  @Column({ type: 'datetime', precision: 3, nullable: true, default: null })
  disabledAt?: Date | null;

  /** When it was invited; null once a password was chosen. */
  @Column({ type: 'datetime', precision: 3, nullable: true, default: null })
  invitedAt?: Date | null;

  @Column({ type: 'datetime', precision: 3, nullable: true, default: null })
  lastSignIn?: Date | null;

  /** SHA-256 of who the holder is to the identity provider; null for accounts with a password of their own. */
  @Column({ type: 'char', length: 64, nullable: true, default: null })
  signOnKey?: string | null;

  /** Passkeys that it has. */
  @Column({ type: 'int', default: 0 })
  passkeys?: number;

  /** Secret of the second factor, sealed. */
  @Column({ type: 'blob', nullable: true, default: null })
  factorSecret?: Buffer | null;

  /** Since when it is asked for; null until its holder has shown a right code. */
  @Column({ type: 'datetime', precision: 3, nullable: true, default: null })
  factorSince?: Date | null;

  /** Time step of the last code that was used: no code works twice (RFC 6238, 5.2). */
  @Column({ type: 'int', nullable: true, default: null })
  factorStep?: number | null;

  /** SHA-256 of recovery codes that were not used yet. */
  @Column({ type: 'json', nullable: true, default: null })
  recoveryHashes?: string[] | null;
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

  /** Names the session to its holder; opens nothing. */
  @Column('uuid')
  @Index('session_id', { unique: true })
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  lastSeen: Date;

  @Column({ type: 'varchar', length: 200 })
  agent: string;

  @Column({ type: 'varchar', length: 64 })
  address: string;

  /** SHA-256 of the session at the identity provider, by which it ends this one. */
  @Column({ type: 'char', length: 64, nullable: true, default: null })
  signOnSession?: string | null;
}

/** A link with which somebody chooses a password. */
@Entity('invitation')
export class InvitationEntity {
  /** SHA-256 of what the link holds. */
  @PrimaryColumn({ type: 'char', length: 64 })
  tokenHash: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'invitation_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  accountId: string;

  @Column({ type: 'datetime', precision: 3 })
  expiresAt: Date;

  @Column({ type: 'varchar', length: 254 })
  createdBy: string;
}

/** Whether signing in takes more than the password. */
export const hasFactor = ({
  factorSince,
  passkeys,
}: Pick<AccountEntity, 'factorSince' | 'passkeys'>): boolean => factorSince != null || (passkeys ?? 0) > 0;
