import type { DirectoryEntry } from './entries.js';

/** What is wrong with a file in LDAP Data Interchange Format, and at which line. */
export interface LdifFault {
  readonly code: 'no-entry' | 'no-name' | 'no-colon' | 'bad-base64' | 'address-value' | 'change-record';
  readonly line: number;
  /** True if the whole entry is missing from what was read, false if one value is. */
  readonly losesEntry: boolean;
}

export interface LdifReading {
  readonly entries: readonly DirectoryEntry[];
  readonly faults: readonly LdifFault[];
}

/**
 * Entries of a file (RFC 2849). A value that cannot be read is left out, and so is an entry without a usable name; each is
 * listed as a fault. Values that point to a file or an address are not fetched. Change records are not applied.
 */
export function readLdif(text: string, decodeBase64: (text: string) => string | null): LdifReading {
  const entries: DirectoryEntry[] = [];
  const faults: LdifFault[] = [];
  for (const { line, lines } of records(text)) {
    const entry = readRecord(line, lines, { decodeBase64, faults });
    if (entry) entries.push(entry);
  }
  if (entries.length === 0 && faults.length === 0)
    faults.push({ code: 'no-entry', line: 1, losesEntry: true });
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
  {
    decodeBase64,
    faults,
  }: { readonly decodeBase64: (text: string) => string | null; readonly faults: LdifFault[] },
): DirectoryEntry | null {
  const attributes = new Map<string, string[]>();
  let dn: string | null = null;
  const lost = (code: LdifFault['code'], at: number): null => {
    faults.push({ code, line: at, losesEntry: true });
    return null;
  };
  for (const { number, text } of lines) {
    const colon = text.indexOf(':');
    if (colon <= 0) return lost('no-colon', number);
    // Options behind a name, such as a language, do not matter here.
    const name = (text.slice(0, colon).split(';')[0] ?? '').trim().toLowerCase();
    const value = valueOf(text.slice(colon + 1), decodeBase64);
    if (name === 'version' && dn === null) continue;
    if (name === 'dn' && typeof value !== 'string') return lost(value.code, number);
    if (name === 'dn') dn = String(value);
    else if (dn === null) return lost('no-name', number);
    else if (name === 'changetype') return lost('change-record', number);
    else if (typeof value !== 'string') faults.push({ code: value.code, line: number, losesEntry: false });
    else {
      const values = attributes.get(name);
      if (values) values.push(value);
      else attributes.set(name, [value]);
    }
  }
  return dn === null ? null : { dn, line, attributes };
}

/** The value behind the first colon of a line: plain, in Base64 behind a second colon, or the address of a file. */
function valueOf(
  written: string,
  decodeBase64: (text: string) => string | null,
): string | { readonly code: 'bad-base64' | 'address-value' } {
  if (written.startsWith('<')) return { code: 'address-value' };
  if (!written.startsWith(':')) return written.replace(/^ +/, '');
  return decodeBase64(written.slice(1).replace(/^ +/, '')) ?? { code: 'bad-base64' };
}
