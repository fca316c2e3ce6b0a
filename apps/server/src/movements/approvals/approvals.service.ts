import type { ApprovalState, StandingApprovalView } from '@lantern/contracts/approvals';
import { MAX_APPROVAL_DAYS } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { type Consent, TwoPeople } from '../../accounts/access/two-people.service.js';
import { PeopleService } from '../../directory/people.service.js';
import { KnownNames } from '../../incidents/known-names.service.js';
import { holding } from '../../platform/auth/grants.js';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { StandingApprovalEntity } from './standing-approval.entity.js';
import { StandingApprovals } from './standing-approvals.service.js';

/** Approvals that are listed, the newest first. */
const LISTED = 500;
const DAY_MS = 86_400_000;
const EXTENDED =
  'Your approval is kept for 24 hours. The end has not changed yet. A second person must make the same change.';

/** Standing approvals as the workbench lists, changes and ends them. */
@Injectable()
export class ApprovalsDesk {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly approvals: StandingApprovals,
    private readonly people: PeopleService,
    private readonly names: KnownNames,
    private readonly twoPeople: TwoPeople,
    private readonly live: LiveEvents,
  ) {}

  async list(caller: Caller): Promise<StandingApprovalView[]> {
    const latest = await this.manager.find(StandingApprovalEntity, {
      ...{ where: { latest: true }, order: { since: 'DESC' }, take: LISTED },
    });
    const all = await this.manager.find(StandingApprovalEntity, {
      ...{ where: { id: In(latest.map(({ id }) => id)) }, order: { version: 'DESC' } },
    });
    const names = await this.people.namesOf(latest.map(({ person }) => person));
    return latest.map((entity) => ({
      ...{ id: entity.id, state: stateOf(entity), channel: entity.channel, incident: entity.incidentNumber },
      person: { address: entity.person, name: names.get(entity.person)?.name ?? entity.person },
      rules: entity.rules.map((id) => ({ id, name: this.names.nameOf('rule', id) })),
      ...{ once: entity.content !== null, since: entity.since.toISOString() },
      versions: all.filter(({ id }) => id === entity.id).map(versionOf),
      refusal: whyNot(entity, caller),
    }));
  }

  /** A later end takes as many people as the approval did. */
  async change(
    id: string,
    { until, to, words }: { readonly until: string; readonly to: readonly string[]; readonly words: string },
    caller: Caller,
  ): Promise<void> {
    const end = new Date(until);
    const now = await this.demand(id, caller);
    if (end.getTime() > Date.now() + MAX_APPROVAL_DAYS * DAY_MS)
      throw new AppError('invalid-request', `An approval ends within ${MAX_APPROVAL_DAYS} days.`);
    if (end <= new Date())
      throw new AppError('invalid-request', 'This end is in the past. End the approval instead.');
    const strange = to.find((each) => !now.destinations.includes(each));
    if (strange !== undefined)
      throw new AppError(
        'invalid-request',
        `"${strange}" was not approved. Destinations can only be removed.`,
      );
    if (now.destinations.length > 0 && to.length === 0)
      throw new AppError('invalid-request', 'Leave at least one destination, or end the approval.');
    if (now.content !== null)
      throw new AppError('act-refused', 'An approval for one repeat can only be ended.');
    const first = end > now.until ? await this.second(now, end, caller) : null;
    const by = first ? `${first.by} and ${caller.name}` : caller.name;
    await this.manager.transaction((manager) =>
      this.approvals.revise(manager, id, () => ({ change: 'changed', by, words, until: end, to: [...to] })),
    );
    this.live.publish({ kind: 'incident-changed', number: now.incidentNumber });
  }

  /** Who allowed the later end first, where that takes two. */
  private second(
    { id, approvers }: StandingApprovalEntity,
    end: Date,
    caller: Caller,
  ): Promise<Consent | null> {
    const subject = `${id} ${end.toISOString().slice(0, 16)}`;
    return approvers > 1
      ? this.twoPeople.demandAlways('override', subject, caller, EXTENDED)
      : this.twoPeople.demand('override', subject, caller, EXTENDED);
  }

  async end(id: string, words: string, caller: Caller): Promise<void> {
    const now = await this.demand(id, caller);
    await this.manager.transaction((manager) =>
      this.approvals.revise(manager, id, () => ({
        change: 'ended',
        by: caller.name,
        words,
        until: new Date(),
      })),
    );
    this.live.publish({ kind: 'incident-changed', number: now.incidentNumber });
  }

  private async demand(id: string, caller: Caller): Promise<StandingApprovalEntity> {
    const found = await this.manager.findOneBy(StandingApprovalEntity, { id, latest: true });
    if (!found) throw new AppError('not-found', 'There is no such approval.');
    const refusal = whyNot(found, caller);
    if (refusal === 'own') throw new AppError('not-permitted', 'You cannot decide about your own movements.');
    if (refusal) throw new AppError('not-permitted', 'Your account may not change approvals.');
    return found;
  }
}

function whyNot({ person }: StandingApprovalEntity, caller: Caller): StandingApprovalView['refusal'] {
  const held = holding(caller.grants, 'overrides.decide');
  if (held.length === 0) return 'not-permitted';
  const acting = [caller.email, ...held.map(({ inPlaceOf }) => inPlaceOf)];
  return acting.some((one) => one?.toLowerCase() === person) ? 'own' : null;
}

function stateOf({ change, until, usedBy }: StandingApprovalEntity): ApprovalState {
  if (usedBy !== null) return 'used';
  if (change === 'ended') return 'ended';
  return until > new Date() ? 'in-force' : 'over';
}

function versionOf(entity: StandingApprovalEntity): StandingApprovalView['versions'][number] {
  const { version, change, at, by, words, destinations, until } = entity;
  return { version, change, at: at.toISOString(), by, words, to: destinations, until: until.toISOString() };
}
