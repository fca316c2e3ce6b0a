import fc from 'fast-check';
import type { SearchOffset } from '../shared/brand.js';
import { toSearchText } from './search-text.js';

const at = (offset: number) => offset as SearchOffset;

describe('toSearchText', () => {
  it.each([
    ['full-width digits', '４１１１', '4111'],
    ['Arabic-Indic digits', '٤١١١', '4111'],
    ['Devanagari digits', '४१११', '4111'],
    ['no-break and thin spaces', '4111\u00a01111\u20091111', '4111 1111 1111'],
    ['non-breaking hyphens and minus signs', '41\u201111\u221211', '41-11-11'],
    ['zero-width characters and soft hyphens', '41\u200b11\u00ad11\ufeff', '411111'],
    ['accents stay', 'Genève', 'Genève'],
  ])('folds %s', (_name, raw, expected) => {
    expect(toSearchText(raw).text).toBe(expected);
  });

  it('points back into the text as read across dropped characters', () => {
    const raw = 'a\u200b\u200bb c';
    const search = toSearchText(raw);
    expect(search.text).toBe('ab c');
    expect(raw.slice(search.toRaw(at(1)), search.toRaw(at(2)))).toBe('b');
    expect(search.toRaw(at(4))).toBe(raw.length);
  });

  it('keeps offsets in order and in range for any text, lone surrogates included', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (raw) => {
        const search = toSearchText(raw);
        let previous = -1;
        for (let offset = 0; offset < search.text.length; offset += 1) {
          const origin = search.toRaw(at(offset));
          expect(origin).toBeGreaterThan(previous);
          expect(origin).toBeLessThan(raw.length);
          previous = origin;
        }
      }),
    );
  });
});
