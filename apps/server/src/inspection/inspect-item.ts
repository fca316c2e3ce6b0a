import { type Finding, type InspectedPart, type PartRole, type Scanner, tableRows } from '@lantern/core';
import { Budget, cellsAt, readFile } from '@lantern/files';
import { type Excerpt, excerptsOf } from './excerpts.js';

/** What a channel hands in: its own texts, and files to be read. */
export interface ItemToInspect {
  readonly texts: readonly {
    readonly role: PartRole;
    readonly path: readonly string[];
    readonly text: string;
  }[];
  readonly files: readonly { readonly role: PartRole; readonly name: string; readonly bytes: Uint8Array }[];
  /** Whether texts come back, cut to `keepTexts` units each: only the Lantern asks for it. */
  readonly keepTexts: number;
}

/** One part after inspection, with the places worth keeping as evidence. */
export interface InspectedItemPart {
  readonly part: InspectedPart;
  readonly excerpts: readonly Excerpt[];
  readonly notShown: number;
  readonly text: string | null;
}

/**
 * Reads and scans everything in an item, in order. Runs inside a worker thread. `wanted` says which patterns are worth
 * evidence of their own; others are marked, and so masked, where they stand beside it.
 */
export async function inspectItem(
  item: ItemToInspect,
  scanner: Scanner,
  wanted: (pattern: string) => boolean = () => true,
): Promise<InspectedItemPart[]> {
  const parts = item.texts.map(({ role, path, text }) =>
    scanPart({ role, path, text, keep: item.keepTexts }, scanner, wanted),
  );
  const budget = new Budget();
  for (const file of item.files) {
    for (const read of await readFile(file, budget)) {
      if (read.status === 'read')
        parts.push(scanPart({ role: file.role, ...read, keep: item.keepTexts }, scanner, wanted));
      else
        parts.push({
          part: { status: 'unreadable', role: file.role, path: read.path, reason: read.reason },
          excerpts: [],
          notShown: 0,
          text: null,
        });
    }
  }
  return parts;
}

function scanPart(
  source: {
    role: PartRole;
    path: readonly string[];
    text: string;
    keep: number;
    rows?: readonly number[];
  },
  scanner: Scanner,
  wanted: (pattern: string) => boolean,
): InspectedItemPart {
  const findings = withCells(scanner.scan(source.text).findings, source);
  const { excerpts, notShown } = excerptsOf(source.text, findings, wanted);
  const rows = source.rows?.length ?? tableRows(source.text);
  const part: InspectedPart = {
    status: 'read',
    role: source.role,
    path: source.path,
    characters: source.text.length,
    ...(rows > 0 ? { rows } : {}),
    findings,
  };
  return { part, excerpts, notShown, text: source.keep > 0 ? source.text.slice(0, source.keep) : null };
}

/** Findings of a sheet with the cell where each stands; they are in the order of the text. */
function withCells(
  findings: readonly Finding[],
  { text, rows }: { readonly text: string; readonly rows?: readonly number[] },
): readonly Finding[] {
  if (!rows) return findings;
  const cells = cellsAt(
    text,
    findings.map(({ start }) => start),
    rows,
  );
  return findings.map((finding, index) => {
    const cell = cells[index];
    return cell === undefined ? finding : { ...finding, cell };
  });
}
