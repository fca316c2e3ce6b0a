import type { HistoryKind, MovementWayView } from '@lantern/contracts';
import type {
  DeskAct,
  HarmCause,
  IncidentCount,
  IncidentStatus,
  Outcome,
  Urgency,
} from '@lantern/core/incidents';
import type { Effect } from '@lantern/core/labels';
import type { Channel, Connection, LinkKind, NetworkState } from '@lantern/core/movement';
import type { Answer, Cut, Severity } from '@lantern/core/policy';
import { Column, Entity, ForeignKey, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** What movements and incidents are both filtered by; the values of an incident are those of its movement. */
abstract class Filtered {
  @Column({ type: 'varchar', length: 20 })
  channel: Channel;

  @Column({ type: 'varchar', length: 254 })
  personAddress: string;

  @Column({ type: 'varchar', length: 120 })
  personName: string;

  @Column({ type: 'varchar', length: 120 })
  department: string;

  @Column({ type: 'varchar', length: 20, nullable: true })
  activity: string | null;

  /** Address of the person's manager. */
  @Column({ type: 'varchar', length: 254, nullable: true })
  manager: string | null;

  @Column({ type: 'varchar', length: 120, nullable: true })
  machine: string | null;

  /** Whether the organisation looks after the machine; null where nobody knows. */
  @Column({ type: 'boolean', nullable: true })
  managed: boolean | null;

  @Column({ type: 'varchar', length: 12, nullable: true })
  network: NetworkState | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  link: LinkKind | null;

  @Column({ type: 'varchar', length: 12, nullable: true })
  connection: Connection | null;

  /** Name of the other system that reported it; null for what our rules found. */
  @Column({ type: 'varchar', length: 100, nullable: true })
  origin: string | null;

  /** Our own test: kept out of figures. */
  @Column({ type: 'boolean', default: false })
  test: boolean;
}

/** One attempt to move data. Content stands in {@link EvidenceEntity} only. */
@Entity('movement')
@Index('movement_at', ['at', 'test'])
@Index('movement_person', ['personAddress', 'at'])
@Index('movement_department', ['department'])
@Index('movement_content', ['personAddress', 'contentDigest'])
@Index('movement_incident', ['incidentNumber'])
@Index('movement_machine', ['machine', 'at'])
@Index('movement_channel', ['channel', 'at'])
export class MovementEntity extends Filtered {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column('json')
  recipients: { address: string; outside: boolean }[];

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  /** Null where no rule held. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  answer: Answer | null;

  /** Keyed digest of all its content, so that the same tried again is known; null where it was too much to keep. */
  @Column({ type: 'char', length: 64, nullable: true })
  contentDigest: string | null;

  /** Out of what, into what, over what; null for movements of earlier versions. */
  @Column({ type: 'json', nullable: true })
  way: MovementWayView | null;

  /** Subject, file or place with values masked, sealed; null where there is none. */
  @Column({ type: 'blob', nullable: true })
  title: Buffer | null;

  /** What it adds to stretches of time; only what went on counts. */
  @Column({ type: 'bigint', default: 0 })
  bytesMoved: number;

  @Column({ type: 'bigint', default: 0 })
  rowsTaken: number;

  @Column({ type: 'boolean', default: false })
  toOutside: boolean;

  @Column({ type: 'boolean', default: true })
  wentOn: boolean;

  /** Null where it made no incident. */
  @Column({ type: 'int', nullable: true })
  incidentNumber: number | null;
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

  /** Null where a label forbade it. */
  @Column({ type: 'uuid', nullable: true })
  policyId?: string | null;

  /** Rules written by hand in a folder may have short ids. */
  @Column({ type: 'varchar', length: 60, nullable: true })
  ruleId?: string | null;

  /** The label that forbade it, and what; null where a rule held. */
  @Column({ type: 'varchar', length: 60, nullable: true })
  labelId?: string | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  effect?: Effect | null;

  /** Of a silent rule: few may see it. */
  @Column({ type: 'boolean', default: false })
  silent?: boolean;

  @Column({ type: 'varchar', length: 20 })
  answer: Answer;

  @Column({ type: 'varchar', length: 20 })
  severity: Severity;

  /** What the rule said, where something cut it; null for matches of earlier versions. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  written?: Answer | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  cut?: Cut | null;
}

/** All matches of one movement as one thing to triage. */
@Entity('incident')
@Index('movementId', ['movementId'], { unique: true })
@Index('incident_queue', ['status', 'urgency', 'at'])
@Index('incident_at', ['at', 'test', 'outcome'])
@Index('incident_status', ['status', 'at'])
@Index('incident_person', ['personAddress', 'at'])
@Index('incident_machine', ['machine', 'at'])
@Index('incident_severity', ['status', 'severity', 'number'])
@Index('incident_department', ['department', 'at'])
@Index('incident_channel', ['channel', 'at'])
@Index('incident_case', ['caseNumber'])
@Index('incident_age', ['nextAgeAt'])
@Index('incident_due', ['status', 'dueAt'])
@Index('incident_origin', ['origin', 'at'])
export class IncidentEntity extends Filtered {
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

  /** The verdict with its trace, sealed: it names what was found and to whom it was to go. Null only before it is sealed. */
  @Column({ type: 'longblob', nullable: true })
  sealedVerdict: Buffer | null;

  /** As a version before sealing left it in the clear, until the next start. */
  @Column({ name: 'verdict', type: 'longtext', nullable: true, select: false })
  clearVerdict?: string | null;

  /** Only silent rules held: few may see that it exists. */
  @Column({ type: 'boolean', default: false })
  silent: boolean;

  /** How it looks to those who may not see its silent matches: the same where it has none; all null where it has nothing else. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  openSeverity: Severity | null;

  @Column({ type: 'int', nullable: true })
  openUrgency: number | null;

  @Column({ type: 'json', nullable: true })
  openUrgencyParts: Urgency | null;

  @Column({ type: 'int', nullable: true })
  openMatches: number | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  openAnswer: Answer | null;

  /** What the person read, word for word; null where nobody was told, and for incidents of earlier versions. */
  @Column({ type: 'text', nullable: true })
  told: string | null;

  /** The person who moved it says that what was found is none. */
  @Column({ type: 'boolean', default: false })
  reported: boolean;

  @Column({ type: 'varchar', length: 120, nullable: true })
  assignee: string | null;

  @Column({ type: 'varchar', length: 20, nullable: true })
  answer: Answer | null;

  @Column({ type: 'int', nullable: true })
  revision: number | null;

  /** What the rules said, before anybody changed it. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  firstSeverity: Severity | null;

  /** By when it is to be decided; null where no time is promised. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  dueAt: Date | null;

  /** When its points of age change next; null once they stay. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  nextAgeAt: Date | null;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  decidedAt: Date | null;

  /** Number of the first attempt of its case; null where it stands alone. */
  @Column({ type: 'int', nullable: true })
  caseNumber: number | null;

  /** How many values it is compared by with other attempts. */
  @Column({ type: 'int', default: 0 })
  caseValues: number;

  /** MinHash signature of the text around what was found, 64 numbers, lowest byte first; null for no text. */
  @Column({ type: 'varbinary', length: 256, nullable: true })
  signature: Buffer | null;

  /** Groups of words that the signature is of. */
  @Column({ type: 'int', default: 0 })
  signatureSize: number;

  /** Digest of rules, patterns, channel and applications: look-alikes share it. */
  @Column({ type: 'char', length: 16, nullable: true })
  alikeKey: string | null;

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
@Index('history_kind', ['kind', 'actor', 'at'])
@Index('history_bulk', ['bulkId'])
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
  kind: HistoryKind;

  @Column({ type: 'json', nullable: true })
  act: DeskAct | null;

  /** Account of `actor`; null for the system, for people of the directory and for entries of earlier versions. */
  @Column({ type: 'uuid', nullable: true })
  accountId?: string | null;

  /** The decision in bulk that it belongs to. */
  @Column({ type: 'uuid', nullable: true })
  bulkId?: string | null;

  @Column({ type: 'text', nullable: true })
  text: string | null;
}
