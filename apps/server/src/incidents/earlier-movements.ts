import { createHmac } from 'node:crypto';
import { type EarlierMovement, LONGEST_LOOK_BACK_MINUTES } from '@lantern/core/movement';
import { type Answer, clausesOf, type PolicySet, strength } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../platform/config.js';

/** Movements of one person that are looked back at; a person who moves more in a day is over any rate worth asking. */
const MOST_LOOKED_AT = 2_000;

interface EarlierRow {
  readonly at: Date;
  readonly answer: Answer | null;
  readonly contentDigest: string | null;
  readonly outside: number | null;
}

/** What a person moved before, for conditions over a stretch of time. */
@Injectable()
export class EarlierMovements {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** A keyed digest of content, so that the same tried again is known without keeping it. `digest` is its SHA-256. */
  digestOf(digest: string): string {
    return createHmac('sha256', this.config.keys.installation)
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
    // Asked for every movement: read as it stands, without the cost of entities.
    const found = await this.manager.query<EarlierRow[]>(
      `SELECT at, answer, contentDigest, JSON_CONTAINS(JSON_EXTRACT(recipients, '$[*].outside'), 'true') AS outside
       FROM movement WHERE personAddress = ? AND at BETWEEN ? AND ? ORDER BY at DESC LIMIT ${MOST_LOOKED_AT}`,
      [address, since, at],
    );
    return found.map((movement) => ({
      at: new Date(movement.at).getTime(),
      outside: Number(movement.outside) === 1,
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
