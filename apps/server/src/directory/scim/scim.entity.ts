import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A user or a group as a SCIM client told of it (RFC 7643). */
@Entity('scim_resource')
@Index('scim_resource_name', ['kind', 'name'], { unique: true })
@Index('scim_resource_external', ['kind', 'externalId'])
export class ScimResourceEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 10 })
  kind: 'User' | 'Group';

  /** `userName` or `displayName`: one of each, whatever its capitals. */
  @Column({ type: 'varchar', length: 254 })
  name: string;

  /** What the client calls it for good. */
  @Column({ type: 'varchar', length: 254, nullable: true })
  externalId: string | null;

  /** Its attributes as they were told, without `id`, `meta` and members. */
  @Column('json')
  attributes: Record<string, unknown>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;

  @Column({ type: 'datetime', precision: 3 })
  changedAt: Date;
}

/** A member of a group: a user, or a group whose members are then its own. */
@Entity('scim_member')
@Index('scim_member_of', ['memberId'])
export class ScimMemberEntity {
  @PrimaryColumn('uuid')
  groupId: string;

  @PrimaryColumn('uuid')
  memberId: string;
}

/** How what SCIM clients tell becomes the directory; there is one row at most. */
@Entity('scim_setting')
export class ScimSettingEntity {
  /** Always 1. */
  @PrimaryColumn({ type: 'int' })
  id: number;

  /** Whether somebody looks at each change before it is applied. */
  @Column({ type: 'boolean' })
  reviewed: boolean;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  lastAt: Date | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  lastOutcome: string | null;

  /** Whether what was sent waits for somebody to apply it. */
  @Column({ type: 'boolean', default: false })
  waits: boolean;
}
