import type { NoticeState, PersonNotice } from '@lantern/contracts';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, LessThan, LessThanOrEqual, MoreThan, Not } from 'typeorm';
import { StandingApprovals } from '../approvals/standing-approvals.service.js';
import { Outcomes } from '../outcomes.js';
import { HistoryEntity } from '../../incidents/incident.entity.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { TraitEntity } from '../../incidents/queue/trait.entity.js';
import { demandVisible, visibleAmong } from '../../incidents/visible.js';
import { type Consent, TwoPeople } from '../../accounts/access/two-people.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { sightOf, sightWith } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { openUntil } from './open-pages.js';
import { PendingMails } from './pending-mails.service.js';
import { NOBODY, PendingEntity, type PendingState } from './pending.entity.js';
import {
  neededFor,
  NEXT_WORDS,
  OUTCOMES,
  proofReplyOf,
  REFUSALS,
  replyOf,
  subjectOf,
  SYSTEM,
  whyNot,
} from './pending-words.js';

/** How often deadlines are looked at: well below the minute in which they are stated. */
const SWEEP_MS = 15_000;
const WAITS =
  'Your approval is kept for 24 hours. The movement still waits. A second person with the permission must also allow it.';

/** What somebody asks to be let go, and whom. */
export interface AskedOverride extends Pick<
  PendingEntity,
  'id' | 'movementId' | 'incidentNumber' | 'channel' | 'decides' | 'approvers' | 'words'
> {
  readonly person: PersonEntity;
}

/** What a code led to: an end, or only a changed notice. */
export type Proved = { readonly outcome: Outcome } | { readonly notice: Partial<PersonNotice> };

/** What an approver decides. `standing` allows the same for so many days from now. */
export interface Decision {
  readonly goesOn: boolean;
  readonly words: string;
  readonly standing?: { readonly days: number; readonly to: readonly string[] } | undefined;
}

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
    private readonly mails: PendingMails,
    private readonly twoPeople: TwoPeople,
    private readonly approvals: StandingApprovals,
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
      nextDecides: null,
      nextMinutes: null,
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
      await this.approvals.endOf(manager, entry.incidentNumber, { by: caller.name, words: reason });
      await this.mails.approverWasWrong(manager, entry, { reason, by: caller.name, at });
      this.live.publish({ kind: 'incident-changed', number: entry.incidentNumber });
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

  /** Somebody with the right to it decides, also for the same in days to come; the person who moved it never does. */
  async decide(id: string, { goesOn, words, standing }: Decision, caller: Caller): Promise<void> {
    if (standing && !goesOn)
      throw new AppError('invalid-request', 'The movement is refused, so the same cannot be allowed later.');
    const first = goesOn ? await this.second(id, caller, standing) : null;
    await this.settle(id, async (entry, manager) => {
      const number = entry.incidentNumber;
      await demandVisible(this.manager, number, sightOf(caller));
      const person = entry.person === NOBODY ? undefined : await this.people.getPerson(entry.person);
      const refusal = whyNot(entry, person, caller, await this.isWithin(entry, caller));
      if (refusal) throw new AppError('not-permitted', REFUSALS[refusal]);
      const by = first ? `${first.by} and ${caller.name}` : caller.name;
      const outcome = { state: goesOn ? 'went-on' : 'refused', by, words } as const;
      if (!standing) return outcome;
      if (!person)
        throw new AppError(
          'act-refused',
          'The sender is not in the directory, so the same cannot be allowed later.',
        );
      const moved = { ...entry, person: person.address };
      const until = await this.approvals.give(manager, moved, standing, { by, words });
      return { ...outcome, notice: { again: { until: until.toISOString(), once: false } } };
    });
  }

  /** Whether something lies within the limits of the roles with which an account may decide. */
  private async isWithin(entry: PendingEntity, caller: Caller): Promise<boolean> {
    const { incidentNumber } = entry;
    const sight = sightWith(caller, neededFor(entry));
    return (await visibleAmong(this.manager, [incidentNumber], sight)).has(incidentNumber);
  }

  /** Who allowed it first, where that takes two. Only for somebody who may decide: others leave no word. */
  private async second(id: string, caller: Caller, standing: Decision['standing']): Promise<Consent | null> {
    const entry = await this.manager.findOneBy(PendingEntity, { id, state: 'waiting' });
    const person = entry && entry.person !== NOBODY ? await this.people.getPerson(entry.person) : undefined;
    if (!entry) return null;
    if (whyNot(entry, person, caller, await this.isWithin(entry, caller)) !== null) return null;
    const subject = subjectOf(id, standing);
    return entry.approvers > 1
      ? this.twoPeople.demandAlways('override', subject, caller, WAITS)
      : this.twoPeople.demand('override', subject, caller, WAITS);
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
    for (const { id, nextDecides } of due)
      await (nextDecides ? this.handOn(id, now) : this.settle(id, (entry) => this.runOut(entry, now))).catch(
        (error: unknown) => {
          // Somebody replied while this was looking: theirs counts. Whatever else is wrong with one keeps no other back.
          if (!(error instanceof AppError))
            this.log.error(
              `A pending movement cannot end: ${error instanceof Error ? error.name : 'unknown'}`,
            );
        },
      );
  }

  /** Nobody decided about what is held: the next in line has as long again. */
  private async handOn(id: string, now: Date): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const entry = await this.waiting(manager, id);
      const { nextDecides: decides, nextMinutes, incidentNumber } = entry;
      if (!decides || (entry.deadline !== null && entry.deadline > now)) return;
      const deadline = new Date(now.getTime() + (nextMinutes ?? 0) * 60_000);
      await manager.update(
        PendingEntity,
        { id },
        { decides, deadline, nextDecides: null, nextMinutes: null },
      );
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber, at: now, actor: SYSTEM, kind: 'override', act: null },
        text: `Nobody decided in time. ${NEXT_WORDS[decides]} decide now.`,
      });
      await this.mails.nextInLine(manager, { ...entry, decides, deadline });
      this.live.publish({ kind: 'incident-changed', number: incidentNumber });
    });
  }

  /** Asked again within the transaction: a page may have been heard of since. */
  private runOut({ kind, deadline, openUntil: page, otherwise }: PendingEntity, now: Date): Outcome {
    const late = deadline !== null && deadline <= now;
    if (!late && (page === null || page > now))
      throw new AppError('changed-meanwhile', 'The page is open again.');
    return {
      state: otherwise === 'goes-on' ? 'went-on' : 'taken-back',
      by: SYSTEM,
      words: late
        ? kind === 'hold'
          ? 'No decision in time.'
          : 'No reply in time.'
        : 'The page was closed before a reply.',
    };
  }

  /** Entries for some incidents, for whoever shows them. */
  ofIncidents(numbers: readonly number[]): Promise<PendingEntity[]> {
    return this.manager.findBy(PendingEntity, { incidentNumber: In([...numbers]) });
  }

  private async settle(
    id: string,
    decide: (entry: PendingEntity, manager: EntityManager) => Outcome | Promise<Outcome>,
  ): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const entry = await this.waiting(manager, id);
      const outcome = await decide(entry, manager);
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
