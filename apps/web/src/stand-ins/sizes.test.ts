import { sizeWords } from '../wording/sizes';
import { LARGEST_FILE, refusedFiles, splitAddresses } from './sizes';

describe('sizeWords', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1400, '1.4 kB'],
    [14_000, '14 kB'],
    [30 * 1024 * 1024, '31 MB'],
  ])('says %d bytes as %s', (bytes, words) => expect(sizeWords(bytes)).toBe(words));
});

describe('refusedFiles', () => {
  it('names only what is too large', () => {
    expect(refusedFiles([{ name: 'a.txt', size: LARGEST_FILE }])).toBeNull();
    const sentence = refusedFiles([
      { name: 'a.txt', size: 5 },
      { name: 'film.zip', size: LARGEST_FILE + 1 },
    ]);
    expect(sentence).toContain('film.zip');
    expect(sentence).not.toContain('a.txt');
  });
});

describe('splitAddresses', () => {
  it.each([
    ['a@b.example, c@d.example; e@f.example', ['a@b.example', 'c@d.example', 'e@f.example']],
    ['<a@b.example>\n', ['a@b.example']],
    ['  ', []],
  ])('reads %j', (typed, addresses) => expect(splitAddresses(typed)).toEqual(addresses));
});
