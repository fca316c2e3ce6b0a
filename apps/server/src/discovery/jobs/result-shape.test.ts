import type { ReadResult } from '@lantern/contracts/discovery';
import { faultOfResult } from './result-shape.js';

const mark = { start: 0, end: 4, pattern: 'payment-card', certainty: 90 };
const excerpt = { part: '', line: 1, text: '•••• 1111', marks: [mark] };
const result: ReadResult = {
  ...{ id: '2a227ab6-c255-4c34-8470-7b6777600160', status: 'read', reason: null, digest: 'a'.repeat(64) },
  ...{ bytes: 5, characters: 5, found: [], excerpts: [excerpt], unreadableParts: [], label: null },
  ...{ suggested: null, labelled: false, refusal: null },
};

it('finds nothing wrong with an honest result', () => {
  expect(faultOfResult(result)).toBeNull();
  expect(faultOfResult({ ...result, label: { id: 'l', name: 'Open water', rank: 1 } })).toBeNull();
});

it.each<[string, object]>([
  ['an id of another kind', { id: 7 }],
  ['a status nobody knows', { status: 'perhaps' }],
  ['a long reason', { reason: 'x'.repeat(61) }],
  ['a digest in capitals', { digest: 'A'.repeat(64) }],
  ['findings that are no list', { found: { length: 1 } }],
  ['too many excerpts', { excerpts: Array.from({ length: 101 }, () => excerpt) }],
  ['a mark beyond its text', { excerpts: [{ ...excerpt, marks: [{ ...mark, end: 10 }] }] }],
  ['a mark that ends before it begins', { excerpts: [{ ...excerpt, marks: [{ ...mark, start: 4 }] }] }],
  ['a mark of half a sign', { excerpts: [{ ...excerpt, marks: [{ ...mark, start: 0.5 }] }] }],
  ['a certainty beyond certain', { excerpts: [{ ...excerpt, marks: [{ ...mark, certainty: 101 }] }] }],
  ['an excerpt as long as a file', { excerpts: [{ ...excerpt, text: 'x'.repeat(4_001) }] }],
  ['parts without a name', { unreadableParts: [{ reason: 'corrupt' }] }],
  ['a label without a rank', { label: { id: 'l', name: 'n' } }],
])('says in a sentence that it has %s, without quoting it', (_name, over) => {
  const fault = faultOfResult({ ...result, ...over } as ReadResult);
  expect(fault).toMatch(/^[A-Z].*\.$/u);
  expect(fault).not.toContain('1111');
});
