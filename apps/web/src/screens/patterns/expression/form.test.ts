import { EMPTY_FORM, formOf, patternOf, readForm } from './form';

const form = { ...EMPTY_FORM, name: 'Booking', expression: 'MS-\\d{6}' };

describe('the form of an own expression', () => {
  it('reads what it wrote', () => {
    const written = {
      ...form,
      namingWords: 'booking\n\n ref ',
      excludedRanges: '900000 to 999999\n1 to 5',
      shape: '−1,5',
    };
    const read = readForm(written);
    if (read.status !== 'read') throw new Error(read.sentence);
    expect(read.fields.namingWords).toEqual(['booking', 'ref']);
    expect(read.fields.exclusions.ranges).toEqual([
      { from: '900000', to: '999999' },
      { from: '1', to: '5' },
    ]);
    expect(read.fields.weights.shape).toBe(-1.5);
    const again = readForm(formOf(patternOf('x', read)));
    expect(again).toEqual(read);
  });

  it.each([
    [{ excludedRanges: '1 to 2\nnine' }, 'Line 2 of the ranges is not "number to number".'],
    [{ wordDistance: '0' }, 'The maximum distance must be a whole number from 1 to 60.'],
    [{ wordDistance: '' }, 'The maximum distance must be a whole number from 1 to 60.'],
    [{ counterWord: 'much' }, 'A weight must be a number from −20 to 20.'],
    [{ shape: '99' }, 'A weight must be a number from −20 to 20.'],
  ])('says what is wrong with %o', (changes, sentence) => {
    expect(readForm({ ...form, ...changes })).toEqual({ status: 'wrong', sentence });
  });
});
