import type { NoticeState, PersonNotice } from '@lantern/contracts';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, LessThan, LessThanOrEqual, MoreThan, Not } from 'typeorm';
import { Outcomes } from '../outcomes.js';
import { HistoryEntity } from '../../incidents/incident.entity.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { AccountEntity } from '../../accounts/account.entity.js';
import { TraitEntity } from '../../incidents/queue/trait.entity.js';
import { demandVisible, visibleAmong } from '../../incidents/visible.js';
import { type Consent, TwoPeople } from '../../accounts/access/two-people.service.js';
import { InsideMail } from '../../platform/inside-mail.js';
import type { Caller } from '../../platform/auth/permit.js';
import { sightOf, sightWith } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { openUntil } from './open-pages.js';
import { NOBODY, PendingEntity, type PendingState } from './pending.entity.js';
import { neededFor, OUTCOMES, proofReplyOf, REFUSALS, replyOf, SYSTEM, whyNot } from './pending-words.js';

/** How often deadlines are looked at: well below the minute in which they are stated. */
const SWEEP_MS = 15_000;
const WAITS =
  'Your approval is kept for 24 hours. The movement still waits. A second person with the permission must also allow it.';

/** What somebody asks to be let go, and whom. */
export interface AskedOverride extends Pick<
  PendingEntity,
  'id' | 'movementId' | 'incidentNumber' | 'channel' | 'decides' | 'words'
> {
  readonly person: PersonEntity;
}

/** What a code led to: an end, or only a changed notice. */
export type Proved = { readonly outcome: Outcome } | { readonly notice: Partial<PersonNotice> };

export interface Outcome {
  readonly state: Exclude<PendingState, 'waiting'>;
  readonly by: string;
  readonly words: string;
  /** What else is told from now on. */
  readonly notice?: Partial<PersonNotice>;
}

/**
 * Movements that wait: a question for the person's own reply until its deadline, the others for somebody else's
 * decision. What was accepted is stored before anybody is answered, so nothing is lost by a restart.
 */
