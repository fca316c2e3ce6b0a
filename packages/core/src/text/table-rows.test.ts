import { tableRows } from './table-rows.js';

describe('rows of tables in a text', () => {
  it.each([
    ['a table with tabs', 'Name\tCard\nA\t1\nB\t2', 3],
    ['comma separated values', 'a,b,c\n1,2,3\n4,5,6\n7,8,9', 4],
    ['sentences with a comma each', 'Yes, so.\nNo, not so.\nWell, maybe.\n', 0],
    ['two lines', 'a;b\n1;2', 0],
    ['two tables with a sentence between', 'a;b\n1;2\n3;4\nThen:\nx|y\n1|2\n3|4\n5|6', 7],
    ['lines that change their shape', 'a;b\n1;2;3\na;b\n1;2;3', 0],
    ['nothing', '', 0],
    ['line ends of another system', 'a;b\r\n1;2\r\n3;4\r\n', 3],
  ])('%s', (_what, text, rows) => expect(tableRows(text)).toBe(rows));

  it('stays quick on one endless line', () => expect(tableRows(';'.repeat(5_000_000))).toBe(0));
});
