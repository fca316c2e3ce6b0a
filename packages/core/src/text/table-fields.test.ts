import { fieldsAt } from './table-rows.js';

/** The columns in which each mark stands. */
const columnsOf = (text: string, mark = '#'): (string | undefined)[] => {
  const standing: { start: number }[] = [];
  for (let at = text.indexOf(mark); at !== -1; at = text.indexOf(mark, at + 1)) standing.push({ start: at });
  return fieldsAt(text, standing);
};

describe('fieldsAt', () => {
  it.each([
    ['tabs', 'Name\tCard\nAnn\t#1\nBea\t#2\n', ['Card', 'Card']],
    ['semicolons', 'Name;Card\n#x;1\nBea;#2\n', ['Name', 'Card']],
    ['commas from two a line on', 'Name,Card,Town\nAnn,#1,A\nBea,2,#B\n', ['Card', 'Town']],
    ['a byte order mark is part of the first name only', 'A;B\n1;#\n2;#\n', ['B', 'B']],
  ])('finds columns divided by %s', (_what, text, columns) => expect(columnsOf(text)).toEqual(columns));

  it('reads quoted cells as RFC 4180 writes them: dividers inside divide nothing', () => {
    const text = '"Name","Card","Town"\n"Marsh, Ann","#1","A"\n"Marsh ""M"", Bea","#2","B, near C"\n';
    expect(columnsOf(text)).toEqual(['Card', 'Card']);
  });

  it('knows rows of sheets that leave out empty cells at the end', () => {
    expect(columnsOf('Name\tCard\tNote\nAnn\t#1\nBea\t#2\tx\nCid\t#3\n')).toEqual(['Card', 'Card', 'Card']);
  });

  it('names a column without a heading by its place', () => {
    expect(columnsOf('Name;\nAnn;#1\nBea;#2\n')).toEqual(['column 2', 'column 2']);
  });

  it('says nothing of headings, of prose and of two lines that look alike', () => {
    expect(columnsOf('#Name;Card\nAnn;1\nBea;2\n')).toEqual([undefined]);
    expect(columnsOf('Dear Ann, the card is #1.\nIt was sent, as you know, to #2.\n')).toEqual([
      undefined,
      undefined,
    ]);
    expect(columnsOf('a;#\nb;#\n')).toEqual([undefined, undefined]);
  });

  it('keeps two tables of one text apart', () => {
    const text = 'A;B\n1;#\n2;#\n3;#\n\nC;D;E\n#;2;3\n#;2;3\n#;2;3\n';
    expect(columnsOf(text)).toEqual(['B', 'B', 'B', 'C', 'C', 'C']);
  });

  it('stays quick on one endless line and on a million short ones', () => {
    expect(fieldsAt(';'.repeat(2_000_000), [{ start: 1_999_999 }])).toEqual([undefined]);
    const rows = `A;B\n${'1;2\n'.repeat(300_000)}`;
    expect(fieldsAt(rows, [{ start: rows.length - 2 }])).toEqual(['B']);
  });
});
