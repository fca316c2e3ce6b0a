import { randomUUID } from 'node:crypto';
import type { Channel, InspectedMovement } from '@lantern/core/movement';
import {
  approvalsUsed,
  destinationsToApprove,
  MAX_APPROVAL_DAYS,
  namesFor,
  type StandingApproval,
  type Verdict,
  withApprovals,
} from '@lantern/core/policy';
import type { RuleId } from '@lantern/core/shared';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, LessThanOrEqual, MoreThan } from 'typeorm';
import { HistoryEntity, MatchEntity, MovementEntity } from '../../incidents/incident.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { StandingApprovalEntity } from './standing-approval.entity.js';

const DAY_MS = 86_400_000;
/** Time for the one repeat of what could not be held back: the page or program is still open. */
const REPEAT_WITHIN_MS = 60 * 60_000;

/** The movement that an approval is about. */
export interface ApprovedMovement {
  readonly movementId: string;
  readonly incidentNumber: number;
  readonly channel: Channel;
  /** Address of whoever moved it. */
  readonly person: string;
  /** People who must allow it. */
  readonly approvers: number;
}

export interface Approver {
  readonly by: string;
  readonly words: string;
}

/** Gives standing approvals and applies them. They act at once: each movement looks up what is in force. */
@Injectable()
export class StandingApprovals {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** The verdict with the approvals in force applied. */
  async applied(verdict: Verdict, movement: InspectedMovement, content: string | null): Promise<Verdict> {
    if (!verdict.matches.some(({ answer }) => answer === 'hold' || answer === 'block')) return verdict;
    const at = new Date(movement.at);
    const found = await this.manager.findBy(StandingApprovalEntity, {
      ...{ person: movement.sender.address.toLowerCase(), latest: true, channel: movement.channel },
      ...{ until: MoreThan(at), since: LessThanOrEqual(at), usedBy: IsNull() },
    });
    return withApprovals(verdict, movement, found.map(asApproval), content);
  }

  /**
   * Marks one-time approvals as used, within the transaction that records the movement. Throws `changed-meanwhile` where
   * another movement used one first.
   */
  async use(manager: EntityManager, verdict: Verdict, movementId: string): Promise<void> {
    const used = approvalsUsed(verdict);
    if (used.length === 0) return;
    const once = await manager.find(StandingApprovalEntity, {
      where: { id: In([...used]), latest: true },
      lock: { mode: 'pessimistic_write' },
    });
    for (const { id, version, content, usedBy } of once) {
      if (content === null) continue;
      if (usedBy !== null)
        throw new AppError('changed-meanwhile', 'The one repeat that was allowed is used up.');
      await manager.update(StandingApprovalEntity, { id, version }, { usedBy: movementId });
    }
  }

  /** Allows the same for some days. Throws `invalid-request` for destinations that the movement does not have. */
  async give(
    manager: EntityManager,
    moved: ApprovedMovement,
    { days, to }: { readonly days: number; readonly to: readonly string[] },
    approver: Approver,
  ): Promise<Date> {
    const destinations = await destinationsOf(manager, moved.movementId);
    const nameable = new Set(destinations.flatMap(namesFor));
    const strange = to.find((each) => !nameable.has(each.toLowerCase()));
    if (strange !== undefined)
      throw new AppError('invalid-request', `This movement does not go to "${strange}".`);
    if (destinations.length > 0 && to.length === 0)
      throw new AppError('invalid-request', 'Choose at least one destination that stays allowed.');
    const until = new Date(Date.now() + Math.min(days, MAX_APPROVAL_DAYS) * DAY_MS);
    const given = await this.insert(manager, moved, approver, { to, until, content: null });
    if (!given)
      throw new AppError(
        'act-refused',
        'No rule held or blocked this movement, so there is nothing to allow later.',
      );
    return until;
  }

