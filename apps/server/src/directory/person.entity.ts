import type { PersonSource } from '@lantern/contracts/directory';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

@Entity('organisation')
export class OrganisationEntity {
  @PrimaryColumn({ type: 'int' })
  id: number;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  /** Domains whose addresses are inside, sub-domains included. */
  @Column('json')
  domains: string[];
}

@Entity('person')
@Index('address', ['address'], { unique: true })
@Index('person_source', ['source', 'sourceKey'], { unique: true })
export class PersonEntity {
  @PrimaryColumn('uuid')
  id: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 254 })
  address: string;

  @Column({ type: 'varchar', length: 120 })
  department: string;

  @Column({ type: 'varchar', length: 120 })
  port: string;

  @Column({ type: 'varchar', length: 120 })
  title: string;

  /** All groups: those of `listed`, and those whose condition the person meets. */
  @Column('json')
  groups: string[];

  /** Groups that the source lists. */
  @Column({ type: 'json', default: '[]' })
  listed: string[];

  @Column({ type: 'varchar', length: 20, default: 'hand' })
  source: PersonSource;

  /** What the source calls this person for good; null where it says nothing. */
  @Column({ type: 'varchar', length: 200, nullable: true })
  sourceKey: string | null;

  /** Address of the person's manager; null where nobody is named. */
  @Column({ type: 'varchar', length: 254, nullable: true })
  manager: string | null;

  /** Language (ISO 639-1) in which this person is spoken to. */
  @Column({ type: 'varchar', length: 10, default: 'en' })
  language: string;

  /** Zone of the IANA database in which this person works; empty where nobody says. */
  @Column({ type: 'varchar', length: 60, default: '' })
  zone: string;
}

@Entity('partner')
export class PartnerEntity {
  @PrimaryColumn({ type: 'varchar', length: 254 })
  address: string;

  @Column({ type: 'varchar', length: 120 })
  name: string;

  @Column({ type: 'varchar', length: 120 })
  organisation: string;

  /** ISO 3166-1 alpha-2, where it is known. */
  @Column({ type: 'char', length: 2, nullable: true })
  country: string | null;

  /** Certificate (PEM) by which mail is encrypted for this partner; null where none is known. */
  @Column({ type: 'text', nullable: true })
  certificate: string | null;

  /** Key of the stand-in that plays this partner, sealed; null where nobody plays one. */
  @Column({ type: 'blob', nullable: true })
  standInKey: Buffer | null;
}
