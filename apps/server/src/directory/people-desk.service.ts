import { isZone } from '@lantern/core/shared';
import { randomUUID, X509Certificate } from 'node:crypto';
import { domainToASCII } from 'node:url';
import type {
  DirectoryNames,
  DirectoryPage,
  DirectoryPartner,
  DirectoryPerson,
  GroupRequest,
  GroupTrial,
  GroupView,
  NamedCount,
  OrganisationRequest,
  OrganisationView,
  PartnerRequest,
  PersonRequest,
} from '@lantern/contracts/directory';
import {
  audienceEffects,
  factsWith,
  type GroupClause,
  type GroupRule,
  isDomain,
  isInGroup,
  type PersonRecord,
  planChange,
} from '@lantern/core/directory';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { likeAnywhere } from '../platform/database/like.js';
import { AppError } from '../platform/errors/app-error.js';
import { DirectoryWriter, recordOf } from './changes/directory-writer.js';
import { PeopleGroupEntity } from './directory.entity.js';
import { DirectoryReferences } from './directory-references.js';
import { PeopleService } from './people.service.js';
import { OrganisationEntity, PartnerEntity, PersonEntity } from './person.entity.js';

const PAGE = 100;
const SHOWN = 20;

/** The directory as administrators see and change it: people, groups, own domains, partners. */
@Injectable()
export class PeopleDesk {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly writer: DirectoryWriter,
    private readonly references: DirectoryReferences,
  ) {}

  /** People whose name, address, department, office or group holds what was typed, by name; a page of 100. */
  async page(typed: string, page: number): Promise<DirectoryPage> {
    const query = this.manager.createQueryBuilder(PersonEntity, 'p');
    if (typed.trim() !== '')
      query.where(
        '(p.name LIKE :like OR p.address LIKE :like OR p.department LIKE :like OR p.port LIKE :like OR p.`groups` LIKE :like)',
        { like: likeAnywhere(typed.trim()) },
      );
    const [people, total] = await query
      .orderBy('p.name')
      .addOrderBy('p.address')
      .skip(page * PAGE)
      .take(PAGE)
      .getManyAndCount();
    return { total, people: people.map(personView) };
  }

  async names(): Promise<DirectoryNames> {
    const people = await this.people.all();
    return {
      groups: counted(people.flatMap(({ groups }) => groups)),
      departments: counted(people.map(({ department }) => department)),
      offices: counted(people.map(({ port }) => port)),
    };
  }

  /** Adds somebody by hand. */
  async add(request: PersonRequest, actor: string): Promise<DirectoryPerson> {
    const person = await this.wellTold(request, null);
    await this.writer.write({ added: [person], changed: [], left: [] }, { source: 'hand', actor });
    return this.byAddress(person.address);
  }

  /** Changes somebody who was entered by hand. */
  async change(id: string, request: PersonRequest, actor: string): Promise<DirectoryPerson> {
    const before = recordOf(await this.byHand(id));
    const after = await this.wellTold(request, before);
    await this.writer.write(
      { added: [], changed: [{ before, after, fields: [] }], left: [] },
      { source: 'hand', actor },
    );
    return this.byAddress(after.address);
  }

  /** Takes somebody out who was entered by hand. What they did keeps their name. */
  async remove(id: string, actor: string): Promise<void> {
    const person = recordOf(await this.byHand(id));
    await this.writer.write({ added: [], changed: [], left: [person] }, { source: 'hand', actor });
  }

  async groups(): Promise<GroupView[]> {
    const groups = await this.manager.find(PeopleGroupEntity, { order: { name: 'ASC' } });
    const people = (await this.people.all()).map(recordOf);
    return groups.map((group) => groupView(group, people));
  }

  /** Who would be in a group as it is written, and what would mean other people. */
  async tryGroup(request: GroupRequest, id: string | null): Promise<GroupTrial> {
    const people = (await this.people.all()).map(recordOf);
    const before = await this.manager.find(PeopleGroupEntity);
    const rule: GroupRule = { name: request.name.trim(), rows: clausesOf(request) };
    const after = [...before.filter((group) => group.id !== id), rule];
    const met = people.filter((person) => isInGroup(rule, person));
    return {
      people: met.length,
      examples: met.slice(0, SHOWN).map(({ name, address }) => ({ name, address })),
      effects: await this.effects(people, before, after),
    };
  }

  async saveGroup(request: GroupRequest, id: string | null): Promise<GroupView> {
    const name = request.name.trim();
    const saved = await this.writer.changeGroups(async (manager) => {
      const same = await manager.findOneBy(PeopleGroupEntity, { name });
      if (same && same.id !== id) throw new AppError('name-taken', 'A group with this name already exists.');
      if (id !== null && !(await manager.existsBy(PeopleGroupEntity, { id })))
        throw new AppError('not-found', 'There is no such group.');
      const group = { id: id ?? randomUUID(), name, about: request.about, rows: clausesOf(request) };
      await manager.save(PeopleGroupEntity, group);
      return group;
    });
    return groupView(saved, (await this.people.all()).map(recordOf));
  }

  /** Removes a group that nothing is written for. */
  async removeGroup(id: string): Promise<void> {
    const group = await this.manager.findOneBy(PeopleGroupEntity, { id });
    if (!group) throw new AppError('not-found', 'There is no such group.');
    const [use] = await this.references.using('group', group.name);
    if (use) throw new AppError('in-use', `The group is used by ${use.of}. Remove it there first.`);
    await this.writer.changeGroups((manager) => manager.delete(PeopleGroupEntity, { id }));
  }

  async organisation(): Promise<OrganisationView> {
    const { name, domains } = await this.people.getOrganisation();
    return { name, domains, people: await this.people.count() };
  }

  /** Own domains decide what is outside, for every rule. */
  async setOrganisation({ name, domains }: OrganisationRequest): Promise<OrganisationView> {
    const plain = [...new Set(domains.map(plainDomain))];
    const wrong = plain.find((domain) => !isDomain(domain) && domain !== 'localhost');
    if (wrong !== undefined)
      throw new AppError('invalid-request', `"${wrong}" is not a domain name. Nothing was changed.`);
    await this.writer.inTurn(null, (manager) =>
      manager.save(OrganisationEntity, { id: 1, name: name.trim(), domains: plain }),
    );
    return this.organisation();
  }

  async partners(): Promise<DirectoryPartner[]> {
    return (await this.people.allPartners()).map(partnerView);
  }

  async savePartner(request: PartnerRequest): Promise<DirectoryPartner> {
    const address = request.address.trim().toLowerCase();
    if (!(await this.people.outsideTest())(address))
      throw new AppError('bad-address', 'This address is in one of your domains. Partners are outside.');
    const { certificate } = request;
    if (certificate) demandCertificate(certificate);
    const { name, organisation, country } = request;
    await this.writer.inTurn(null, async (manager) => {
      const before = await manager.findOneBy(PartnerEntity, { address });
      await manager.save(PartnerEntity, {
        ...{ address, name: name.trim(), organisation: organisation.trim(), country },
        certificate: certificate === undefined ? (before?.certificate ?? null) : certificate,
        standInKey: before?.standInKey ?? null,
      });
    });
    return partnerView(await this.manager.findOneByOrFail(PartnerEntity, { address }));
  }

  async removePartner(address: string): Promise<void> {
    const { affected } = await this.writer.inTurn(null, (manager) =>
      manager.delete(PartnerEntity, { address: address.toLowerCase() }),
    );
    if (!affected) throw new AppError('not-found', 'There is no such partner.');
  }

  private async effects(
    people: readonly PersonRecord[],
    before: readonly GroupRule[],
    after: readonly GroupRule[],
  ) {
    const steps = people.map((person) => ({
      before: factsWith(person, before),
      after: factsWith(person, after),
    }));
    return audienceEffects(await this.references.all(), steps);
  }

  /** A person as the directory can take them, by the rules that imports obey. */
  private async wellTold(request: PersonRequest, before: PersonRecord | null): Promise<PersonRecord> {
    const { address, office, ...rest } = request;
    if (rest.zone && !isZone(rest.zone.trim()))
      throw new AppError(
        'invalid-request',
        `"${rest.zone}" is no time zone. Use a name such as Europe/Oslo. Nothing was saved.`,
      );
    const people = await this.people.all();
    const taken = new Set(
      people.map((person) => person.address.toLowerCase()).filter((each) => each !== before?.address),
    );
    const { added, refused } = planChange([{ line: 1, address, fields: { office, ...rest } }], {
      ...{ own: [], byHand: [], elsewhere: taken, whole: false, isInside: () => true },
    });
    const [person] = added;
    if (person) return person;
    throw refused[0]?.code === 'belongs-elsewhere'
      ? new AppError('name-taken', 'Another person has this address.')
      : new AppError('bad-address', 'This is not a valid mail address.');
  }

  private async byHand(id: string): Promise<PersonEntity> {
    const person = await this.people.getPerson(id);
    if (person.source !== 'hand')
      throw new AppError(
        'act-refused',
        'This person comes from a file or server. Change them there. A change here would be overwritten.',
      );
    return person;
  }

  private async byAddress(address: string): Promise<DirectoryPerson> {
    return personView(await this.manager.findOneByOrFail(PersonEntity, { address }));
  }
}

