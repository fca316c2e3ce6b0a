import type { ItemAct } from '@lantern/contracts/discovery';
import type { FoundPattern, ItemKnown, ItemReach, ItemState } from '@lantern/core/discovery';
import { Column, Entity, ForeignKey, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';

/** An item of a place, as it was read last. */
@Entity('discovery_item')
@Index('discovery_item_path', ['placeId', 'pathDigest'], { unique: true })
@Index('discovery_item_holding', ['holding', 'id'])
@Index('discovery_item_digest', ['digest'])
@Index('discovery_item_due', ['dueRun', 'placeId'])
@Index('discovery_item_seen', ['placeId', 'seenRun'])
@Index('discovery_item_sensitive', ['isSensitive', 'holding'])
// Figures and exposure of a place are summed up from this index alone.
@Index('discovery_item_sums', [
  ...[
    'placeId',
    'state',
    'bytes',
    'isSensitive',
    'misplaced',
    'quarantined',
    'reach',
    'labelRank',
    'holding',
  ],
  'changedAt',
])
export class ItemEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column('uuid')
  @ForeignKey(() => DiscoveryPlaceEntity, {
    name: 'discovery_item_place',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  placeId: string;

  @Column({ type: 'varchar', length: 2000 })
  path: string;

  @Column({ type: 'char', length: 64 })
  pathDigest: string;

  @Column({ type: 'varchar', length: 20 })
  ending: string;

  @Column({ type: 'bigint', transformer: { to: (value: number) => value, from: Number } })
  bytes: number;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  changedAt: Date | null;

  @Column({ type: 'varchar', length: 200 })
  marker: string;

  @Column({ type: 'varchar', length: 254 })
  owner: string;

  @Column({ type: 'varchar', length: 12 })
  state: ItemState;

  @Column({ type: 'varchar', length: 40, nullable: true })
  reason: string | null;

  @Column({ type: 'char', length: 64, nullable: true })
  digest: string | null;

  @Column({ type: 'varchar', length: 36, nullable: true })
  labelId: string | null;

  @Column({ type: 'int', nullable: true })
  labelRank: number | null;

  /** The label that automatic rules call for, where the item carries none or a lower one. */
  @Column({ type: 'varchar', length: 36, nullable: true })
  suggested: string | null;

  @Column({ type: 'varchar', length: 20 })
  reach: ItemReach;

  /** Its reach when it was read last, to tell what spread since. */
  @Column({ type: 'varchar', length: 20 })
  reachRead: ItemReach;

  @Column({ type: 'boolean' })
  isSensitive: boolean;

  @Column({ type: 'boolean' })
  misplaced: boolean;

  @Column({ type: 'boolean' })
  quarantined: boolean;

  @Column('json')
  found: FoundPattern[];

  @Column({ type: 'int' })
  total: number;

  @Column({ type: 'int' })
  certainty: number;

  @Column({ type: 'double' })
  holding: number;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  readAt: Date | null;

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  @Column({ type: 'uuid', nullable: true })
  readerId: string | null;

  /** What was looked for when it was read last. */
  @Column({ type: 'char', length: 64, nullable: true })
  lookedFor: string | null;

  /** The last run whose listing had it. */
  @Column({ type: 'uuid', nullable: true })
  seenRun: string | null;

  /** The run in which it is still to be read. */
  @Column({ type: 'uuid', nullable: true })
  dueRun: string | null;
}

/** One pattern found in one item, for filters. */
@Entity('discovery_found')
@Index('discovery_found_pattern', ['pattern', 'certainty'])
export class FoundEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => ItemEntity, { name: 'discovery_found_item', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  itemId: string;

  @PrimaryColumn({ type: 'varchar', length: 60 })
  pattern: string;

  @Column({ type: 'int' })
  count: number;

  @Column({ type: 'int' })
  certainty: number;
}

/** Masked excerpts of an item, sealed at `discovery-item:ID`. */
@Entity('discovery_evidence')
export class ItemEvidenceEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => ItemEntity, {
    name: 'discovery_evidence_item',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  itemId: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}

/** What a run found different about an item. */
@Entity('discovery_change')
@Index('discovery_change_run', ['runId', 'id'])
@Index('discovery_change_item', ['itemId', 'id'])
@Index('discovery_change_place', ['placeId', 'at'])
export class ItemChangeEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  id: number;

  @Column('uuid')
  runId: string;

  @Column('uuid')
  placeId: string;

  @Column('uuid')
  @ForeignKey(() => ItemEntity, {
    name: 'discovery_change_item_row',
    onDelete: 'CASCADE',
    onUpdate: 'RESTRICT',
  })
  itemId: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'json', nullable: true })
  before: ItemKnown | null;

  @Column({ type: 'json', nullable: true })
  after: ItemKnown | null;
}

/** Something that somebody had done to items. */
@Entity('discovery_act')
@Index('discovery_act_at', ['at'])
export class ActEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  act: ItemAct;

  @Column({ type: 'varchar', length: 36, nullable: true })
  labelId: string | null;

  /** Where items were moved to. */
  @Column({ type: 'uuid', nullable: true })
  toPlaceId: string | null;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'varchar', length: 300 })
  reason: string;
}

@Entity('discovery_act_item')
@Index('discovery_act_of_item', ['itemId'])
export class ActItemEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => ActEntity, { name: 'discovery_act_row', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  actId: string;

  @PrimaryColumn('uuid')
  @ForeignKey(() => ItemEntity, { name: 'discovery_act_item_row', onDelete: 'CASCADE', onUpdate: 'RESTRICT' })
  itemId: string;

  @Column({ type: 'varchar', length: 10 })
  state: 'waiting' | 'done' | 'refused';

  @Column({ type: 'varchar', length: 60, nullable: true })
  reason: string | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;
}
