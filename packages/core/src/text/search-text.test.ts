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

describe('offsets of what is written in more than one unit', () => {
  it.each([
    ['character references', 'a&#52;b', '4', 1, 6],
    ['hexadecimal ones', 'a&#x34;b', '4', 1, 7],
    ['named spaces', 'a&nbsp;b', ' ', 1, 7],
    ['mathematical digits', 'a\ud835\udfd2b', '4', 1, 3],
  ])('%s stand for one unit and keep both their ends', (_name, raw, unit, start, end) => {
    const search = toSearchText(raw);
    expect(search.text).toBe(`a${unit}b`);
    expect([search.toRaw(at(1)), search.toRawEnd(at(2))]).toEqual([start, end]);
    expect(search.toRaw(at(2))).toBe(end);
  });

  it.each(['&', '&;', '&amp', '&nosuchname;', '&#;', '&#x;', '&#99999999;', 'R&D 4; 5'])(
    'leaves %j as it is',
    (raw) => {
      expect(toSearchText(raw).text).toBe(raw);
    },
  );

  it('folds letters that print alike, and no others', () => {
    expect(toSearchText('АВ123456С').text).toBe('AB123456C');
    expect(toSearchText('Жди').text).toBe('Жди');
  });

  it('keeps ends behind starts for any text', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', '&#52;', '\u200b', '４', '\ud835\udfd2', '\ud800', 'é', '&'), {
          maxLength: 60,
        }),
        (pieces) => {
          const raw = pieces.join('');
          const search = toSearchText(raw);
          expect(search.units).toHaveLength(search.text.length);
          for (let offset = 0; offset < search.text.length; offset += 1) {
            const from: number = search.toRaw(at(offset));
            const to: number = search.toRawEnd(at(offset + 1));
            expect(to).toBeGreaterThan(from);
            expect(to).toBeLessThanOrEqual(raw.length);
          }
        },
      ),
    );
  });
});
