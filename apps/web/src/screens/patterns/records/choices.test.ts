import type { RecordColumnGuess, RecordPreview } from '@lantern/contracts';
import { type ColumnChoice, proposed, readChoices } from './choices';

const column = (
  name: string,
  kind: RecordColumnGuess['kind'],
  mayBeKey = false,
  filled = 1,
): RecordColumnGuess => ({
  name,
  kind,
  filled,
  distinct: 1,
  mayBeKey,
  samples: [],
});
const preview = (columns: readonly RecordColumnGuess[]): RecordPreview => ({
  upload: 'u',
  encoding: 'utf-8',
  rowsSeen: 1,
  more: false,
  ragged: [],
  raggedCount: 0,
  columns,
});

describe('columns of records', () => {
  it('are proposed with the organisation’s own number as the key', () => {
    const choices = proposed(
      preview([
        column('Mail', 'mail', true),
        column('Booking', 'number', true),
        column('Name', 'name'),
        column('Empty', 'free', false, 0),
      ]),
    );
    expect(choices.map(({ use }) => use)).toEqual(['beside', 'key', 'beside', 'left out']);
    expect(readChoices(choices)).toMatchObject({
      status: 'read',
      key: { column: 1 },
      others: [{ column: 0 }, { column: 2 }],
    });
  });

  it.each<[ColumnChoice[], string]>([
    [[{ use: 'beside', kind: 'name' }], 'Choose the key column'],
    [
      [
        { use: 'key', kind: 'number' },
        { use: 'key', kind: 'mail' },
      ],
      'Only one column',
    ],
    [
      [
        { use: 'key', kind: 'name' },
        { use: 'beside', kind: 'mail' },
      ],
      'too common',
    ],
    [[{ use: 'key', kind: 'number' }], 'at least one column'],
    [
      [
        { use: 'key', kind: 'number' },
        ...Array.from({ length: 9 }, (): ColumnChoice => ({ use: 'beside', kind: 'free' })),
      ],
      'At most 8',
    ],
  ])('say what is wrong with %j', (choices, sentence) => {
    expect(readChoices(choices)).toMatchObject({
      status: 'wrong',
      sentence: expect.stringContaining(sentence),
    });
  });
});