/** A domain as addresses are compared with it: small letters, letters of other scripts by their ASCII form (UTS 46). */
function plainDomain(typed: string): string {
  const plain = typed
    .trim()
    .toLowerCase()
    .replace(/^@|\.$/g, '');
  return domainToASCII(plain) || plain;
}

function clausesOf({ rows }: GroupRequest): GroupClause[][] {
  return rows.map(({ clauses }) =>
    clauses.map(({ field, test, value }) => ({ field, test, value: value.trim() })),
  );
}

function personView(person: PersonEntity): DirectoryPerson {
  const record = recordOf(person);
  const listed = new Set(record.groups.map((group) => group.toLowerCase()));
  return {
    ...record,
    id: person.id,
    source: person.source,
    byCondition: person.groups.filter((group) => !listed.has(group.toLowerCase())),
  };
}

function groupView({ id, name, about, rows }: PeopleGroupEntity, people: readonly PersonRecord[]): GroupView {
  const inIt = people.filter((person) => isInGroup({ rows }, person)).length;
  return { id, name, about, rows: rows.map((clauses) => ({ clauses })), people: inIt };
}

function counted(names: readonly string[]): NamedCount[] {
  const counts = new Map<string, number>();
  for (const name of names) if (name !== '') counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([name, people]) => ({ name, people })).sort((a, b) => a.name.localeCompare(b.name));
}

/** A certificate by which mail can be encrypted: readable, in force, and with a key that encrypts (RFC 8551, 4). */
function demandCertificate(pem: string): void {
  const read = certificateOf(pem);
  if (!read) throw new AppError('invalid-request', 'The certificate cannot be read. Paste it in PEM form.');
  if (Date.parse(read.validTo) < Date.now())
    throw new AppError('invalid-request', `The certificate expired on ${read.validTo}.`);
  if (read.publicKey.asymmetricKeyType !== 'rsa')
    throw new AppError('invalid-request', 'The certificate has no RSA key. Mail is encrypted with RSA keys.');
}

function certificateOf(pem: string): X509Certificate | null {
  try {
    return new X509Certificate(pem);
  } catch {
    return null;
  }
}

function partnerView({ address, name, organisation, country, certificate }: PartnerEntity): DirectoryPartner {
  const read = certificate === null ? null : certificateOf(certificate);
  return {
    ...{ address, name, organisation, country },
    certificate: read && {
      subject: read.subject.replaceAll('\n', ', '),
      issuer: read.issuer.replaceAll('\n', ', '),
      from: new Date(read.validFrom).toISOString(),
      until: new Date(read.validTo).toISOString(),
      fingerprint: read.fingerprint256,
    },
  };
}
