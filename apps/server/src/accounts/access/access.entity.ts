import type { RoleLimits } from '@lantern/contracts/access';
import type { Permission } from '@lantern/contracts';
import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { AccountEntity } from '../account.entity.js';

/** A role of the organisation's own, beside those that ship. */
@Entity('own_role')
@Index('own_role_name', ['name'], { unique: true })
export class OwnRoleEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 60 })
  name: string;

  @Column({ type: 'varchar', length: 300 })
  description: string;

  @Column('json')
  permissions: Permission[];

  /** Null where it covers everybody. */
  @Column({ type: 'json', nullable: true })
  limits: RoleLimits | null;

  /** Its holders need a second factor. */
  @Column({ type: 'boolean', default: false })
  needsFactor?: boolean;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;

  @Column({ type: 'varchar', length: 254 })
  changedBy: string;
}

/** An absence of one account, in which another has its rights too. */
@Entity('deputy')
@Index('deputy_of', ['deputyId', 'until'])
export class DeputyEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'deputy_absent', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  absentId: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'deputy_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  deputyId: string;

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  @Column({ type: 'datetime', precision: 3 })
  until: Date;
}

/** A key of a service account. */
@Entity('service_key')
@Index('service_key_hash', ['tokenHash'], { unique: true })
export class ServiceKeyEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => AccountEntity, { name: 'service_key_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  accountId: string;

  /** SHA-256 of the key: what the table holds opens nothing. */
  @Column({ type: 'char', length: 64 })
  tokenHash: string;

  /** Its first characters. */
  @Column({ type: 'varchar', length: 16 })
  begins: string;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'varchar', length: 254 })
  createdBy: string;

  @Column({ type: 'datetime', precision: 3 })
  expiresAt: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastUsed: Date | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  withdrawnAt: Date | null;
}

/** Somebody's word for an act that takes two people. */
@Entity('consent')
export class ConsentEntity {
  @PrimaryColumn({ type: 'varchar', length: 20 })
  kind: string;

  /** What it is about, such as the fingerprint of drafts. */
  @PrimaryColumn({ type: 'varchar', length: 100 })
  subject: string;

  @PrimaryColumn('uuid')
  @ForeignKey(() => AccountEntity, { name: 'consent_account', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  accountId: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254, nullable: true })
  inPlaceOf: string | null;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;
}
