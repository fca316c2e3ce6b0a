import { randomUUID } from 'node:crypto';
import type { PatternDetail } from '@lantern/contracts';
import type { WeightsLearnedView } from '@lantern/contracts/insight';
import { MAX_WEIGHT, type Pattern, patternSet, type PatternWeights } from '@lantern/core/detection';
import type { Outcome } from '@lantern/core/incidents';
import {
  type DecidedFinding,
  LEAST_DECISIONS,
  type LearnedWeights,
  learnWeights,
} from '@lantern/core/insight';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { compiled } from '../../platform/processes/compiled.js';
import { ChangedPattern } from '../../patterns/changed-pattern.service.js';
import { OwnPatternsService } from '../../patterns/own-patterns.service.js';
import { PatternsService } from '../../patterns/patterns.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Recent } from '../recent.js';
import { keptRows, LOOK_BACK_DAYS } from '../kept-movements.js';
import { JournalPool } from '../journal-pool.js';
import type { FindingEvidence, TextsRow, WeightsData } from './weights-tasks.js';

/** Decisions that are learned from, the newest first. */
const MOST_DECISIONS = 3_000;
const DAY_MS = 86_400_000;

interface Computed {
  readonly pattern: string;
  readonly learned: LearnedWeights | null;
}

/** Weights of a pattern's evidence, re-estimated from what analysts decided about its findings. */
@Injectable()
export class WeightsFromDecisions {
  private readonly computed = new Recent<Computed>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly own: OwnPatternsService,
    private readonly patterns: PatternsService,
    private readonly changed: ChangedPattern,
  ) {}

  /** Throws `not-found` for a pattern without weights: words, records and documents have none of this kind. */
  async view(id: string, caller: Caller): Promise<WeightsLearnedView> {
    const pattern = await this.drafted(id);
    const decided = await this.decided(id, sightOf(caller));
    const rows = await keptRows(
      { manager: this.manager, keys: this.config.keys },
      decided.map(({ movementId }) => movementId),
      true,
    );
    const withTexts = [...rows.values()].flatMap(({ id: movement, key, sealedTexts }) =>
      sealedTexts ? [{ id: movement, key, sealedTexts }] : [],
    );
    const evidence = await this.evidence(pattern, withTexts);
    const findings = decided.flatMap(({ number, movementId, outcome }): DecidedFinding[] => {
      const found = evidence.get(movementId);
      return found ? [{ id: `incident ${number}`, evidence: found, real: outcome !== 'false-positive' }] : [];
    });
    const learned = learnWeights(findings, weightsOf(pattern), MAX_WEIGHT);
    const computed = randomUUID();
    this.computed.keep(computed, caller.accountId, { pattern: id, learned });
    return {
      ...{ computed, pattern: { id, name: pattern.name }, read: findings.length, decided: decided.length },
      ...{ learned, needed: LEAST_DECISIONS },
    };
  }

  /** Writes learned weights into the draft; they are published like anything else. */
  async take(computed: string, caller: Caller): Promise<PatternDetail> {
    const known = this.computed.find(computed, caller.accountId);
    if (!known.learned) throw new AppError('not-found', 'Too few decisions were there to learn from.');
    const learned = Object.fromEntries(
      known.learned.weights.map(({ name, learned: weight }) => [name, weight]),
    );
    const { ready } = await this.patterns.get(known.pattern);
    if (ready) {
      const weights = { ...ready.weights, ...ready.draftWeights, ...learned };
      return this.patterns.saveWeights(known.pattern, { weights, version: ready.version }, caller);
    }
    return this.changed.save(
      known.pattern,
      (pattern) =>
        pattern.origin === 'expression' ? { ...pattern, weights: { ...pattern.weights, ...learned } } : null,
      caller,
    );
  }

  private async drafted(id: string): Promise<Pattern> {
    const pattern = patternSet(await this.own.drafts()).find((each) => each.id === id);
    if (!pattern || !('weights' in pattern))
      throw new AppError('not-found', 'Only ready patterns and own expressions have weights to learn.');
    return pattern;
  }

  private async decided(
    pattern: string,
    sight: Sight,
  ): Promise<{ number: number; movementId: string; outcome: Outcome }[]> {
    return this.manager.query(
      `SELECT i.number AS number, i.movementId AS movementId, i.outcome AS outcome
       FROM movement_trait t JOIN incident i ON i.number = t.incidentNumber
       WHERE t.field = 'pattern' AND t.value = ? AND i.outcome IS NOT NULL AND i.test = 0 AND i.at >= ?
       ${sight.silent ? '' : 'AND i.silent = 0 AND t.silent = 0'} ORDER BY i.at DESC LIMIT ?`,
      [pattern, new Date(Date.now() - LOOK_BACK_DAYS * DAY_MS), MOST_DECISIONS],
    );
  }

  private async evidence(
    pattern: Pattern,
    rows: readonly TextsRow[],
  ): Promise<Map<string, FindingEvidence | null>> {
    const data: WeightsData = { pattern };
    const pool = new JournalPool(compiled('./weights-tasks.js', import.meta.url), data);
    try {
      return await pool.each<TextsRow, FindingEvidence | null>('evidence', rows);
    } finally {
      pool.destroy();
    }
  }
}

function weightsOf(pattern: Pattern): Partial<PatternWeights> {
  return 'weights' in pattern ? pattern.weights : {};
}
