import { randomBytes, randomUUID } from 'node:crypto';
import { type Permission, PERMISSIONS, ROLE_IDS } from '@lantern/contracts';
import type { GroupRequest } from '@lantern/contracts/directory';
import { OwnRoleEntity } from '../accounts/access/access.entity.js';
import { Access } from '../accounts/access/access.service.js';
import { ServiceAccounts } from '../accounts/access/service-accounts.service.js';
import { DataKeyEntity } from '../platform/keys/data-key.entity.js';
import { INSTALLATION } from '../platform/keys/key-ring.js';
import { TrailEntity, TrailHeadEntity, TrailSegmentEntity } from '../platform/trail/trail.entity.js';
import { Trail } from '../platform/trail/trail.service.js';
import {
  DEMO_ACCOUNTS,
  DEMO_ROLES,
  DEMO_PASSWORD,
  type DemoMail,
  directory,
  EXCHANGES,
  machines,
  FIRST_REVISION,
  ORGANISATION,
  PARTNERS,
  POLICIES,
  SLACKWATER,
  SPOTS,
  TEXTS,
  traffic,
} from '@lantern/demo';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, Not } from 'typeorm';
import { AccountEntity } from '../accounts/account.entity.js';
import { hashPassword } from '../accounts/password.js';
import { MailWindow, type SentMail } from '../stand-ins/mail/mail-window.service.js';
import { InspectionService } from '../inspection/inspection.service.js';
import { OwnPatternEntity } from '../patterns/own-pattern.entity.js';
import { DirectoryChangeEntity } from '../directory/directory.entity.js';
import { Retention } from '../retention/retention.service.js';
import { PeopleDesk } from '../directory/people-desk.service.js';
import { PeopleService } from '../directory/people.service.js';
import { MachineEntity } from '../directory/machines/machine.entity.js';
import { OrganisationEntity, PartnerEntity, PersonEntity } from '../directory/person.entity.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { DemoDiscovery } from './demo-discovery.service.js';
import { type BlockedMail, DemoLife } from './demo-life.service.js';
import { DemoState } from './demo-state.js';
import { DemoPast } from './demo-past.service.js';
import { DemoLedger } from './demo-ledger.service.js';
import { DemoMoves } from './demo-moves.service.js';
import { DemoLabels } from './demo-labels.service.js';
import { PolicyDraftEntity } from '../policies/policy.entity.js';
import { SetPartEntity } from '../policies/set-part.entity.js';
import { RevisionsService } from '../revisions/revisions.service.js';

/** An account as the start command prints it. */
export interface PrintedAccount {
  readonly name: string;
  readonly email: string;
  readonly password: string;
  readonly may: string;
}

const HOUR_MS = 3_600_000;
/** Questions of the last hours have no reply yet. */
const STILL_WAITING_HOURS = 3;
/** Mails judged side by side while loading: two worker threads and the database between them. */
const AT_ONCE = 8;

function callerOf({ name, email }: { readonly name: string; readonly email: string }): Caller {
  return {
    sessionId: '',
    accountId: '',
    csrfToken: '',
    name,
    email,
    permissions: PERMISSIONS,
    limits: null,
    grants: [{ permissions: PERMISSIONS, limits: null, inPlaceOf: null }],
    secondFactor: false,
  };
}

/** The list of people was read so long before the demo begins. */
const DIRECTORY_READ_MS = 90 * 86_400_000;
/** A group that keeps itself current. */
const PORT_OFFICERS: GroupRequest = {
  name: 'Gate and port security',
  about: 'Officers of Port Operations, whoever they are just now',
  rows: [
    {
      clauses: [
        { field: 'department', test: 'is', value: 'Port Operations' },
        { field: 'title', test: 'ends', value: 'officer' },
      ],
    },
  ],
};

/** Left alone when a load begins anew: nobody deletes the trail, and the key of the installation is in use already. */
const STAYING = new Set<unknown>([TrailEntity, TrailHeadEntity, TrailSegmentEntity, DataKeyEntity]);

