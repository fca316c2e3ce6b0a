/** A text with what was found in it. Offsets of findings are into `text`. */
export interface FoundText {
  readonly text: string;
  readonly findings: readonly { readonly start: number; readonly end: number; readonly pattern: string }[];
}

/** Words that stand together in one member of the set. */
const SHINGLE = 3;
/** Longest text that is looked at, in UTF-16 units; what people write by hand is far shorter, and forms repeat themselves. */
const MOST_TEXT = 20_000;
/** Members of one set; more do not make the estimate better. */
const MOST_SHINGLES = 4_000;
const WORD = /[\p{L}\p{M}]+|\p{N}+/gu;

/**
 * The words around what was found, in groups of three, as a set: what two mails of the same form share, whatever numbers
 * and names they hold. A finding counts as the name of its pattern, and a number as any number. Consecutive lines with findings
 * of the same patterns are the rows of a table: one of them is taken, since the others only repeat its form.
 */
export function templateOf(texts: readonly FoundText[]): Set<string> {
  const shingles = new Set<string>();
  for (const text of texts) {
    const words = wordsOf(text);
    for (let at = 0; at < words.length && shingles.size < MOST_SHINGLES; at += 1) {
      if (at > 0 && at + SHINGLE > words.length) break;
      shingles.add(words.slice(at, at + SHINGLE).join(' '));
    }
  }
  return shingles;
}

/** One line with the patterns found in it. */
interface Line {
  readonly words: readonly string[];
  /** Patterns in their order, as one text; empty for none. */
  readonly found: string;
}

function wordsOf({ text, findings }: FoundText): string[] {
  const sorted = [...findings].sort((one, other) => one.start - other.start);
  const lines: Line[] = [];
  let at = 0;
  let next = 0;
  for (const line of text.slice(0, MOST_TEXT).split('\n')) {
    const end = at + line.length;
    const own: FoundText['findings'][number][] = [];
    while (next < sorted.length && sorted[next]!.start <= end) {
      if (sorted[next]!.start >= at) own.push(sorted[next]!);
      next += 1;
    }
    lines.push(lineOf(line, own, at));
    at = end + 1;
  }
  return lines.flatMap(({ words, found }, place) => {
    if (found === '') return words;
    const isRow = lines[place - 1]?.found === found || lines[place + 1]?.found === found;
    if (!isRow) return words;
    return lines[place - 1]?.found === found ? [] : [`row of ${found}`];
  });
}

function lineOf(line: string, findings: FoundText['findings'], offset: number): Line {
  const words: string[] = [];
  let from = 0;
  const read = (to: number) => {
    for (const [word] of line.slice(from, Math.max(from, to)).matchAll(WORD))
      words.push(/\p{N}/u.test(word) ? '#' : word.toLowerCase());
  };
  for (const { start, end, pattern } of findings) {
    if (start - offset < from) continue;
    read(start - offset);
    words.push(`<${pattern}>`);
    from = end - offset;
  }
  read(line.length);
  return { words, found: [...new Set(findings.map(({ pattern }) => pattern))].join(' ') };
}
