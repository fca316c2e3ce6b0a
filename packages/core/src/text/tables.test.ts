import { chance } from '@lantern/testkit';
import { toSearchText } from './search-text.js';
import { LIST, Tables } from './tables.js';

const SEED = 77;

/** Heading over a value, by the words of the text. */
function headingOf(text: string, value: string): string | undefined {
  const search = toSearchText(text);
  const cell = new Tables(search).cellAt(search.text.indexOf(value));
  return cell && search.text.slice(cell.headingStart, cell.headingEnd).trim();
}

describe('Tables', () => {
  it.each([
    ['tabs', 'Booking\tCard number\nMS-1\t4111', '4111', 'Card number'],
    ['semicolons', 'a;b;IBAN\n1;2;DE89\n', 'DE89', 'IBAN'],
    ['commas', 'name,passport\nAda,P123', 'P123', 'passport'],
    ['commas with spaces', 'name, passport\nAda, P123', 'P123', 'passport'],
    ['bars', 'name|card\nAda|4111', '4111', 'card'],
    ['a later row', 'name,card\nAda,1\nBea,2\nCyd,4111', '4111', 'card'],
    ['line ends of Windows', 'name;card\r\nAda;4111\r\n', '4111', 'card'],
    [
      'values one a line under a heading',
      'Cards of the guests:\n4111 1111\n5500 0000',
      '5500',
      'Cards of the guests:',
    ],
  ])('finds the heading over a column divided by %s', (_name, text, value, heading) => {
    expect(headingOf(text, value)).toBe(heading);
  });

  it.each([
    ['prose', 'Please pay the card\nby 4111 tomorrow', '4111'],
    ['prose with a comma in each line', 'Dear Bea, thank you for all of it. Soon\nwe write, 4111', '4111'],
    ['the heading row itself', 'Card number;Name\n1;2', 'Card'],
    ['a row of another width', 'a;card\nx;y;4111', '4111'],
  ])('names no heading for %s', (_name, text, value) => {
    expect(headingOf(text, value)).toBeUndefined();
  });

  it.each(['\t', ';', ',', '|'])(
    'finds the heading over every cell of generated tables divided by %j',
    (delimiter) => {
      const random = chance(SEED);
      for (let round = 0; round < 40; round += 1) {
        const width = random.whole(2, 6);
        const headings = Array.from({ length: width }, (_unused, column) => `heading ${column}`);
        const cells = Array.from({ length: random.whole(1, 8) }, (_row, row) =>
          headings.map((_heading, column) => `value${row}x${column}`),
        );
        const text = `Some words above.\n\n${[headings, ...cells].map((row) => row.join(delimiter)).join('\n')}\n\nThe end.`;
        cells.forEach((row) =>
          row.forEach((cell, column) => expect(headingOf(text, cell)).toBe(headings[column])),
        );
        expect(headingOf(text, 'heading 0')).toBeUndefined();
      }
    },
  );

  it('answers for any offset of any text, also beyond its end', () => {
    const random = chance(SEED + 1);
    for (let round = 0; round < 200; round += 1) {
      const text = Array.from({ length: random.whole(0, 60) }, () =>
        random.pick(['a', '1', ',', ', ', ';', '\t', '\n', '|', ' ']),
      ).join('');
      const tables = new Tables(toSearchText(text));
      for (let offset = 0; offset <= text.length + 2; offset += 1)
        expect(() => tables.cellAt(offset)).not.toThrow();
    }
  });

  it('tells a list from a table', () => {
    const tables = new Tables(toSearchText('Cards\n4111\n5500'));
    expect(tables.kindOf(tables.blockOf[1] ?? 0)).toBe(LIST);
  });
});