@Injectable()
export class PendingService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('pending');
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly outcomes: Outcomes,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly inside: InsideMail,
    private readonly twoPeople: TwoPeople,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    // Pages could not say that they are open while this was stopped.
    const until = openUntil(true, new Date());
    await this.manager.update(
      PendingEntity,
      { state: 'waiting', openUntil: LessThan(until) },
      { openUntil: until },
    );
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async add(
    manager: EntityManager,
    entry: Omit<
      PendingEntity,
      'state' | 'decidedBy' | 'decidedAt' | 'judgedBy' | 'judgedAt' | 'judgedReason'
    >,
  ): Promise<void> {
    await manager.insert(PendingEntity, {
      ...entry,
      state: 'waiting',
      decidedBy: null,
      decidedAt: null,
      judgedBy: null,
      judgedAt: null,
      judgedReason: null,
    });
  }

  /** A person asks somebody to let a blocked movement go; it waits in the place of what was decided before. */
  async askOverride(manager: EntityManager, asked: AskedOverride): Promise<void> {
    const { person, words, incidentNumber, ...entry } = asked;
    const now = new Date();
    await manager.delete(PendingEntity, { id: entry.id });
    await this.add(manager, {
      ...entry,
      incidentNumber,
      kind: 'override',
      person: person.id,
      since: now,
      deadline: null,
      openUntil: null,
      otherwise: 'stays',
      words,
    });
    await manager.insert(HistoryEntity, {
      incidentNumber,
      at: now,
      actor: person.name,
      kind: 'override',
      act: null,
      text: `Override requested: ${words}`,
    });
    await this.mark(manager, { movementId: entry.movementId, incidentNumber }, 'override', 'requested');
  }

  /** An approval that turned out wrong. It stays; the history, the filters and whoever approved it learn of it. */
  async judgeWrong(id: string, reason: string, caller: Caller): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const entry = await manager.findOne(PendingEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      if (entry) await demandVisible(manager, entry.incidentNumber, sightOf(caller));
      if (!entry || entry.kind !== 'override' || entry.state !== 'went-on')
        throw new AppError('not-found', 'There is no approved override here.');
      if (entry.judgedBy !== null)
        throw new AppError('changed-meanwhile', `${entry.judgedBy} already judged this approval.`, {
          details: { by: entry.judgedBy },
        });
      const at = new Date();
      await manager.update(
        PendingEntity,
        { id },
        { judgedBy: caller.name, judgedAt: at, judgedReason: reason },
      );
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber: entry.incidentNumber, at, actor: caller.name, kind: 'override', act: null },
        accountId: caller.accountId || null,
        text: `Approval judged wrong: ${reason}`,
      });
      await this.mark(manager, entry, 'override', 'judged-wrong');
      await this.tellApprover(manager, entry, { reason, by: caller.name, at });
      this.live.publish({ kind: 'incident-changed', number: entry.incidentNumber });
    });
  }

  private async tellApprover(
    manager: EntityManager,
    { decidedBy, incidentNumber }: PendingEntity,
    { reason, by, at }: { readonly reason: string; readonly by: string; readonly at: Date },
  ): Promise<void> {
    // Both, where it took two people.
    const names = (decidedBy ?? '').split(' and ');
    const approvers = await manager.findBy(AccountEntity, { name: In([decidedBy ?? '', ...names]) });
    for (const approver of approvers)
      await this.inside.send(manager, {
        at,
        from: 'incidents@localhost',
        to: approver.email,
        subject: `Your approval of incident ${incidentNumber} was judged wrong`,
        text: `${by} judged the override that you approved for incident ${incidentNumber} wrong: ${reason}`,
      });
  }

  /** Filters find the movement by what was replied or decided. */
  private async mark(
    manager: EntityManager,
    { movementId, incidentNumber }: Pick<PendingEntity, 'movementId' | 'incidentNumber'>,
    field: 'reply' | 'override',
    value: string,
  ): Promise<void> {
    await manager.insert(TraitEntity, { movementId, incidentNumber, field, value });
  }

  /** Somebody with the right to it decides; the person who moved it never does. */
  async decide(
    id: string,
    { goesOn, words }: { readonly goesOn: boolean; readonly words: string },
    caller: Caller,
  ): Promise<void> {
    const first = goesOn ? await this.second(id, caller) : null;
    await this.settle(id, async (entry) => {
      const number = entry.incidentNumber;
      await demandVisible(this.manager, number, sightOf(caller));
      const person = entry.person === NOBODY ? undefined : await this.people.getPerson(entry.person);
      const refusal = whyNot(entry, person, caller, await this.isWithin(entry, caller));
      if (refusal) throw new AppError('not-permitted', REFUSALS[refusal]);
      const by = first ? `${first.by} and ${caller.name}` : caller.name;
      return { state: goesOn ? 'went-on' : 'refused', by, words };
    });
  }

  /** Whether something lies within the limits of the roles with which an account may decide. */
  private async isWithin(entry: PendingEntity, caller: Caller): Promise<boolean> {
    const { incidentNumber } = entry;
    const sight = sightWith(caller, neededFor(entry));
    return (await visibleAmong(this.manager, [incidentNumber], sight)).has(incidentNumber);
  }

  /** Who allowed it first, where that takes two. Only for somebody who may decide: others leave no word. */
  private async second(id: string, caller: Caller): Promise<Consent | null> {
    const entry = await this.manager.findOneBy(PendingEntity, { id, state: 'waiting' });
    const person = entry && entry.person !== NOBODY ? await this.people.getPerson(entry.person) : undefined;
    if (!entry) return null;
    if (whyNot(entry, person, caller, await this.isWithin(entry, caller)) !== null) return null;
    return this.twoPeople.demand('override', id, caller, WAITS);
  }

  /**
   * The person answers the question that was put to them. The caller has made sure that what waits is theirs: somebody
   * outside is none of the directory's people.
   */
  async reply(
    id: string,
    { person, name }: Pick<Player, 'person' | 'name'>,
    { leads, words }: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    await this.settle(id, (entry) => {
      const asked = entry.kind === 'ask' || (entry.kind === 'prove' && leads === 'stays');
      if (entry.person !== (person?.id ?? NOBODY) || !asked)
        throw new AppError('not-found', 'No question is open here.');
      return { state: leads === 'goes-on' ? 'went-on' : 'taken-back', by: name, words };
    });
  }

  /**
   * Runs `check` on a second-factor code for a waiting movement, in one transaction with the entry locked. Codes that arrive
   * at the same time are counted one after the other.
   */
  async prove(
    id: string,
    check: (manager: EntityManager, entry: PendingEntity) => Promise<Proved>,
  ): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const entry = await this.waiting(manager, id);
      const proved = await check(manager, entry);
      if ('outcome' in proved) await this.carryOut(manager, entry, proved.outcome);
      else await this.outcomes.carryOut(manager, { id, state: 'waiting', notice: proved.notice });
      this.live.publish({ kind: 'incident-changed', number: entry.incidentNumber });
    });
  }

  /** The page that asks is open, or says that it closes. Of no effect where no page is asked about. */
  async page(id: string, isOpen: boolean, now: Date): Promise<void> {
    const until = openUntil(isOpen, now);
    await this.manager.update(
      PendingEntity,
      { id, state: 'waiting', openUntil: isOpen ? Not(IsNull()) : MoreThan(until) },
      { openUntil: until },
    );
  }

  /** Carries out what was stated for questions whose time has passed, or whose page is closed. */
  async sweep(now: Date): Promise<void> {
    const due = await this.manager.findBy(PendingEntity, [
      { state: 'waiting', deadline: LessThanOrEqual(now) },
      { state: 'waiting', openUntil: LessThanOrEqual(now) },
    ]);
    for (const { id } of due)
      await this.settle(id, (entry) => this.runOut(entry, now)).catch((error: unknown) => {
        // Somebody replied while this was looking: theirs counts. Whatever else is wrong with one keeps no other back.
        if (!(error instanceof AppError))
          this.log.error(`A pending movement cannot end: ${error instanceof Error ? error.name : 'unknown'}`);
      });
  }

  /** Asked again within the transaction: a page may have been heard of since. */
  private runOut({ deadline, openUntil: page, otherwise }: PendingEntity, now: Date): Outcome {
    const late = deadline !== null && deadline <= now;
    if (!late && (page === null || page > now))
      throw new AppError('changed-meanwhile', 'The page is open again.');
    return {
      state: otherwise === 'goes-on' ? 'went-on' : 'taken-back',
      by: SYSTEM,
      words: late ? 'No reply in time.' : 'The page was closed before a reply.',
    };
  }

  /** Entries for some incidents, for whoever shows them. */
  ofIncidents(numbers: readonly number[]): Promise<PendingEntity[]> {
    return this.manager.findBy(PendingEntity, { incidentNumber: In([...numbers]) });
  }

  private async settle(
    id: string,
    decide: (entry: PendingEntity) => Outcome | Promise<Outcome>,
  ): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const entry = await this.waiting(manager, id);
      const outcome = await decide(entry);
      await this.carryOut(manager, entry, outcome);
      this.live.publish({ kind: 'incident-changed', number: entry.incidentNumber });
    });
  }

  /** What waits, locked. Throws where it ended meanwhile. */
  private async waiting(manager: EntityManager, id: string): Promise<PendingEntity> {
    const entry = await manager.findOne(PendingEntity, {
      where: { id },
      lock: { mode: 'pessimistic_write' },
    });
    if (!entry) throw new AppError('not-found', 'Nothing is pending here.');
    if (entry.state === 'waiting') return entry;
    throw new AppError('changed-meanwhile', `${entry.decidedBy ?? 'Somebody'} already decided about this.`, {
      details: { by: entry.decidedBy ?? '' },
    });
  }

  private async carryOut(manager: EntityManager, entry: PendingEntity, outcome: Outcome): Promise<void> {
    const { state, by, words } = outcome;
    const notice: Partial<PersonNotice> & { readonly state: NoticeState } = {
      ...outcome.notice,
      state,
      decision: { by, words },
    };
    await this.outcomes.carryOut(manager, { id: entry.id, state, notice });
    await manager.update(
      PendingEntity,
      { id: entry.id },
      { state, decidedBy: by.slice(0, 120), decidedAt: new Date() },
    );
    await manager.insert(HistoryEntity, {
      incidentNumber: entry.incidentNumber,
      at: new Date(),
      actor: by.slice(0, 120),
      kind: entry.kind === 'ask' || entry.kind === 'prove' ? 'reply' : 'override',
      act: null,
      text: `${OUTCOMES[state]}: ${words}`,
    });
    if (entry.kind === 'ask') await this.mark(manager, entry, 'reply', replyOf(state, by));
    else if (entry.kind === 'prove') await this.mark(manager, entry, 'reply', proofReplyOf(state, by));
    else if (entry.kind === 'override')
      await this.mark(manager, entry, 'override', state === 'went-on' ? 'approved' : 'refused');
  }
}
