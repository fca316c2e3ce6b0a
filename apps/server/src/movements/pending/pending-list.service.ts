import type { WaitingView } from '@lantern/contracts';
import { destinationsToApprove } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { TwoPeople } from '../../accounts/access/two-people.service.js';
import { PeopleService } from '../../directory/people.service.js';
import { MovementEntity } from '../../incidents/incident.entity.js';
import { visibleAmong, visibleIncidents } from '../../incidents/visible.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf, sightWith } from '../../platform/auth/sight.js';
import { likeAnywhere } from '../../platform/database/like.js';
import { PendingEntity } from './pending.entity.js';
import { daysAgreed, whyNot } from './pending-words.js';

/** What is shown of the past beside what waits. */
const SHOWN = 500;

/** What waits and what was decided, as far as somebody may see it. */
@Injectable()
export class PendingList {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly twoPeople: TwoPeople,
  ) {}

  /** What waits and what was decided, the newest first. A search goes through everything that there ever was. */
  async list(caller: Caller, search = ''): Promise<WaitingView[]> {
    const found = await this.found(search, sightOf(caller));
    const people = new Map((await this.people.all()).map((person) => [person.id, person]));
    const numbers = found.map(({ incidentNumber }) => incidentNumber);
    const [byApprovers, byAuthors] = await Promise.all(
      (['overrides.decide', 'policies.write'] as const).map((permission) =>
        visibleAmong(this.manager, numbers, sightWith(caller, permission)),
      ),
    );
    const agreed = await this.twoPeople.waiting(
      'override',
      found.flatMap(({ id, state }) => (state === 'waiting' ? [id] : [])),
      found.flatMap(({ id, state, approvers }) => (state === 'waiting' && approvers > 1 ? [id] : [])),
    );
    const destinations = await this.destinations(found);
    return found.map((entry) => {
      const within = entry.decides === 'authors' ? byAuthors : byApprovers;
      const person = people.get(entry.person);
      const { id, kind, state, incidentNumber: incident, channel, otherwise, words, decidedBy } = entry;
      return {
        id,
        kind,
        state,
        incident,
        channel,
        person: { name: person?.name ?? '', address: person?.address ?? '' },
        since: entry.since.toISOString(),
        deadline: entry.deadline?.toISOString() ?? null,
        whileOpen: entry.openUntil !== null,
        otherwise,
        words,
        decidedBy,
        agreedBy: agreed.get(id)?.by ?? null,
        ...agreedFor(agreed.get(id)?.subject),
        decides: entry.decides,
        next: entry.nextDecides,
        destinations: destinations.get(entry.movementId) ?? [],
        decidedAt: entry.decidedAt?.toISOString() ?? null,
        refusal: whyNot(entry, person, caller, within?.has(incident) ?? false),
        judgedWrong:
          entry.judgedBy !== null
            ? {
                by: entry.judgedBy,
                at: entry.judgedAt?.toISOString() ?? '',
                reason: entry.judgedReason ?? '',
              }
            : null,
      };
    });
  }

  /** Where those go that somebody may still allow for a time. */
  private async destinations(found: readonly PendingEntity[]): Promise<ReadonlyMap<string, string[]>> {
    const waiting = found.filter(({ state, kind }) => state === 'waiting' && kind !== 'ask');
    if (waiting.length === 0) return new Map();
    const moved = await this.manager.find(MovementEntity, {
      where: { id: In(waiting.map(({ movementId }) => movementId)) },
      select: { id: true, recipients: true, way: true },
    });
    return new Map(
      moved.map(({ id, recipients, way }) => [id, destinationsToApprove({ recipients, into: way?.into })]),
    );
  }

  private async found(search: string, sight: Sight): Promise<PendingEntity[]> {
    const visible = visibleIncidents(sight);
    const sought =
      search === ''
        ? { sql: 'TRUE', values: [] }
        : {
            sql: '(p.words LIKE ? OR p.decidedBy LIKE ? OR who.name LIKE ? OR who.address LIKE ?)',
            values: Array.from({ length: 4 }, () => likeAnywhere(search)),
          };
    const rows = await this.manager.query<{ id: string }[]>(
      `SELECT p.id AS id FROM pending_movement p JOIN incident i ON i.number = p.incidentNumber
       LEFT JOIN person who ON who.id = p.person
       WHERE ${visible.sql} AND ${sought.sql} ORDER BY p.since DESC LIMIT ${SHOWN}`,
      [...visible.values, ...sought.values],
    );
    return this.manager.find(PendingEntity, {
      where: { id: In(rows.map(({ id }) => id)) },
      order: { since: 'DESC' },
    });
  }
}

/** For how many days the first of two people allowed the same, where they did. */
function agreedFor(subject: string | undefined): Pick<WaitingView, 'agreedForDays'> {
  const days = subject === undefined ? null : daysAgreed(subject);
  return days === null ? {} : { agreedForDays: days };
}
