/** JSON nested deeper than this is no data that anybody wrote. */
const MAX_DEPTH = 200;

/** Whether a text opens like JSON. */
export const looksLikeJson = (text: string): boolean => /^\s*[[{]/.test(text);

/**
 * JSON (RFC 8259) as lines of `name: value`, so that the name of a field stands beside its value and escaped
 * characters are read; a list of objects with the same fields becomes a table. Undefined where it is none.
 */
export function jsonLines(text: string): string | undefined {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return undefined;
  }
  const lines: string[] = [];
  addLines(value, '', lines, 0);
  return lines.join('\n');
}

function addLines(value: unknown, name: string, lines: string[], depth: number): void {
  if (depth > MAX_DEPTH) return;
  if (Array.isArray(value)) {
    const rows = tableOf(value);
    // One by one: a call takes no more arguments than fit on the stack.
    if (rows) for (const row of [...rows, '']) lines.push(row);
    else for (const item of value) addLines(item, name, lines, depth + 1);
  } else if (typeof value === 'object' && value !== null) {
    for (const [key, inner] of Object.entries(value)) addLines(inner, key, lines, depth + 1);
  } else lines.push(name === '' ? String(value) : `${name}: ${String(value)}`);
}

/** Objects with the same plain fields as a heading and rows divided by tabs. */
function tableOf(items: readonly unknown[]): string[] | null {
  const [first] = items;
  if (items.length < 2 || typeof first !== 'object' || first === null || Array.isArray(first)) return null;
  const fields = Object.keys(first);
  const rows: string[] = [fields.join('\t')];
  for (const item of items) {
    if (typeof item !== 'object' || item === null || Array.isArray(item)) return null;
    const values = Object.values(item);
    if (Object.keys(item).join('\t') !== fields.join('\t')) return null;
    if (values.some((value) => typeof value === 'object' && value !== null)) return null;
    rows.push(values.map((value) => String(value).replace(/[\t\r\n]+/g, ' ')).join('\t'));
  }
  return rows;
}

/** Whether a text is a calendar or a card (RFC 5545, RFC 6350). */
export const looksLikeCard = (text: string): boolean => /^\s*BEGIN:(?:VCALENDAR|VCARD)\s/i.test(text);

/** A calendar or card with its folded lines joined and its escapes read: `NAME: value`. */
export function cardLines(text: string): string {
  return text
    .replace(/\r?\n[ \t]/g, '')
    .split(/\r?\n/)
    .map((line) => {
      const [, name = '', parameters = '', value = ''] =
        /^([A-Za-z0-9.-]+)((?:;[^:]*)?):(.*)$/s.exec(line) ?? [];
      if (name === '') return line;
      const decoded = /ENCODING=QUOTED-PRINTABLE/i.test(parameters)
        ? value
        : value.replace(/\\n/gi, '\n').replace(/\\([,;\\])/g, '$1');
      const kinds = parameters.replace(/;/g, ' ').replace(/TYPE=/gi, '');
      return `${name}${kinds}: ${decoded}`;
    })
    .join('\n');
}

/** A mailbox of many mails (RFC 4155): each begins with a line `From ` behind a blank one. */
export function mailsOfBox(bytes: Uint8Array): Uint8Array[] {
  const buffer = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const starts: number[] = [];
  for (let at = 0; at !== -1 && at < buffer.length;) {
    if (buffer.subarray(at, at + 5).toString('latin1') === 'From ') starts.push(at);
    const next = buffer.indexOf('\nFrom ', at);
    if (next === -1) break;
    at = next + 1;
    const blank = buffer[next - 1] === 10 || (buffer[next - 1] === 13 && buffer[next - 2] === 10);
    if (!blank) at = nextLine(buffer, at);
  }
  return starts.map((start, index) => {
    const body = nextLine(buffer, start);
    return buffer.subarray(body, starts[index + 1] ?? buffer.length);
  });
}

function nextLine(buffer: Buffer, at: number): number {
  const end = buffer.indexOf(10, at);
  return end === -1 ? buffer.length : end + 1;
}

/** Whether a text opens like XML (XML 1.0, 2.8): a declaration, or an element alone. */
export const looksLikeXml = (text: string): boolean =>
  /^\uFEFF?\s*(?:<\?xml\s|<!--|<([A-Za-z_][\w.:-]*)(?:\s[^<>]*)?\/?>)/.test(text);
