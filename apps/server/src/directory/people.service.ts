import { domainOf, isUnder, type KnownPeople, type PersonFacts } from '@lantern/core/directory';
import { type Handler } from '@lantern/core/labels';
import { type Machine, type NetworkState, type Recipient } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, Repository } from 'typeorm';
import { afterCommit } from '../platform/database/transaction-context.js';
import { likeAnywhere } from '../platform/database/like.js';
import { AppError } from '../platform/errors/app-error.js';
import { FormerPersonEntity } from './directory.entity.js';
import { OrganisationEntity, PartnerEntity, PersonEntity } from './person.entity.js';

/** An address that completion offers. */
export interface KnownAddress {
  readonly address: string;
  readonly name: string;
  readonly from: string;
  readonly outside: boolean;
}

/** Somebody who uses a program: of the house, or from outside. */
export interface Player {
  readonly person: PersonEntity | null;
  readonly name: string;
  readonly address: string;
  readonly outside: boolean;
  /** The machine they use, where it is not the one they usually work at. */
  readonly machine?: Machine;
  /** The network they come over, where it is known. */
  readonly network?: NetworkState;
  /** Somebody outside who said who they are. */
  readonly signedIn?: boolean;
}

const MAX_SUGGESTIONS = 12;
const ORGANISATION_KEPT_MS = 1_000;
/** Whoever gets mail gets more of it: addresses are kept so long, and so many of them. */
const RECEIVERS_KEPT_MS = 3_000;
const MOST_RECEIVERS_KEPT = 5_000;

interface KnownReceiver {
  readonly at: number;
  readonly person: PersonEntity | null;
  readonly country: string | null;
}

/** What the directory knows of a person, as conditions ask it. */
export function factsOf(person: PersonEntity): PersonFacts {
  const { address, groups, department, port, zone } = person;
  return { address, groups, department, office: port, ...(zone ? { zone } : {}) };
}

/** Somebody who is played, as handling asks about them. */
export function handlerOf({ person, address, outside }: Player): Handler {
  return { ...(person ? factsOf(person) : { address }), outside };
}

@Injectable()
export class PeopleService {
  constructor(
    @InjectRepository(PersonEntity) private readonly people: Repository<PersonEntity>,
    @InjectRepository(PartnerEntity) private readonly partners: Repository<PartnerEntity>,
    @InjectRepository(OrganisationEntity) private readonly organisations: Repository<OrganisationEntity>,
  ) {}

  private readonly receivers = new Map<string, KnownReceiver>();
  private organisation: { readonly at: number; readonly read: Promise<OrganisationEntity> } | null = null;

  /** The organisation; asked of the database once a second at most, since every movement asks several times. */
  getOrganisation(): Promise<OrganisationEntity> {
    const now = Date.now();
    if (!this.organisation || now - this.organisation.at > ORGANISATION_KEPT_MS || now < this.organisation.at)
      this.organisation = { at: now, read: this.readOrganisation() };
    return this.organisation.read;
  }

  private async readOrganisation(): Promise<OrganisationEntity> {
    const organisation = await this.organisations.findOneBy({ id: 1 });
    return organisation ?? this.organisations.create({ id: 1, name: 'Your organisation', domains: [] });
  }

  /** After a change of the directory: what is kept for a moment is asked again. */
  forget(): void {
    afterCommit(() => {
      this.receivers.clear();
      this.organisation = null;
    });
  }

  all(): Promise<PersonEntity[]> {
    return this.people.find({ order: { name: 'ASC' } });
  }

  count(): Promise<number> {
    return this.people.count();
  }

  async getPerson(id: string): Promise<PersonEntity> {
    const person = await this.people.findOneBy({ id });
    if (!person) throw new AppError('not-found', 'The directory has no such person.');
    return person;
  }

  /** Who is played: somebody of the directory by id, somebody outside by address. */
  async player(id: string): Promise<Player> {
    if (!id.includes('@')) {
      const person = await this.getPerson(id);
      return { person, name: person.name, address: person.address, outside: false };
    }
    const partner = await this.partners.findOneBy({ address: id.toLowerCase() });
    if (!partner) throw new AppError('not-found', 'The directory has no such person.');
    return { person: null, name: partner.name, address: partner.address, outside: true };
  }

  /** Certificate by which mail is encrypted for somebody outside. */
  async certificateOf(address: string): Promise<string | null> {
    const partner = await this.partners.findOneBy({ address: address.toLowerCase() });
    return partner?.certificate ?? null;
  }

