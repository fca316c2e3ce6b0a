import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** The second factor of somebody at work: not of an account of the workbench, which has its own. */
@Entity('person_factor')
export class PersonFactorEntity {
  @PrimaryColumn({ type: 'varchar', length: 254 })
  personAddress: string;

  /** The shared secret (RFC 6238), sealed. */
  @Column('blob')
  secret: Buffer;

  /** The time step of the last right code: none of it and before it is right again. */
  @Column({ type: 'bigint', nullable: true })
  lastStep: string | null;

  /** Wrong codes since `wrongSince`. */
  @Column({ type: 'int', default: 0 })
  wrong: number;

  @Column({ type: 'datetime', precision: 3, nullable: true })
  wrongSince: Date | null;
}

/** A passkey of somebody at work. */
@Entity('person_passkey')
@Index('person_passkey_person', ['personAddress'])
@Index('person_passkey_credential', ['credentialHash'], { unique: true })
export class PersonPasskeyEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 254 })
  personAddress: string;

  /** SHA-256 of the credential's id. */
  @Column({ type: 'char', length: 64 })
  credentialHash: string;

  /** Id of the credential, base 64 for addresses. */
  @Column({ type: 'varchar', length: 1400 })
  credentialId: string;

  /** COSE key (RFC 9052). */
  @Column('blob')
  publicKey: Buffer;

  /** What the device counted at its last use; 0 where it does not count. */
  @Column({ type: 'bigint', default: 0 })
  counter: number;

  @Column({ type: 'datetime', precision: 3 })
  createdAt: Date;
}

/** A confirmed identity: until `until`, rules in `place` do not ask this person for a second factor. */
@Entity('raised_trust')
@Index('raised_trust_person', ['personAddress', 'until'])
@Index('raised_trust_since', ['since'])
export class RaisedTrustEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 254 })
  personAddress: string;

  /** `everywhere`, or as the core names the place of a movement. */
  @Column({ type: 'varchar', length: 220 })
  place: string;

  /** The incident at which it was proved. */
  @Column({ type: 'int' })
  incidentNumber: number;

  @Column({ type: 'datetime', precision: 3 })
  since: Date;

  @Column({ type: 'datetime', precision: 3 })
  until: Date;

  /** Ended before its time. */
  @Column({ type: 'datetime', precision: 3, nullable: true })
  endedAt: Date | null;

  @Column({ type: 'varchar', length: 120, nullable: true })
  endedBy: string | null;
}
