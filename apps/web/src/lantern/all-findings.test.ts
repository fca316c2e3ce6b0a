import type { LanternPart } from '@lantern/contracts';
import { packFindings } from '@lantern/core/detection';
import { cardsFound } from '@lantern/testkit';
import { allFindings } from './all-findings';

const base64 = ({ buffer }: ArrayBufferView) => Buffer.from(buffer).toString('base64');

it('puts together what was sent with evidence and what was sent packed', () => {
  const found = cardsFound(5);
  const { patterns, values, ...arrays } = packFindings(found.slice(2));
  const wire = {
    patterns,
    values,
    which: base64(arrays.which),
    starts: base64(arrays.starts),
    ends: base64(arrays.ends),
    certainties: base64(arrays.certainties),
    lengths: base64(arrays.lengths),
    candidateOf: base64(arrays.candidateOf),
    candidatePatterns: base64(arrays.candidatePatterns),
    candidateShares: base64(arrays.candidateShares),
  };
  const part: LanternPart = {
    ...{ status: 'read', path: ['a.txt'], text: '', cut: false, rows: 0 },
    findings: found.slice(0, 2),
    others: wire,
    published: wire,
  };
  const { drafts, published } = allFindings({
    parts: [part, { status: 'unreadable', path: ['b'], reason: 'corrupt' }],
  });
  const bare = found.map((finding) => ({ ...finding, evidence: [], rivals: [] }));
  expect(drafts).toEqual([[...found.slice(0, 2), ...bare.slice(2)], []]);
  expect(published).toEqual([bare.slice(2), []]);
});
