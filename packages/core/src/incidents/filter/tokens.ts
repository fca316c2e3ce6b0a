/** A piece of a filter line. `at` counts UTF-16 units from its start. */
export interface Token {
  readonly kind: 'word' | 'text' | 'open' | 'close' | 'broken-text' | 'other';
  readonly text: string;
  readonly at: number;
}

const TOKEN = /\s+|"(?:[^"\\]|\\[^])*"|"(?:[^"\\]|\\[^])*\\?$|[()]|[^\s()"]+/gu;

/** Cuts a filter line into tokens; spaces divide and are dropped. Linear in the length of the line. */
export function tokensOf(line: string): Token[] {
  return [...line.matchAll(TOKEN)].flatMap((match) => {
    const [text] = match;
    return text.trim() === '' ? [] : [{ kind: kindOf(text), text, at: match.index }];
  });
}

function kindOf(text: string): Token['kind'] {
  if (text === '(') return 'open';
  if (text === ')') return 'close';
  if (text.startsWith('"')) return text.length > 1 && closes(text) ? 'text' : 'broken-text';
  return /^[\p{L}\p{N}_.:+-]+$/u.test(text) ? 'word' : 'other';
}

/** Whether the last quotation mark is not escaped: an odd number of backslashes before it escapes it. */
function closes(text: string): boolean {
  if (!text.endsWith('"')) return false;
  const before = /\\*$/u.exec(text.slice(0, -1))?.[0].length ?? 0;
  return before % 2 === 0;
}