/** Fills an empty installation: with the demo scenario, or with one account that can do everything. */
@Injectable()
export class DemoService {
  /** The code by which the demo's first reader enrols; null where the demo was loaded before. */
  readerCode: string | null = null;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly desk: PeopleDesk,
    private readonly retention: Retention,
    private readonly revisions: RevisionsService,
    private readonly inspection: InspectionService,
    private readonly mail: MailWindow,
    private readonly labels: DemoLabels,
    private readonly moves: DemoMoves,
    private readonly life: DemoLife,
    private readonly past: DemoPast,
    private readonly ledger: DemoLedger,
    private readonly discovery: DemoDiscovery,
    private readonly state: DemoState,
    private readonly trail: Trail,
    private readonly access: Access,
    private readonly services: ServiceAccounts,
  ) {}

  /**
   * Loads what an empty installation begins with. Only what such a load left when it was cut off is emptied away; a
   * database that holds anything else stays as it is, with or without accounts. `pastPart` is the share of the demo's
   * past weeks that is made, for tests that need less.
   */
  async prepare(
    demo: 'merrow' | 'none',
    say: (text: string) => void,
    pastPart = 1,
  ): Promise<PrintedAccount[]> {
    const state = await this.state.find();
    if (state === 'done') return this.printed();
    if (state === 'begun') await this.emptyUnfinished(say);
    await this.state.note('begun');
    await this.retention.begin();
    const accounts = demo === 'none' ? [await this.firstAccount()] : await this.loadDemo(say, pastPart);
    await this.state.note('done');
    return accounts;
  }

  private async loadDemo(say: (text: string) => void, pastPart: number): Promise<PrintedAccount[]> {
    say('Loading the demo: people and policies …');
    await this.loadDirectory();
    await this.labels.loadPlaces(say);
    const caller = await this.loadPolicies();
    await this.labels.loadDocuments();
    const analysts = [DEMO_ACCOUNTS[0], DEMO_ACCOUNTS[1], DEMO_ACCOUNTS[2]].map(callerOf);
    await this.past.load(say, analysts, pastPart);
    const blocked = await this.loadTraffic(say);
    await this.moves.loadCertificates();
    await this.moves.load(say);
    await this.moves.loadDrive();
    await this.ledger.load();
    say('Loading the demo: decisions, requests, a draft and a replay …');
    await this.life.load(blocked, caller, callerOf(DEMO_ACCOUNTS[1]), callerOf(DEMO_ACCOUNTS[3]));
    await this.loadRoles();
    for (const account of DEMO_ACCOUNTS) {
      const roles: readonly string[] = account.roles;
      const permissions = await this.access.permissionsOf(roles, account.seesSilent);
      await this.addAccount(account, DEMO_PASSWORD, { permissions, roles, seesSilent: account.seesSilent });
    }
    const first = await this.manager.findOneByOrFail(AccountEntity, { email: DEMO_ACCOUNTS[0].email });
    await this.life.loadDesk({ ...caller, accountId: first.id });
    await this.life.loadReports({ ...caller, accountId: first.id });
    this.readerCode = await this.discovery.load(caller.name);
    await this.tell();
    return DEMO_ACCOUNTS.map((account) => ({ ...account, password: DEMO_PASSWORD }));
  }

  private async loadRoles(): Promise<void> {
    const changed = { changedAt: new Date(), changedBy: DEMO_ACCOUNTS[0].email };
    for (const { permissions, limits, ...role } of DEMO_ROLES)
      await this.manager.insert(OwnRoleEntity, {
        ...{ ...role, ...changed, permissions: [...permissions] as Permission[] },
        limits: {
          ...limits,
          departments: [...limits.departments],
          policies: [],
          channels: [],
          severities: [],
        },
      });
    await this.services.create({ name: 'Ticket desk', roles: ['auditor'] });
  }

  /** Accounts of the demo that are still there. */
  private async printed(): Promise<PrintedAccount[]> {
    const accounts = await this.manager.find(AccountEntity);
    return DEMO_ACCOUNTS.filter((known) => accounts.some((account) => account.email === known.email)).map(
      (known) => ({ ...known, password: DEMO_PASSWORD }),
    );
  }

  private async emptyUnfinished(say: (text: string) => void): Promise<void> {
    say('The last load was interrupted. Loading the demo from the beginning …');
    await this.manager.transaction(async (manager) => {
      await manager.query('SET FOREIGN_KEY_CHECKS = 0');
      for (const { target } of manager.connection.entityMetadatas)
        if (!STAYING.has(target)) await manager.createQueryBuilder().delete().from(target).execute();
      await manager.delete(DataKeyEntity, { scope: Not(INSTALLATION) });
      // Digests are looked up and never read, so no entity names them.
      for (const table of ['alike_band', 'case_value']) await manager.query(`DELETE FROM ${table}`);
      await manager.query('SET FOREIGN_KEY_CHECKS = 1');
    });
  }

  private async firstAccount(): Promise<PrintedAccount> {
    const account = { name: 'First account', email: 'first@localhost', may: 'everything' };
    const password = randomBytes(9).toString('base64url');
    await this.addAccount(account, password, {
      permissions: PERMISSIONS,
      roles: ROLE_IDS,
      seesSilent: true,
    });
    return { ...account, password };
  }

  private async addAccount(
    account: { name: string; email: string },
    password: string,
    {
      permissions,
      roles,
      seesSilent,
    }: {
      readonly permissions: readonly Permission[];
      readonly roles: readonly string[];
      readonly seesSilent: boolean;
    },
  ): Promise<void> {
    const { name, email } = account;
    await this.manager.insert(AccountEntity, {
      id: randomUUID(),
      name,
      email,
      passwordHash: await hashPassword(password),
      permissions: [...permissions],
      roles: [...roles],
      seesSilent,
    });
  }

  /** What the demo did in somebody's name stands in the trail as well. */
  private async tell(): Promise<void> {
    const [author, other] = DEMO_ACCOUNTS;
    for (const act of [
      { actor: author.email, action: 'POST /revisions', target: '1' },
      { actor: author.email, action: 'POST /agents' },
      { actor: author.email, action: 'POST /label-runs' },
      { actor: other.email, action: 'POST /incidents/:number/acts' },
      { actor: other.email, action: 'POST /replays' },
    ])
      await this.trail.add(act);
  }

  private async loadDirectory(): Promise<void> {
    await this.manager.insert(OrganisationEntity, { id: 1, ...ORGANISATION });
    await this.manager.insert(
      PersonEntity,
      directory().map((person) => ({
        ...{ id: randomUUID(), ...person, source: 'file' as const },
        groups: [...person.groups],
        listed: [...person.groups],
      })),
    );
    await this.manager.insert(DirectoryChangeEntity, {
      ...{ id: randomUUID(), at: new Date(Date.now() - DIRECTORY_READ_MS) },
      ...{ actor: DEMO_ACCOUNTS[0].email, source: 'file', refused: 0 },
      ...{ added: directory().length, changed: 0, left: 0 },
    });
    await this.desk.saveGroup(PORT_OFFICERS, null);
    await this.manager.insert(
      MachineEntity,
      machines(directory()).map((machine) => ({
        ...machine,
        groups: [...machine.groups],
        listed: [...machine.groups],
        addresses: [...machine.addresses],
      })),
    );
    await this.manager.insert(
      PartnerEntity,
      PARTNERS.map((partner) => ({ ...partner })),
    );
  }

  private async loadPolicies(): Promise<Caller> {
    const [author] = DEMO_ACCOUNTS;
    const caller = callerOf(author);
    const stamp = { version: 1, updatedAt: new Date(), updatedBy: author.name };
    await this.manager.insert(OwnPatternEntity, {
      id: SLACKWATER.id,
      name: SLACKWATER.name,
      about: SLACKWATER.about,
      words: [...SLACKWATER.words],
      ...stamp,
    });
    const parts = [
      ...TEXTS.map(({ id, ...definition }) => ({ id, kind: 'text' as const, definition })),
      ...EXCHANGES.map(({ id, ...definition }) => ({ id, kind: 'exchange' as const, definition })),
      ...SPOTS.map(({ id, ...definition }) => ({ id, kind: 'spots' as const, definition })),
    ];
    for (const part of parts)
      await this.manager.save(this.manager.create(SetPartEntity, { ...part, ...stamp }));
    const drafts = POLICIES.map(({ id, ...definition }, index) => ({
      id,
      position: index + 1,
      definition,
      ...stamp,
    }));
    for (const draft of drafts) await this.manager.save(this.manager.create(PolicyDraftEntity, draft));
    await this.labels.loadDrafts(author.name);
    await this.labels.loadCrossings(author.name);
    await this.revisions.publish(FIRST_REVISION, caller);
    this.inspection.refresh();
    return caller;
  }

  /** Sends the mails of the last weeks through the same door as everybody's. */
  private async loadTraffic(say: (text: string) => void): Promise<BlockedMail[]> {
    const mails = await traffic();
    const people = new Map((await this.people.all()).map((person) => [person.address, person]));
    const now = Date.now();
    say(`Loading the demo: judging ${mails.length} mails of the last 30 days …`);
    const waiting = mails.values();
    const blocked: (BlockedMail & { readonly hoursAgo: number })[] = [];
    const sendNext = async () => {
      for (const mail of waiting) {
        const { person, sent } = await this.sendPast(mail, people, now);
        const { hoursAgo } = mail;
        if (sent.status === 'refused' && sent.notice?.override) blocked.push({ person, sent, hoursAgo });
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, sendNext));
    return blocked.sort((one, other) => other.hoursAgo - one.hoursAgo);
  }

  private async sendPast(
    mail: DemoMail,
    people: ReadonlyMap<string, PersonEntity>,
    now: number,
  ): Promise<BlockedMail> {
    const person = people.get(mail.from.address);
    if (!person) throw new Error('The demo writes mail from somebody who is not in its directory');
    const { to, subject, body, files } = mail;
    const sent = await this.mail.send({
      person,
      to,
      subject,
      body,
      files,
      draft: null,
      handOn: false,
      at: new Date(now - mail.hoursAgo * HOUR_MS),
    });
    if (sent.status === 'waiting') await this.answer(sent, person, mail.hoursAgo);
    return { person, sent };
  }

  /** People of the past answered what they were asked, most of them truly; the newest questions still wait. */
  private async answer(sent: SentMail, person: PersonEntity, hoursAgo: number): Promise<void> {
    const reasons = sent.notice?.ask?.reasons ?? [];
    const reason = reasons[Math.floor(hoursAgo * 7) % Math.max(1, reasons.length)];
    if (hoursAgo < STILL_WAITING_HOURS || !reason) return;
    const { words, leads } = reason;
    try {
      await this.mail.reply(person, sent.messageId, { words, leads });
    } catch (error) {
      // Its time is long past: where the sweep of deadlines was first, nobody replied in time.
      if (!(error instanceof AppError) || error.code !== 'changed-meanwhile') throw error;
    }
  }
}
