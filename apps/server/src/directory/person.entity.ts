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

  @Column('json')
  groups: string[];

  /** Address of the person's manager; null where nobody is named. */
  @Column({ type: 'varchar', length: 254, nullable: true })
  manager: string | null;

  /** Language (ISO 639-1) in which this person is spoken to. */
  @Column({ type: 'varchar', length: 10, default: 'en' })
  language: string;
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
