import { cardsFound, findingOf } from '@lantern/testkit';
import type { PatternId } from '../../shared/brand.js';
import { packFindings, unpackFindings } from './packed-findings.js';

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
