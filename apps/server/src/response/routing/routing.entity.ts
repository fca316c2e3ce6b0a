import type { RoutedResponse, RoutingRuleRequest } from '@lantern/contracts';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';

/** What is done with incidents under a filter as they are recorded. */
@Entity('routing_rule')
export class RoutingRuleEntity {
  @PrimaryColumn('uuid')
  id: string;

  /** Rules are asked in this order. */
  @Column({ type: 'int' })
  position: number;

  /** Account whose watch it is; null for a rule of the desk. */
  @Column({ type: 'uuid', nullable: true })
  owner: string | null;

  @Column({ type: 'varchar', length: 120, nullable: true })
  ownerName: string | null;

  @Column('json')
  rule: Omit<RoutingRuleRequest, 'version'>;

  @Column({ type: 'int' })
  version: number;

  @Column({ type: 'varchar', length: 120 })
  updatedBy: string;
}

/** Something that a rule does about an incident, after it was recorded. */
@Entity('routed_response')
@Index('routed_response_waiting', ['doneAt', 'id'])
@Index('routed_response_incident', ['incidentNumber'])
export class RoutedResponseEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  /** Name of the rule. */
  @Column({ type: 'varchar', length: 120 })
  rule: string;

  @Column('json')
  response: RoutedResponse;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  /** Null while it waits. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  doneAt: Date | null;

  /** It was carried out; the history says why where it was not. */
  @Column({ type: 'boolean', default: false })
  sent: boolean;
}

/** A mail about an incident that somebody is to get; several become one. */
@Entity('alert')
@Index('alert_waiting', ['sentAt', 'address'])
@Index('alert_sent', ['address', 'sentAt'])
export class AlertEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' })
  id: string;

  @Column({ type: 'varchar', length: 254 })
  address: string;

  /** Name of the rule or watch. */
  @Column({ type: 'varchar', length: 120 })
  reason: string;

  @Column({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'datetime', precision: 3 })
  at: Date;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  sentAt: Date | null;
}
