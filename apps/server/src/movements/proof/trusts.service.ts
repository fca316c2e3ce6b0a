import { randomUUID } from 'node:crypto';
import type { TrustView } from '@lantern/contracts';
import type { InspectedMovement } from '@lantern/core/movement';
import { type ProofAsked, trustPlace } from '@lantern/core/policy';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, MoreThan } from 'typeorm';
import { PeopleService } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { SignOut } from '../../response/sign-out.js';
import { RaisedTrustEntity } from './proof.entity.js';

const EVERYWHERE = 'everywhere';
/** What is over is shown for a while beside what holds. */
const SHOWN = 200;

/** Confirmed identities: for whom, where and until when a second factor is not asked for again. */
@Injectable()
export class Trusts implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly signOut: SignOut,
  ) {}

  onModuleInit(): void {
    this.signOut.offeredBy((manager, address, by) => this.endAll(manager, address, by));
  }

  /** Whether the sender of a movement confirmed their identity recently enough for the rule. */
  async covers(movement: InspectedMovement, { minutes }: ProofAsked): Promise<boolean> {
    if (minutes === 0) return false;
    const now = new Date(movement.at);
    const found = await this.manager.findBy(RaisedTrustEntity, {
      personAddress: movement.sender.address,
      place: In([EVERYWHERE, trustPlace(movement)]),
      until: MoreThan(now),
      endedAt: IsNull(),
    });
    // The minutes of this rule count, not those of the rule that asked.
    return found.some(({ since }) => since <= now && now.getTime() - since.getTime() < minutes * 60_000);
  }

  async raise(
    manager: EntityManager,
    raised: Pick<RaisedTrustEntity, 'personAddress' | 'place' | 'incidentNumber'> & ProofAsked,
    now: Date,
  ): Promise<void> {
    const { personAddress, place, incidentNumber, minutes, trusts } = raised;
    if (minutes === 0) return;
    await manager.insert(RaisedTrustEntity, {
      ...{ id: randomUUID(), personAddress, incidentNumber, since: now, endedAt: null, endedBy: null },
      place: trusts === 'everywhere' ? EVERYWHERE : place,
      until: new Date(now.getTime() + minutes * 60_000),
    });
  }

  /** Trust that holds, then trust that ended last; of one person where one is given. */
  async list(address?: string): Promise<TrustView[]> {
    const found = await this.manager.find(RaisedTrustEntity, {
      where: address === undefined ? {} : { personAddress: address },
      order: { until: 'DESC' },
      take: SHOWN,
    });
    const names = await this.people.namesOf(found.map(({ personAddress }) => personAddress));
    const now = new Date();
    return found.map((each) => ({
      id: each.id,
      person: {
        address: each.personAddress,
        name: names.get(each.personAddress)?.name ?? each.personAddress,
      },
      place: each.place,
      incident: each.incidentNumber,
      since: each.since.toISOString(),
      until: each.until.toISOString(),
      ended: each.endedAt && { at: each.endedAt.toISOString(), by: each.endedBy ?? '' },
      holds: each.endedAt === null && each.until > now,
    }));
  }

  /** Ends all confirmed identities of a person within the caller's transaction. Returns how many there were. */
  private async endAll(manager: EntityManager, address: string, by: string): Promise<number> {
    const ended = await manager.update(
      RaisedTrustEntity,
      { personAddress: address, endedAt: IsNull(), until: MoreThan(new Date()) },
      { endedAt: new Date(), endedBy: by.slice(0, 120) },
    );
    return ended.affected ?? 0;
  }

  /** Ends it before its time; of one person only where one is given. */
  async end(id: string, by: string, address?: string): Promise<void> {
    const changed = await this.manager.update(
      RaisedTrustEntity,
      {
        ...{ id, endedAt: IsNull(), until: MoreThan(new Date()) },
        ...(address === undefined ? {} : { personAddress: address }),
      },
      { endedAt: new Date(), endedBy: by.slice(0, 120) },
    );
    if (!changed.affected) throw new AppError('not-found', 'This ended already.');
    this.live.publish({ kind: 'thing-changed', agent: 'business' });
  }
}
