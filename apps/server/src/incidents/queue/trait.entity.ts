import { Column, Entity, ForeignKey, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { MovementEntity } from '../incident.entity.js';

/** Fields of which one movement may have several values. */
export const TRAIT_FIELDS = [
  'policy',
  'rule',
  'pattern',
  'label',
  'reducedBy',
  'group',
  'destination',
  'domain',
  'source',
  'window',
  'file',
  'fileKind',
  /** Keyed digest of a word of the title. */
  'title',
  'reply',
  'override',
] as const;
export type TraitField = (typeof TRAIT_FIELDS)[number];

/** One value of a field of which a movement may have several: what filters look up. */
@Entity('movement_trait')
@Index('trait_value', ['field', 'value', 'incidentNumber', 'silent'])
@Index('trait_incident', ['incidentNumber', 'field', 'value', 'silent'])
@Index('trait_movement', ['movementId', 'field', 'value'])
export class TraitEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column('uuid')
  @ForeignKey(() => MovementEntity, {
    name: 'trait_movement_row',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  movementId: string;

  @Column({ type: 'int', nullable: true })
  incidentNumber: number | null;

  @Column({ type: 'varchar', length: 16 })
  field: TraitField;

  /** Cut at 254 characters. */
  @Column({ type: 'varchar', length: 254 })
  value: string;

  /** Only silent rules say so. */
  @Column({ type: 'boolean', default: false })
  silent: boolean;
}

/** Last known name of a policy, rule, pattern or label that some incident names: deleted ones keep theirs. */
@Entity('known_name')
export class KnownNameEntity {
  @PrimaryColumn({ type: 'varchar', length: 10 })
  kind: 'policy' | 'rule' | 'pattern' | 'label';

  @PrimaryColumn({ type: 'varchar', length: 60 })
  id: string;

  @Column({ type: 'varchar', length: 200 })
  name: string;
}
