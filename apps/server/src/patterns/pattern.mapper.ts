import type { DraftState, PatternDetail, PatternSummary } from '@lantern/contracts';
import {
  type AdjustedPattern,
  accidentalShareOf,
  checkNames,
  type ExpressionPattern,
  type OwnPattern,
  type PatternWeights,
  type ReadyPattern,
  type RecordsPattern,
  type WordListPattern,
  writeWordLines,
} from '@lantern/core/detection';
import { type Policy, patternsOfRule } from '@lantern/core/policy';
import { type PatternId } from '@lantern/core/shared';
import { stateOf } from '../published/draft-state.js';
import type { AdjustedPatternEntity } from './adjusted-pattern.entity.js';
import type { RecordSourceEntity } from '../inspection/sources/record-source.entity.js';
import type { OwnPatternEntity } from './own-pattern.entity.js';

/** What a summary says about a pattern beyond the pattern itself. */
export interface PatternUse {
  readonly policies: readonly Policy[];
  readonly published: readonly OwnPattern[];
  readonly adjusted: readonly AdjustedPatternEntity[];
  /** Decided incidents by pattern. */
  readonly decisions: ReadonlyMap<string, Decisions>;
}

/** How incidents with findings of a pattern were decided. */
export interface Decisions {
  readonly decided: number;
  readonly falsePositives: number;
}

export const NO_DECISIONS: Decisions = { decided: 0, falsePositives: 0 };

export function toAdjusted(entity: AdjustedPatternEntity, ready: ReadyPattern): AdjustedPattern {
  return { origin: 'adjusted', id: ready.id, name: ready.name, weights: entity.weights };
}

export function toOwnPattern(entity: OwnPatternEntity): WordListPattern | ExpressionPattern {
  const { name, about, words, expression, threshold, inside } = entity;
  const id = entity.id as PatternId;
  if (expression) return { origin: 'expression', id, name, kind: 'own-expression', about, ...expression };
  const together = threshold === null ? {} : { threshold };
  return {
    origin: 'own',
    id,
    name,
    kind: 'own-words',
    about,
    words,
    ...together,
    ...(inside ? { inside } : {}),
  };
}

export function toRecordsPattern({ id, name, about, shape }: RecordSourceEntity): RecordsPattern {
  return { origin: 'records', id: id as PatternId, name, kind: 'own-records', about, shape };
}

/** Names of policies whose rules look for a pattern. */
export function usedByPolicies(id: string, policies: readonly Policy[]): string[] {
  return policies
    .filter((policy) => policy.rules.some((rule) => patternsOfRule(rule).includes(id)))
    .map((policy) => policy.name);
}

export function readySummary(pattern: ReadyPattern, use: PatternUse): PatternSummary {
  const { id, name, otherNames, kind, countries, about, source } = pattern;
  const adjusted = use.adjusted.find((entity) => entity.id === id);
  return {
    id,
    name,
    otherNames,
    kind,
    origin: 'ready',
    countries,
    about,
    source,
    usedBy: usedByPolicies(id, use.policies),
    state: readyState(pattern, adjusted, use.published),
    words: 0,
    check: checkNames(pattern).join(', '),
    ...(use.decisions.get(id) ?? NO_DECISIONS),
  };
}

function readyState(
  pattern: ReadyPattern,
  adjusted: AdjustedPatternEntity | undefined,
  published: readonly OwnPattern[],
): DraftState {
  if (adjusted)
    return stateOf(toAdjusted(adjusted, pattern), published) === 'published' ? 'published' : 'changed';
  return published.some((own) => own.id === pattern.id) ? 'changed' : 'published';
}

export function ownSummary(entity: OwnPatternEntity, use: PatternUse): PatternSummary {
  const own = toOwnPattern(entity);
  const words = own.origin === 'own' ? own.words.length : 0;
  return {
    id: own.id,
    name: own.name,
    otherNames: [],
    kind: own.kind,
    origin: 'own',
    countries: [],
    about: own.about,
    source: own.origin === 'own' ? `${words} own words` : own.expression,
    usedBy: usedByPolicies(own.id, use.policies),
    state: stateOf(own, use.published),
    words,
    check: own.origin === 'own' ? 'listed words' : own.check === 'none' ? 'an own expression' : own.check,
    ...(use.decisions.get(own.id) ?? NO_DECISIONS),
  };
}

export function readyDetail(pattern: ReadyPattern, use: PatternUse): PatternDetail {
  const { weights, namingWords, supportingWords, counterWords, examples, testValues, recognition } = pattern;
  const adjusted = use.adjusted.find((entity) => entity.id === pattern.id);
  const draftWeights: Partial<PatternWeights> = adjusted?.weights ?? {};
  return {
    ...readySummary(pattern, use),
    own: null,
    records: null,
    documents: null,
    ready: {
      shapes: recognition.by === 'shapes' ? recognition.shapes : [],
      accidentalShare: accidentalShareOf(pattern),
      weights,
      draftWeights,
      version: adjusted?.version ?? 0,
      changedBy: adjusted?.updatedBy ?? null,
      testValues,
      namingWords,
      supportingWords,
      counterWords,
      examples,
    },
  };
}

export function ownDetail(entity: OwnPatternEntity, use: PatternUse): PatternDetail {
  const pattern = toOwnPattern(entity);
  const own = {
    text: writeWordLines(entity.words),
    threshold: entity.threshold,
    inside: entity.inside,
    version: entity.version,
    updatedAt: entity.updatedAt.toISOString(),
    updatedBy: entity.updatedBy,
    expression: pattern.origin === 'expression' ? pattern : null,
  };
  return { ...ownSummary(entity, use), ready: null, own, records: null, documents: null };
}

export function recordsSummary(entity: RecordSourceEntity, use: PatternUse): PatternSummary {
  const pattern = toRecordsPattern(entity);
  const { key, others, needed } = entity.shape;
  return {
    id: pattern.id,
    name: pattern.name,
    otherNames: [],
    kind: pattern.kind,
    origin: 'own',
    countries: [],
    about: pattern.about,
    source: `${entity.report.records} records`,
    usedBy: usedByPolicies(pattern.id, use.policies),
    state: stateOf<OwnPattern>(pattern, use.published),
    words: 0,
    check: `${key.name} and ${needed} of ${others.length}`,
    ...(use.decisions.get(pattern.id) ?? NO_DECISIONS),
  };
}

export function recordsDetail(entity: RecordSourceEntity, use: PatternUse): PatternDetail {
  const { shape, report, version, updatedAt, updatedBy } = entity;
  const records = { shape, report, version, updatedAt: updatedAt.toISOString(), updatedBy };
  return { ...recordsSummary(entity, use), ready: null, own: null, records, documents: null };
}
