/** Rows that stand together before a text counts as a table: fewer are a sentence with commas. Common practice, no source. */
const FEWEST_ROWS = 3;
/** Characters of a line that are looked at; longer lines are data of another kind. */
const LONGEST_ROW = 20_000;

/**
 * Rows of all tables in a text: runs of lines with the same number of tabs, semicolons, bars or commas. Commas count
 * from two a line on, since sentences have one. Grows with the length of the text.
 */
export function tableRows(text: string): number {
  let rows = 0;
  let run = 0;
  let kind = '';
  const close = (): void => {
    if (run >= FEWEST_ROWS) rows += run;
    run = 0;
  };
  for (const line of linesOf(text)) {
    const found = shapeOf(line);
    if (found !== '' && found === kind) run += 1;
    else {
      close();
      kind = found;
      run = found === '' ? 0 : 1;
    }
  }
  close();
  return rows;
}

function* linesOf(text: string): Generator<string> {
  let from = 0;
  while (from <= text.length) {
    const end = text.indexOf('\n', from);
    const to = end === -1 ? text.length : end;
    yield text.slice(from, Math.min(to, from + LONGEST_ROW));
    from = to + 1;
  }
}

const DIVIDERS = ['\t', ';', '|', ','] as const;

/** The divider of a line and how often it stands there; empty for a line of no table. */
function shapeOf(line: string): string {
  for (const divider of DIVIDERS) {
    let count = 0;
    for (let at = line.indexOf(divider); at !== -1; at = line.indexOf(divider, at + 1)) count += 1;
    if (count > (divider === ',' ? 1 : 0)) return `${divider}${count}`;
  }
  return '';
}
