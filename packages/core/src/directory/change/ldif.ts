import type { DirectoryEntry } from './entries.js';

/** What is wrong with a file in LDAP Data Interchange Format, and at which line. */
export interface LdifFault {
  readonly code: 'no-entry' | 'no-name' | 'no-colon' | 'bad-base64' | 'address-value' | 'change-record';
  readonly line: number;
}

export interface LdifReading {
  readonly entries: readonly DirectoryEntry[];
  readonly faults: readonly LdifFault[];
}

/**
 * Entries of a file of entries (RFC 2849). An entry with a fault is left out and named; the others are read. Values that
 * only point to a file or an address are not fetched, and records that ask for changes are no entries.
 */
export function readLdif(text: string, decodeBase64: (text: string) => string | null): LdifReading {
  const entries: DirectoryEntry[] = [];
  const faults: LdifFault[] = [];
  for (const { line, lines } of records(text)) {
    const read = readRecord(line, lines, decodeBase64);
    if (read && 'code' in read) faults.push(read);
    else if (read) entries.push(read);
  }
  if (entries.length === 0 && faults.length === 0) faults.push({ code: 'no-entry', line: 1 });
  return { entries, faults };
}

interface NumberedLine {
  readonly number: number;
  readonly text: string;
}

/** Blocks of lines between empty ones, folded lines joined, remarks left out. */
function* records(text: string): Generator<{ readonly line: number; readonly lines: NumberedLine[] }> {
  let lines: { number: number; text: string[] }[] = [];
  let inRemark = false;
  const block = () => ({
    line: lines[0]?.number ?? 1,
    lines: lines.map(({ number, text: parts }) => ({ number, text: parts.join('') })),
  });
  let number = 0;
  for (const raw of text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)) {
    number += 1;
    if (raw.startsWith(' ')) {
      if (!inRemark) lines.at(-1)?.text.push(raw.slice(1));
      continue;
    }
    inRemark = raw.startsWith('#');
    if (inRemark) continue;
    if (raw === '') {
      if (lines.length > 0) yield block();
      lines = [];
    } else lines.push({ number, text: [raw] });
  }
  if (lines.length > 0) yield block();
}

function readRecord(
  line: number,
  lines: readonly NumberedLine[],
  decodeBase64: (text: string) => string | null,
): DirectoryEntry | LdifFault | null {
  const attributes = new Map<string, string[]>();
  let dn: string | null = null;
  for (const { number, text } of lines) {
    const colon = text.indexOf(':');
    if (colon <= 0) return { code: 'no-colon', line: number };
    // Options behind a name, such as a language, do not matter here.
    const name = (text.slice(0, colon).split(';')[0] ?? '').trim().toLowerCase();
    if (text[colon + 1] === '<') return { code: 'address-value', line: number };
    const coded = text[colon + 1] === ':';
    const written = text.slice(colon + (coded ? 2 : 1)).replace(/^ +/, '');
    const value = coded ? decodeBase64(written) : written;
    if (value === null) return { code: 'bad-base64', line: number };
    if (name === 'version' && dn === null) continue;
    if (name === 'dn') dn = value;
    else if (dn === null) return { code: 'no-name', line: number };
    else if (name === 'changetype') return { code: 'change-record', line: number };
    else {
      const values = attributes.get(name);
      if (values) values.push(value);
      else attributes.set(name, [value]);
    }
  }
  return dn === null ? null : { dn, line, attributes };
}