  /** Allows one repeat of the same content within an hour; null if the content is not known. */
  async allowRepeat(
    manager: EntityManager,
    moved: ApprovedMovement,
    approver: Approver,
  ): Promise<Date | null> {
    const { contentDigest } = await manager.findOneOrFail(MovementEntity, {
      where: { id: moved.movementId },
      select: { id: true, contentDigest: true },
    });
    if (contentDigest === null) return null;
    const until = new Date(Date.now() + REPEAT_WITHIN_MS);
    const to = await destinationsOf(manager, moved.movementId);
    return (await this.insert(manager, moved, approver, { to, until, content: contentDigest }))
      ? until
      : null;
  }

  /** Ends the approvals that came from the override of an incident. */
  async endOf(manager: EntityManager, incidentNumber: number, approver: Approver): Promise<void> {
    const found = await manager.findBy(StandingApprovalEntity, {
      ...{ incidentNumber, latest: true, until: MoreThan(new Date()) },
    });
    for (const { id } of found)
      await this.revise(manager, id, () => ({ ...approver, change: 'ended', until: new Date() }));
  }

  /** Adds a version that says what changes; the ones before it stay as they were. Throws `not-found` where it is over. */
  async revise(
    manager: EntityManager,
    id: string,
    changed: (
      now: StandingApprovalEntity,
    ) => Pick<StandingApprovalEntity, 'change' | 'by' | 'words' | 'until'> & { readonly to?: string[] },
  ): Promise<void> {
    const now = await manager.findOne(StandingApprovalEntity, {
      where: { id, latest: true },
      lock: { mode: 'pessimistic_write' },
    });
    if (!now || now.until <= new Date() || now.usedBy !== null)
      throw new AppError('not-found', 'This approval is over. It stays in the list as it was.');
    const { to = now.destinations, ...next } = changed(now);
    await manager.update(StandingApprovalEntity, { id, version: now.version }, { latest: false });
    await manager.insert(StandingApprovalEntity, {
      ...{ ...now, ...next, destinations: to, version: now.version + 1, at: new Date() },
    });
    const what = next.change === 'ended' ? 'ended' : 'changed';
    await note(manager, now.incidentNumber, next, `Standing approval ${what}: ${next.words}`);
  }

  private async insert(
    manager: EntityManager,
    { movementId: _movement, person, ...moved }: ApprovedMovement,
    { by, words }: Approver,
    {
      to,
      ...terms
    }: { readonly to: readonly string[]; readonly until: Date; readonly content: string | null },
  ): Promise<boolean> {
    const matches = await manager.findBy(MatchEntity, {
      ...{ incidentNumber: moved.incidentNumber, answer: In(['hold', 'block']) },
    });
    const rules = [...new Set(matches.flatMap(({ ruleId }) => ruleId ?? []))];
    if (rules.length === 0) return false;
    const at = new Date();
    await manager.insert(StandingApprovalEntity, {
      ...{ ...moved, ...terms, id: randomUUID(), version: 1, latest: true, change: 'given', usedBy: null },
      ...{ person: person.toLowerCase(), rules, destinations: [...to], since: at, at, words },
      by: by.slice(0, 120),
    });
    const once = terms.content === null ? '' : ' once';
    const until = `${terms.until.toISOString().slice(0, 16).replace('T', ' ')} UTC`;
    await note(manager, moved.incidentNumber, { by }, `The same is allowed${once} until ${until}`);
    return true;
  }
}

async function destinationsOf(manager: EntityManager, movementId: string): Promise<string[]> {
  const { recipients, way } = await manager.findOneOrFail(MovementEntity, {
    where: { id: movementId },
    select: { id: true, recipients: true, way: true },
  });
  return destinationsToApprove({ recipients, into: way?.into });
}

function note(
  manager: EntityManager,
  incidentNumber: number,
  { by }: Pick<Approver, 'by'>,
  text: string,
): Promise<unknown> {
  return manager.insert(HistoryEntity, {
    ...{ incidentNumber, at: new Date(), actor: by.slice(0, 120), kind: 'override', act: null, text },
  });
}

function asApproval(entity: StandingApprovalEntity): StandingApproval {
  const { id, version, person, channel, destinations, content, by } = entity;
  const times = { since: entity.since.getTime(), until: entity.until.getTime() };
  return {
    id,
    version,
    person,
    channel,
    content,
    by,
    ...times,
    to: destinations,
    rules: entity.rules as RuleId[],
  };
}