  allPartners(): Promise<PartnerEntity[]> {
    return this.partners.find({ order: { name: 'ASC' } });
  }

  /** Names of addresses, and whether they are outside. */
  async namesOf(
    addresses: readonly string[],
  ): Promise<Map<string, { readonly name: string; readonly outside: boolean }>> {
    const distinct = [...new Set(addresses)];
    const isOutside = await this.outsideTest();
    const people = await this.findByAddresses(distinct);
    const partners = distinct.length === 0 ? [] : await this.partners.findBy({ address: In(distinct) });
    const former =
      distinct.length === 0
        ? []
        : await this.people.manager.findBy(FormerPersonEntity, { address: In(distinct) });
    const names = new Map([...former, ...partners, ...people].map(({ address, name }) => [address, name]));
    return new Map(
      distinct.map((address) => [
        address,
        { name: names.get(address) ?? address, outside: isOutside(address) },
      ]),
    );
  }

  findByAddresses(addresses: readonly string[]): Promise<PersonEntity[]> {
    return addresses.length === 0 ? Promise.resolve([]) : this.people.findBy({ address: In([...addresses]) });
  }

  /** Everything that references to people can name. */
  async known(): Promise<KnownPeople> {
    const people = await this.people.find({
      select: { id: true, address: true, groups: true, department: true, port: true },
    });
    return {
      addresses: new Set(people.map(({ address }) => address.toLowerCase())),
      groups: new Set(people.flatMap(({ groups }) => groups)),
      departments: new Set(people.map(({ department }) => department)),
      offices: new Set(people.map(({ port }) => port)),
    };
  }

  /** Receivers of one movement, with what the directory knows of them. */
  async recipients(addresses: readonly string[]): Promise<Recipient[]> {
    const isOutside = await this.outsideTest();
    const known = await this.knownBy(addresses);
    return addresses.map((address): Recipient => {
      const { person, country } = known.get(address) ?? { person: null, country: null };
      return {
        ...(person ? factsOf(person) : { address }),
        outside: isOutside(address),
        ...(country ? { country } : {}),
      };
    });
  }

  /** What the directory knows of addresses; asked again for those that were not asked for just now. */
  private async knownBy(addresses: readonly string[]): Promise<Map<string, KnownReceiver>> {
    const now = Date.now();
    if (this.receivers.size > MOST_RECEIVERS_KEPT) this.receivers.clear();
    const asked = addresses.filter((address) => {
      const kept = this.receivers.get(address);
      return !kept || now - kept.at > RECEIVERS_KEPT_MS || now < kept.at;
    });
    if (asked.length > 0) {
      const people = new Map((await this.findByAddresses(asked)).map((each) => [each.address, each]));
      const partners = await this.partners.findBy({ address: In(asked) });
      const countries = new Map(partners.map(({ address, country }) => [address, country]));
      for (const address of asked)
        this.receivers.set(address, {
          at: now,
          person: people.get(address) ?? null,
          country: countries.get(address) ?? null,
        });
    }
    return new Map(
      addresses.flatMap((address) => {
        const kept = this.receivers.get(address);
        return kept ? [[address, kept] as const] : [];
      }),
    );
  }

  /** A test for one movement: whether an address is under no domain of the organisation. */
  async outsideTest(): Promise<(address: string) => boolean> {
    const { domains } = await this.getOrganisation();
    return (address) => !domains.some((domain) => isUnder(domainOf(address), domain));
  }

  async suggest(typed: string): Promise<KnownAddress[]> {
    const like = likeAnywhere(typed);
    const people = await this.people
      .createQueryBuilder('p')
      .where('p.name LIKE :like OR p.address LIKE :like', { like })
      .orderBy('p.name')
      .take(MAX_SUGGESTIONS)
      .getMany();
    const partners = await this.partners
      .createQueryBuilder('p')
      .where('p.name LIKE :like OR p.address LIKE :like OR p.organisation LIKE :like', { like })
      .orderBy('p.address')
      .take(MAX_SUGGESTIONS)
      .getMany();
    return [
      ...people.map((person) => ({
        address: person.address,
        name: person.name,
        from: person.department,
        outside: false,
      })),
      ...partners.map((partner) => ({
        address: partner.address,
        name: partner.name,
        from: partner.organisation,
        outside: true,
      })),
    ].slice(0, MAX_SUGGESTIONS);
  }
}
