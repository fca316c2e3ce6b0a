import { lstat, open, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { type Finding, mask, type Scanner } from '@lantern/core/detection';
import {
  COMPANION_ENDING,
  type FileLabel,
  type ForeignLabel,
  labelsOnDisk,
  MAX_FILE_BYTES,
  readFile,
  readFileLabels,
  type ReadPart,
} from '@lantern/files';
import type { InspectChoices } from './usage.js';

/** One file's answer, as `--json` prints it. Offsets are UTF-16 units of the extracted text. */
export interface InspectLine {
  readonly path: string;
  readonly status: 'read' | 'unreadable';
  readonly reason?: string;
  readonly characters: number;
  readonly findings: readonly {
    readonly pattern: string;
    readonly start: number;
    readonly end: number;
    readonly certainty: number;
    readonly text: string;
    readonly evidence: readonly { readonly code: string; readonly weight: number }[];
  }[];
  /** The label it carries, in itself or in the companion beside it. */
  readonly label?: FileLabel;
  /** What looks like a label of another maker. */
  readonly foreignLabels?: readonly ForeignLabel[];
  /** Parts inside the file that could not be read. */
  readonly unreadableParts?: readonly { readonly path: string; readonly reason: string }[];
}

/** Told of what could not be opened; the rest goes on. */
export type OnProblem = (path: string, message: string) => void;

/** Every file at or below `path`, in a stable order; symbolic links are not followed. Throws for what cannot be opened, unless told where to say so. */
export async function* filesBelow(path: string, onProblem?: OnProblem): AsyncGenerator<string> {
  const open = async <Value>(at: string, look: () => Promise<Value>): Promise<Value | null> => {
    try {
      return await look();
    } catch (error) {
      if (!onProblem) throw error;
      onProblem(at, error instanceof Error ? error.message : 'could not be opened');
      return null;
    }
  };
  const found = await open(path, () => lstat(path));
  if (!found?.isDirectory()) {
    if (found) yield path;
    return;
  }
  for (const name of (await open(path, () => readdir(path)))?.sort() ?? []) {
    const below = join(path, name);
    const entry = await open(below, () => lstat(below));
    if (entry?.isDirectory()) yield* filesBelow(below, onProblem);
    else if (entry?.isFile()) yield below;
  }
}

/** Bytes of a file, or of standard input for `-`; never more than one over the limit. */
export async function bytesOf(path: string): Promise<Uint8Array> {
  if (path === '-') return buffer(process.stdin);
  const handle = await open(path, 'r');
  try {
    const { size } = await handle.stat();
    const room = Buffer.alloc(Math.min(size, MAX_FILE_BYTES + 1));
    let filled = 0;
    while (filled < room.length) {
      const { bytesRead } = await handle.read(room, filled, room.length - filled, filled);
      if (bytesRead === 0) break;
      filled += bytesRead;
    }
    return room.subarray(0, filled);
  } finally {
    await handle.close();
  }
}

/** A blank line keeps the texts of one file apart, so that nothing is found across their border. */
const BETWEEN_PARTS = '\n\n';

/** Reads and scans one file. Its parts are one text, one behind the other. */
export async function inspectFile(
  path: string,
  bytes: Uint8Array,
  scanner: Scanner,
  choices: InspectChoices,
): Promise<InspectLine> {
  const labels = await labelFields(path, bytes);
  const parts = await readFile({ name: path, bytes });
  const readable = parts.flatMap((part) => (part.status === 'read' ? [part] : []));
  const broken = parts.flatMap((part) => (part.status === 'unreadable' ? [part] : []));
  const first = broken[0];
  if (readable.length === 0 && first)
    return { path, status: 'unreadable', reason: first.reason, characters: 0, findings: [], ...labels };
  const texts = readable.map((part) => part.text);
  const findings = findingsIn(readable, scanner, choices);
  const characters = texts.join(BETWEEN_PARTS).length;
  const line: InspectLine = { path, status: 'read', characters, findings, ...labels };
  if (broken.length === 0) return line;
  return {
    ...line,
    unreadableParts: broken.map((part) => ({ path: part.path.slice(1).join(' › '), reason: part.reason })),
  };
}

async function labelFields(
  path: string,
  bytes: Uint8Array,
): Promise<Pick<InspectLine, 'label' | 'foreignLabels'>> {
  if (path.endsWith(COMPANION_ENDING)) return {};
  const { own, foreign } = await (path === '-'
    ? readFileLabels({ name: path, bytes })
    : labelsOnDisk(path, bytes));
  return { ...(own ? { label: own } : {}), ...(foreign.length > 0 ? { foreignLabels: foreign } : {}) };
}

function findingsIn(
  parts: readonly (ReadPart & { status: 'read' })[],
  scanner: Scanner,
  choices: InspectChoices,
): InspectLine['findings'] {
  let offset = 0;
  return parts.flatMap((part) => {
    const start = offset;
    offset += part.text.length + BETWEEN_PARTS.length;
    return scanner
      .scan(part.text)
      .findings.filter((finding) => finding.certainty >= choices.minCertainty)
      .map((finding) => toLine(finding, part.text, start, choices.showValues));
  });
}

function toLine(
  finding: Finding,
  text: string,
  offset: number,
  showValues: boolean,
): InspectLine['findings'][number] {
  const value = text.slice(finding.start, finding.end);
  return {
    pattern: finding.pattern,
    start: offset + finding.start,
    end: offset + finding.end,
    certainty: finding.certainty,
    text: showValues ? value : mask(value),
    evidence: finding.evidence.map(({ code, weight }) => ({
      code,
      weight: Math.round(weight * 1000) / 1000,
    })),
  };
}
