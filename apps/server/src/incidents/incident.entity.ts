import type {
  Answer,
  Channel,
  DecisionAct,
  HarmCause,
  IncidentCount,
  IncidentStatus,
  Outcome,
  Severity,
  Urgency,
  Verdict,
} from '@lantern/core';
import { Column, Entity, ForeignKey, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** One attempt to move data. Content stands in {@link EvidenceEntity} only. */
@Entity('movement')
@Index('movement_at', ['at'])
@Index('movement_person', ['personAddress', 'at'])
@Index('movement_department', ['department'])
export class MovementEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 254 })
  personAddress: string;

  @Column({ type: 'varchar', length: 120 })
  personName: string;

  @Column({ type: 'varchar', length: 120 })
  department: string;

  @Column('json')
  recipients: { address: string; outside: boolean }[];

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  /** Null where no rule held. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  answer: Answer | null;
}

/** One rule that held for one movement. */
@Entity('rule_match')
@Index('match_incident', ['incidentNumber'])
@Index('match_policy', ['policyId', 'ruleId'])
export class MatchEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column('uuid')
  @ForeignKey(() => MovementEntity, {
    name: 'match_movement_row',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  movementId: string;

  @Column({ type: 'int' })
  @ForeignKey(() => IncidentEntity, 'number', {
    name: 'match_incident_row',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  incidentNumber: number;

  @Column('uuid')
  policyId: string;

  @Column('uuid')
  ruleId: string;

  @Column({ type: 'varchar', length: 20 })
  answer: Answer;

  @Column({ type: 'varchar', length: 20 })
  severity: Severity;
}

/** All matches of one movement as one thing to triage. */
@Entity('incident')
@Index('movementId', ['movementId'], { unique: true })
@Index('incident_queue', ['status', 'urgency', 'at'])
@Index('incident_at', ['at'])
export class IncidentEntity {
  @PrimaryGeneratedColumn({ type: 'int' })
  number: number;

  @Column('uuid')
  @ForeignKey(() => MovementEntity, { name: 'incident_movement', onDelete: 'RESTRICT', onUpdate: 'RESTRICT' })
  movementId: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 20 })
  status: IncidentStatus;

  @Column({ type: 'varchar', length: 20, nullable: true })
  outcome: Outcome | null;

  @Column({ type: 'boolean', nullable: true })
  lookedFor: boolean | null;

  @Column({ type: 'boolean', nullable: true })
  allRight: boolean | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  cause: HarmCause | null;

  @Column({ type: 'varchar', length: 20 })
  severity: Severity;

  @Column({ type: 'int' })
  urgency: number;

  @Column('json')
  urgencyParts: Urgency;

  @Column('json')
  counts: IncidentCount[];

  @Column({ type: 'int' })
  unreadableParts: number;

  @Column({ type: 'int' })
  matches: number;

  @Column({
    type: 'longtext',
    transformer: {
      to: (value: Verdict) => JSON.stringify(value),
      from: (text: string) => JSON.parse(text) as Verdict,
    },
  })
  verdict: Verdict;

  @Column({ type: 'varchar', length: 120, nullable: true })
  assignee: string | null;

  @Column({ type: 'int' })
  version: number;
}

/** What was found, in context: sealed, compressed, readable only through the incident. */
@Entity('evidence')
export class EvidenceEntity {
  @PrimaryColumn('uuid')
  @ForeignKey(() => MovementEntity, { name: 'evidence_movement', onDelete: 'RESTRICT', onUpdate: 'RESTRICT' })
  movementId: string;

  @Column({ type: 'longblob' })
  sealed: Buffer;
}

/** Everything that happened to an incident, in order. Never changed, never deleted with the incident standing. */
@Entity('incident_history')
@Index('history_incident', ['incidentNumber', 'id'])
export class HistoryEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column({ type: 'int' })
  @ForeignKey(() => IncidentEntity, 'number', {
    name: 'history_incident_row',
    onDelete: 'RESTRICT',
    onUpdate: 'RESTRICT',
  })
  incidentNumber: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'varchar', length: 120 })
  actor: string;

  @Column({ type: 'varchar', length: 20 })
  kind: 'recorded' | 'act' | 'note' | 'unmasked';

  @Column({ type: 'json', nullable: true })
  act: DecisionAct | null;

  @Column({ type: 'text', nullable: true })
  text: string | null;
}
