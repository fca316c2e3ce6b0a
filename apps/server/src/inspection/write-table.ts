import ExcelJS from 'exceljs';
import Papa from 'papaparse';

export interface TableToWrite {
  readonly fields: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** Longest name of a sheet that spreadsheet programs take, and signs that they refuse (ECMA-376, 18.2.19; programs). */
const SHEET_NAME = 31;
const NOT_IN_SHEET_NAMES = /[\\/?*[\]:]/g;

/** A table as a file that opens in a spreadsheet without running anything. */
export async function writeTable([format, name, { fields, rows }]: [
  'csv' | 'xlsx',
  string,
  TableToWrite,
]): Promise<Uint8Array> {
  if (format === 'csv')
    return Buffer.from(
      `\uFEFF${Papa.unparse({ fields: [...fields], data: rows.map((row) => [...row]) }, { escapeFormulae: true, newline: '\r\n' })}\r\n`,
    );
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet(name.replaceAll(NOT_IN_SHEET_NAMES, ' ').slice(0, SHEET_NAME), {
    views: [{ state: 'frozen', ySplit: 1 }],
  });
  // Cells are texts: what begins like a formula stays one.
  sheet.addRow([...fields]);
  sheet.addRows(rows.map((row) => [...row]));
  return Buffer.from(await book.xlsx.writeBuffer());
}
