/** Headings held to a table that is built cell by cell, so that the right heading is known beforehand. */
import { chance } from '@lantern/testkit';
import { Columns } from './columns.js';

const SEED = 77;

describe(`Columns beside tables of known shape, seed ${SEED}`, () => {
  it.each(['\t', ';', ',', '|'])('finds the heading over every cell of tables divided by %j', (delimiter) => {
    const random = chance(SEED);
    for (let round = 0; round < 60; round += 1) {
      const columns = random.whole(2, 6);
      const rows = random.whole(1, 8);
      const headings = Array.from({ length: columns }, (_unused, column) => `heading ${column}`);
      const cells = Array.from({ length: rows }, (_unused, row) =>
        Array.from({ length: columns }, (_cell, column) => `value${row}x${column}`),
      );
      const before = random.happens(0.5) ? 'Some words above the table.\n\n' : '';
      const text = `${before}${[headings, ...cells].map((row) => row.join(delimiter)).join('\n')}\n\nThe end.`;
      const read = new Columns(text);
      cells.forEach((row) =>
        row.forEach((cell, column) => {
          const found = read.cellAt(text.indexOf(cell));
          expect(found?.heading).toBe(headings[column]);
          expect(text.slice(found?.rowStart, found?.rowEnd)).toBe(row.join(delimiter));
        }),
      );
      expect(read.cellAt(text.indexOf('heading 0'))).toBeUndefined();
    }
  });

  it('starts a new table where the width changes', () => {
    const text = 'a,b\n1,2\nx,y,z\n3,4,5';
    expect(new Columns(text).cellAt(text.indexOf('5'))?.heading).toBe('z');
    expect(new Columns(text).cellAt(text.indexOf('x'))).toBeUndefined();
  });

  it('answers for any offset of any text, also beyond its end', () => {
    const random = chance(SEED + 1);
    for (let round = 0; round < 200; round += 1) {
      const text = Array.from({ length: random.whole(0, 60) }, () =>
        random.pick(['a', ',', ';', '\t', '\n', '|', ' ']),
      ).join('');
      const columns = new Columns(text);
      for (let offset = 0; offset <= text.length + 2; offset += 1)
        expect(() => columns.cellAt(offset)).not.toThrow();
    }
  });
});
