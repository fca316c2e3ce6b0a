import { existsSync } from 'node:fs';
import { type Finding, mask, type Scanner } from '@lantern/core/detection';
import {
  COMPANION_ENDING,
  type FileLabel,
  type ForeignLabel,
  labelsOnDisk,
  readFile,
  readFileLabels,
  type ReadPart,
  readPiece,
} from '@lantern/files/reading';
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
  /** Findings beyond the first 100,000, which are counted alone. */
  readonly notShown?: number;
  /** Parts inside the file that could not be read. */
  readonly unreadableParts?: readonly { readonly path: string; readonly reason: string }[];
}

/** A blank line keeps the texts of one file apart, so that nothing is found across their border. */
const BETWEEN_PARTS = '\n\n';

/** What was found in one piece of a text too large to be held; offsets count from the beginning of its own part. */
export interface PieceLine {
  readonly characters: number;
  readonly findings: InspectLine['findings'];
  /** Labels of the file, which come with the first piece. */
  readonly labels?: Labels;
}

type Labels = Pick<InspectLine, 'label' | 'foreignLabels'>;

/** Reads and scans one piece of a large text; null if the file is not text. Findings that begin in another piece are left out. */
export async function inspectPiece(
  path: string,
  number: number,
  scanner: Scanner,
  choices: InspectChoices,
): Promise<PieceLine | null> {
  const piece = readPiece(path, number);
  if (!piece) return null;
  const { text, from, to } = piece;
  const findings = scanner
    .scan(text)
    .findings.filter(
      ({ start, certainty }) => certainty >= choices.minCertainty && start >= from && start < to,
    )
    .map((finding) => toLine(finding, text, -from, choices.showValues));
  // A text this long carries its label in the companion beside it.
  const labels = number === 0 ? { labels: await labelFields(path, new Uint8Array()) } : {};
  return { characters: to - from, findings, ...labels };
}

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

async function labelFields(path: string, bytes: Uint8Array): Promise<Labels> {
  if (path.endsWith(COMPANION_ENDING)) return {};
  const { own, foreign } = await (path === '-' || !existsSync(path + COMPANION_ENDING)
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
