import type { SampleView } from '@lantern/contracts';
import { type Learning, refusalOf, shareOf, withFiles } from './learning';

const file = (name: string, size = 1) => new File(['x'.repeat(size)], name);
const files = (count: number) => Array.from({ length: count }, (_unused, index) => file(`${index}.txt`));
const learning = (changes: Partial<Learning> = {}): Learning => ({
  name: 'Contracts',
  learns: 'likeness',
  share: '30',
  files: { like: files(1), unlike: [] },
  dropped: new Set(),
  ...changes,
});
const sample = (id: string, side: SampleView['side']): SampleView => ({
  id,
  name: id,
  side,
  characters: 1,
  fingerprints: null,
  certainty: null,
});

describe('shareOf', () => {
  it.each([
    ['30', 0.3],
    ['5', 0.05],
    ['100', 1],
    ['4', null],
    ['101', null],
    ['12.5', null],
    ['', null],
    ['half', null],
  ])('reads %s', (typed, share) => expect(shareOf(typed)).toBe(share));
});

describe('refusalOf', () => {
  it.each([
    ['nothing to say', learning(), [], undefined],
    ['no name', learning({ name: ' ' }), [], 'Give the pattern a name first'],
    [
      'no document',
      learning({ files: { like: [], unlike: files(3) } }),
      [],
      'Choose at least one document to recognise',
    ],
    ['no share', learning({ share: '0' }), [], 'The share is a whole number from 5 to 100'],
    [
      'few samples',
      learning({ learns: 'category', files: { like: files(4), unlike: files(9) } }),
      [],
      'At least 5 texts of this kind and 5 others are needed; there are 4 and 9',
    ],
    [
      'few samples with those that go',
      learning({ learns: 'category', files: { like: files(4), unlike: files(5) }, dropped: new Set(['a']) }),
      [sample('a', 'like')],
      'At least 5 texts of this kind and 5 others are needed; there are 4 and 5',
    ],
    [
      'enough with those that stay',
      learning({ learns: 'category', share: '', files: { like: files(4), unlike: files(4) } }),
      [sample('a', 'like'), sample('b', 'unlike')],
      undefined,
    ],
  ])('says %s', (_name, given, samples, refusal) => expect(refusalOf(given, samples)).toBe(refusal));
});

describe('withFiles', () => {
  it('takes a file once', () => {
    const names = withFiles([file('a'), file('b')], [file('a'), file('a', 2), file('c')]).map(
      ({ name }) => name,
    );
    expect(names).toEqual(['a', 'b', 'a', 'c']);
  });
});
