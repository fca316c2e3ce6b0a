import type { PatternDetail, PatternSummary } from '@lantern/contracts';
import type { DocumentsPattern, OwnPattern } from '@lantern/core/detection';
import type { PatternId } from '@lantern/core/shared';
import { stateOf } from '../../published/draft-state.js';
import { NO_DECISIONS, type PatternUse, usedByPolicies } from '../pattern.mapper.js';
import type {
  DocumentPatternEntity,
  DocumentSampleEntity,
} from '../../inspection/sources/document-pattern.entity.js';

export function toDocumentsPattern(entity: DocumentPatternEntity): DocumentsPattern {
  const { name, about, learns, leastShare } = entity;
  const id = entity.id as PatternId;
  return { origin: 'documents', id, name, kind: 'own-documents', about, learns, leastShare };
}

export function documentsSummary(entity: DocumentPatternEntity, use: PatternUse): PatternSummary {
  const pattern = toDocumentsPattern(entity);
  return {
    id: pattern.id,
    name: pattern.name,
    otherNames: [],
    kind: pattern.kind,
    origin: 'own',
    countries: [],
    about: pattern.about,
    source: 'sample documents',
    usedBy: usedByPolicies(pattern.id, use.policies),
    state: stateOf<OwnPattern>(pattern, use.published),
    words: 0,
    check:
      pattern.learns === 'likeness'
        ? `${Math.round(pattern.leastShare * 100)} % of a sample reappears`
        : 'learnt from samples',
    ...(use.decisions.get(pattern.id) ?? NO_DECISIONS),
  };
}

export function documentsDetail(
  entity: DocumentPatternEntity,
  samples: readonly DocumentSampleEntity[],
  use: PatternUse,
): PatternDetail {
  const { learns, leastShare, report, version, updatedAt, updatedBy } = entity;
  const documents = {
    learns,
    leastShare,
    report,
    version,
    updatedAt: updatedAt.toISOString(),
    updatedBy,
    samples: samples.map(({ id, name, side, characters, fingerprints, certainty }) => ({
      id,
      name,
      side,
      characters,
      fingerprints,
      certainty,
    })),
  };
  return { ...documentsSummary(entity, use), ready: null, own: null, records: null, documents };
}
