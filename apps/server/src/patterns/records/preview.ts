import type { RecordColumnGuess, RecordPreview } from '@lantern/contracts';
import { type ColumnKind, mask, MAX_FILE_COLUMNS, normalForm } from '@lantern/core/detection';
import type { SealedUpload } from '../../platform/http/read-upload.js';
import { csvRows, encodingOf, MAX_ROW } from '../../platform/tables/read-csv.js';

/** Rows that are looked at before anything is imported. */
const PREVIEW_ROWS = 2_000;
/** Values shown of each column, masked. */
const SHOWN = 3;
/** Share of values that must read as a kind before it is proposed. */
const MOST_OF_THEM = 0.9;
const GUESSED: readonly ColumnKind[] = ['mail', 'date', 'phone', 'number'];
/** A column whose values repeat more than this is no key. */
const LEAST_DISTINCT = 0.9;

/** What a file holds, by its first rows; throws an Error with a sentence where it is no table. */
export async function previewOf(upload: SealedUpload): Promise<Omit<RecordPreview, 'upload'>> {
  const encoding = await encodingOf(upload);
  let headings: readonly string[] | null = null;
  const rows: (readonly string[])[] = [];
  const ragged: number[] = [];
  for await (const { number, cells } of csvRows(upload, encoding, PREVIEW_ROWS + 1)) {
    if (cells.some((cell) => cell.length > MAX_ROW))
      throw new Error(`Row ${number} has no end: a quotation mark is not closed.`);
    if (!headings) headings = cells;
    else {
      if (cells.length !== headings.length) ragged.push(number);
      rows.push(cells);
    }
  }
  if (!headings || rows.length === 0) throw new Error('It has no rows below the headings.');
  if (headings.length > MAX_FILE_COLUMNS)
    throw new Error(`It has ${headings.length} columns; at most ${MAX_FILE_COLUMNS} are read.`);
  if (headings.length < 2)
    throw new Error('It has only one column. At least one column beside the key is needed.');
  const columns = headings.map((name, column) =>
    guess(
      name,
      rows.map((row) => row[column] ?? ''),
    ),
  );
  return {
    encoding,
    rowsSeen: rows.length,
    more: rows.length >= PREVIEW_ROWS,
    ragged: ragged.slice(0, 10),
    raggedCount: ragged.length,
    columns,
  };
}

function guess(name: string, values: readonly string[]): RecordColumnGuess {
  const filled = values.map((value) => value.trim()).filter((value) => value !== '');
  const reads = (kind: ColumnKind): boolean =>
    filled.length > 0 &&
    filled.filter((value) => normalForm(kind, value) !== '').length >= filled.length * MOST_OF_THEM;
  const hinted: ColumnKind | undefined = /phone|mobile|tel\b|fax/i.test(name)
    ? 'phone'
    : /name/i.test(name)
      ? 'name'
      : undefined;
  const kind = hinted ?? GUESSED.filter((each) => each !== 'phone').find(reads) ?? 'free';
  const distinct = new Set(filled).size / Math.max(1, filled.length);
  const samples = [...new Set(filled)].slice(0, SHOWN).map(mask);
  return {
    name: name.trim() || 'without a heading',
    kind,
    filled: filled.length / Math.max(1, values.length),
    distinct,
    mayBeKey:
      (kind === 'number' || kind === 'mail' || kind === 'phone') && distinct >= LEAST_DISTINCT && reads(kind),
    samples,
  };
}
