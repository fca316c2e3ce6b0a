import type { PatternDetail, PatternSummary } from '@lantern/contracts';
import {
  DEFAULT_WORD_WEIGHT,
  type PatternId,
  type Policy,
  type ReadyPattern,
  type WordListPattern,
} from '@lantern/core';
import { findingPatterns } from '../policies/rule-patterns.js';
import { stateOf } from '../policies/draft-state.js';
import type { OwnPatternEntity } from './own-pattern.entity.js';

/** What a summary says about a pattern beyond the pattern itself. */
export interface PatternUse {
  readonly policies: readonly Policy[];
  readonly published: readonly WordListPattern[];
}

export function toWordList(entity: OwnPatternEntity): WordListPattern {
  const { id, name, about, words } = entity;
  return { origin: 'own', id: id as PatternId, name, kind: 'own-words', about, words };
}

function usedBy(id: string, policies: readonly Policy[]): string[] {
  return policies
    .filter((policy) => policy.rules.some((rule) => findingPatterns(rule).includes(id)))
    .map((policy) => policy.name);
}

export function readySummary(pattern: ReadyPattern, use: PatternUse): PatternSummary {
  const { id, name, kind, countries, about, source } = pattern;
  return {
    id,
    name,
    kind,
    origin: 'ready',
    countries,
    about,
    source,
    usedBy: usedBy(id, use.policies),
    state: 'published',
    words: 0,
  };
}

export function ownSummary(entity: OwnPatternEntity, use: PatternUse): PatternSummary {
  const list = toWordList(entity);
  return {
    id: list.id,
    name: list.name,
    kind: list.kind,
    origin: 'own',
    countries: [],
    about: list.about,
    source: `${list.words.length} own words`,
    usedBy: usedBy(list.id, use.policies),
    state: stateOf(list, use.published),
    words: list.words.length,
  };
}

export function readyDetail(pattern: ReadyPattern, use: PatternUse): PatternDetail {
  const { checkName, accidentalShare, weights, supportingWords, counterWords, examples } = pattern;
  return {
    ...readySummary(pattern, use),
    own: null,
    ready: { checkName, accidentalShare, weights, supportingWords, counterWords, examples },
  };
}

export function ownDetail(entity: OwnPatternEntity, use: PatternUse): PatternDetail {
  const text = entity.words
    .map((word) => (word.weight === DEFAULT_WORD_WEIGHT ? word.text : `${word.text}\t${word.weight}`))
    .join('\n');
  const own = {
    text,
    version: entity.version,
    updatedAt: entity.updatedAt.toISOString(),
    updatedBy: entity.updatedBy,
  };
  return { ...ownSummary(entity, use), ready: null, own };
}
