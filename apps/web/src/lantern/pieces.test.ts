import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { piecesOf, shortened } from './pieces';

const scanner = compileScanner(READY_PATTERNS);
const cut = (text: string) => piecesOf(text, scanner.scan(text).findings);

describe('piecesOf', () => {
  it.each([
    'plain',
    'card 4539 1488 0343 6467',
    'x card 4539 1488 0343 6467 y IBAN GB29NWBK60161331926819',
    '',
  ])('loses nothing of %p', (text) => {
    expect(
      cut(text)
        .map((piece) => piece.text)
        .join(''),
    ).toBe(text);
  });

  it('lights what was found and leaves weak findings unlit', () => {
    expect(cut('card 4539 1488 0343 6467 end').map((piece) => piece.finding !== null)).toEqual([
      false,
      true,
      false,
    ]);
    expect(cut('tracking 4539148803436467').some((piece) => piece.finding)).toBe(false);
  });
});

describe('shortened', () => {
  it('keeps every finding of a long text and cuts what lies between', () => {
    const text = `${'a '.repeat(5000)}card 4539 1488 0343 6467${' b'.repeat(5000)}`;
    const short = shortened(cut(text));
    expect(short.filter((piece) => piece.finding)).toHaveLength(1);
    expect(short.map((piece) => piece.text).join('').length).toBeLessThan(1000);
  });

  it('leaves a short text alone', () =>
    expect(shortened(cut('short')).map((piece) => piece.text)).toEqual(['short']));
});
