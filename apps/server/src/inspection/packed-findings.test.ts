import { cardsFound, findingOf } from '@lantern/testkit';
import type { PatternId } from '@lantern/core';
import { FindingQuota, packFindings, unpackFindings } from './packed-findings.js';

it('gives back every finding, less its evidence', () => {
  const findings = [
    ...cardsFound(3),
    findingOf('ДЖ-𝟙', { pattern: 'own' as PatternId, certainty: 100 }),
    findingOf('', { certainty: 0 }),
  ];
  const [back, again] = [unpackFindings(packFindings(findings)), structuredClone(packFindings(findings))];
  expect(back).toEqual(findings.map((finding) => ({ ...finding, evidence: [], rivals: [] })));
  expect(unpackFindings(again)).toEqual(back);
  expect(unpackFindings(packFindings([]))).toEqual([]);
});

describe('FindingQuota', () => {
  it('keeps what still changes a count: the first ones, and values not seen before', () => {
    const quota = new FindingQuota(3);
    const kept = ['a', 'a', 'a', 'a', 'b', 'b', 'c', 'd', 'd'].filter((canonical) =>
      quota.keeps({ pattern: 'p' as PatternId, canonical }),
    );
    expect(kept).toEqual(['a', 'a', 'a', 'b', 'c']);
    expect(quota.keeps({ pattern: 'q' as PatternId, canonical: 'a' })).toBe(true);
  });
});
