import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import { writeTable } from './write-table.js';

const HOSTILE = ['=1+1', '+1', '-1', '@SUM(A1)', '\t=1', 'plain', 'with "quotes"', 'two\nlines'];
const table = { fields: ['Name', 'Note'], rows: HOSTILE.map((cell, at) => [`row ${at}`, cell]) };

describe('writeTable', () => {
  it('writes CSV (RFC 4180) in which nothing runs: what begins like a formula begins with an apostrophe', async () => {
    const text = Buffer.from(await writeTable(['csv', 'Any', table])).toString('utf8');
    expect(text.startsWith('\uFEFFName,Note\r\n')).toBe(true);
    const { data } = Papa.parse<string[]>(text.slice(1), { skipEmptyLines: true });
    const notes = data.slice(1).map(([, note]) => note);
    expect(notes).toEqual(HOSTILE.map((cell) => (/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell)));
  });

  it('writes XLSX whose cells are texts and no formulas, in a sheet whose name programs take', async () => {
    const bytes = await writeTable(['xlsx', 'Bookings: of / the [season] that is very long', table]);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(Buffer.from(bytes) as unknown as Parameters<typeof book.xlsx.load>[0]);
    const [sheet] = book.worksheets;
    expect(sheet?.name).toBe('Bookings  of   the  season  tha');
    sheet?.eachRow((row) => row.eachCell((cell) => expect(cell.type).toBe(ExcelJS.ValueType.String)));
    expect(sheet?.getRow(2).getCell(2).value).toBe('=1+1');
  });

  it('writes the headings of a table without rows', async () => {
    const text = Buffer.from(await writeTable(['csv', 'Any', { fields: ['A', 'B'], rows: [] }])).toString();
    expect(text.trim()).toBe('\uFEFFA,B'.trim());
  });
});
