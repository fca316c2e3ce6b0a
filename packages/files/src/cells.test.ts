import { xlsxFile, zipFile } from '@lantern/testkit';
import { cellsAt } from './cells.js';
import type { ReadPart } from './part.js';
import { readFile } from './read-file.js';

/** Addresses at which texts stand in the sheets of a file. */
async function addressesOf(bytes: Uint8Array, wanted: readonly string[]): Promise<(string | undefined)[]> {
  const parts = await readFile({ name: 'x', bytes });
  const sheet = (text: string) =>
    parts.find(
      (part): part is Extract<ReadPart, { status: 'read' }> =>
        part.status === 'read' && part.rows !== undefined && part.text.includes(text),
    );
  return wanted.map((text) => {
    const part = sheet(text);
    return part && cellsAt(part.text, [part.text.indexOf(text)], part.rows ?? [])[0];
  });
}

describe('cellsAt', () => {
  it('counts columns as sheets do (ECMA-376-1, 18.18.7, cell references)', () => {
    const text = Array.from({ length: 703 }, (_unused, column) => `c${column}`).join('\t');
    const at = (column: number) => cellsAt(text, [text.search(new RegExp(`c${column}(?:\t|$)`))], [9])[0];
    expect([0, 25, 26, 51, 52, 701, 702].map(at)).toEqual(['A9', 'Z9', 'AA9', 'AZ9', 'BA9', 'ZZ9', 'AAA9']);
  });

  it('takes many offsets in their order, and knows nothing of lines that are no row', () => {
    const text = 'a\tb\nc\td\n\ne';
    expect(cellsAt(text, [0, 2, 2, 4, 6, 9], [1, 4, 5])).toEqual(['A1', 'B1', 'B1', 'A4', 'B4', undefined]);
  });
});

describe('cells of sheets', () => {
  it('are those that the program shows, also behind rows that are empty', async () => {
    const bytes = await xlsxFile('S', [
      ['Name', 'Card'],
      [],
      ['Ada', '4539148803436467'],
      [],
      [],
      ['', '', 'last'],
    ]);
    expect(await addressesOf(bytes, ['Card', '4539148803436467', 'last'])).toEqual(['B1', 'B3', 'C6']);
  });

  it('are counted in OpenDocument sheets with repeated rows and cells, and line breaks in them', async () => {
    const content = `<?xml version="1.0"?><office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet>
      <table:table table:name="S">
        <table:table-row><table:table-cell><text:p>Name<text:line-break/>of guest</text:p></table:table-cell><table:table-cell table:number-columns-repeated="3"/><table:table-cell><text:p>Card</text:p></table:table-cell></table:table-row>
        <table:table-row table:number-rows-repeated="40"><table:table-cell/></table:table-row>
        <table:table-row><table:table-cell><text:p>Ada</text:p><text:p>Brandt</text:p></table:table-cell><table:table-cell><text:p>4539148803436467</text:p></table:table-cell></table:table-row>
      </table:table>
      <table:table table:name="T"><table:table-row><table:table-cell><text:p>second sheet</text:p></table:table-cell></table:table-row></table:table>
    </office:spreadsheet></office:body></office:document-content>`;
    const bytes = await zipFile({
      mimetype: Buffer.from('application/vnd.oasis.opendocument.spreadsheet'),
      'content.xml': Buffer.from(content),
    });
    expect(await addressesOf(bytes, ['Name', 'Card', 'Ada', '4539148803436467', 'second sheet'])).toEqual([
      'A1',
      'E1',
      'A42',
      'B42',
      'A1',
    ]);
  });
});
