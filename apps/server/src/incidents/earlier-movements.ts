import { createHmac } from 'node:crypto';
import { type EarlierMovement, LONGEST_LOOK_BACK_MINUTES } from '@lantern/core/movement';
import { clausesOf, type PolicySet, strength } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { Between, EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../platform/config.js';
import { MovementEntity } from './incident.entity.js';

/** Movements of one person that are looked back at; a person who moves more in a day is over any rate worth asking. */
const MOST_LOOKED_AT = 2_000;

/** What a person moved before, for conditions over a stretch of time. */
@Injectable()
export class EarlierMovements {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** A keyed digest of content, so that the same tried again is known without keeping it. `digest` is its SHA-256. */
  digestOf(digest: string): string {
    return createHmac('sha256', this.config.evidenceKey)
      .update(`content of a movement ${digest}`)
      .digest('hex');
  }

  /** Earlier movements, newest first; none where no rule asks for them. */
  async of(
    address: string,
    at: Date,
    { document, contentDigest }: { readonly document: PolicySet; readonly contentDigest: string | null },
  ): Promise<EarlierMovement[]> {
    if (!asksForThePast(document)) return [];
    const since = new Date(at.getTime() - LONGEST_LOOK_BACK_MINUTES * 60_000);
    const found = await this.manager.find(MovementEntity, {
      where: { personAddress: address, at: Between(since, at) },
      order: { at: 'DESC' },
      take: MOST_LOOKED_AT,
    });
    return found.map((movement) => ({
      at: movement.at.getTime(),
      outside: movement.recipients.some(({ outside }) => outside),
      matched: movement.answer !== null,
      sameStopped:
        movement.answer !== null &&
        strength(movement.answer) >= strength('ask') &&
        contentDigest !== null &&
        movement.contentDigest === contentDigest,
    }));
  }
}

function asksForThePast({ policies }: PolicySet): boolean {
  return policies.some(({ shared, rules }) =>
    [shared, ...rules.flatMap(({ when, unless }) => [when, unless])].some(
      (condition) =>
        condition && clausesOf(condition).some(({ kind }) => kind === 'rate' || kind === 'tries'),
    ),
  );
}
