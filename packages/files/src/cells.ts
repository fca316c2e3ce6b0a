const LETTERS = 26;

function lettersOf(column: number): string {
  let letters = '';
  for (let rest = column + 1; rest > 0; rest = Math.floor((rest - 1) / LETTERS))
    letters = String.fromCharCode(65 + ((rest - 1) % LETTERS)) + letters;
  return letters;
}

/**
 * Addresses of the cells that hold offsets of a sheet's text, as sheets write them: columns A to Z, AA and on, rows from
 * 1. Offsets must be in order; `rows` gives the row of each line. Undefined where a line is none of the sheet.
 */
export function cellsAt(
  text: string,
  offsets: readonly number[],
  rows: readonly number[],
): (string | undefined)[] {
  let line = 0;
  let start = 0;
  return offsets.map((offset) => {
    for (let at = text.indexOf('\n', start); at !== -1 && at < offset; at = text.indexOf('\n', start)) {
      line += 1;
      start = at + 1;
    }
    const row = rows[line];
    if (row === undefined) return undefined;
    let column = 0;
    for (let at = start; at < offset; at += 1) if (text[at] === '\t') column += 1;
    return `${lettersOf(column)}${row}`;
  });
}
