import ExcelJS from 'exceljs';
import Papa from 'papaparse';

/** The rows of a table as a spreadsheet program reads them. */
export async function readTable(format: 'csv' | 'xlsx', bytes: Buffer): Promise<string[][]> {
  if (format === 'csv') {
    const text = bytes.toString('utf8').replace(/^\uFEFF/, '');
    return Papa.parse<string[]>(text, { skipEmptyLines: true }).data;
  }
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(bytes as unknown as Parameters<typeof book.xlsx.load>[0]);
  const rows: string[][] = [];
  book.worksheets[0]?.eachRow((row) => rows.push((row.values as unknown[]).slice(1).map(String)));
  return rows;
}
