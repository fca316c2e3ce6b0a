import {
  compileScanner,
  type DocumentSource,
  isEverywhere,
  type OwnPattern,
  patternSet,
  type RecordSource,
  type Scanner,
} from '@lantern/core';
import {
  decryptedWith,
  encryptedFor,
  openMail,
  readDocxParagraphs,
  readFileLabels,
  writeDocxParagraphs,
  writeFileLabel,
} from '@lantern/files';
import type { TaskModule } from '@lantern/processes';
import {
  type InspectedItem,
  type InspectedItemPart,
  inspectItem,
  type ItemToInspect,
} from './inspect-item.js';
import { readHandedIn } from './handed-in.js';
import { packFindings, type PackedFindings } from './packed-findings.js';

/** What the processes of a pool look for. */
export interface PatternsOfPool {
  readonly own: readonly OwnPattern[];
  /** Patterns that rules ask for: their findings are kept as evidence first. */
  readonly wanted: readonly string[];
  /** Hashes of own records. */
  readonly records: readonly [string, RecordSource][];
  /** What was learnt from sample documents. */
  readonly documents: readonly [string, DocumentSource][];
}

/** An inspected part as it leaves the process: findings without evidence are packed. */
export type PackedPart = InspectedItemPart & { readonly packed?: PackedFindings };
export type PackedItem = Omit<InspectedItem, 'parts'> & { readonly parts: readonly PackedPart[] };

let scanner: Scanner | undefined;
let wanted: ReadonlySet<string> = new Set();

/** Compiles the patterns; a pool that only reads and writes files is given none. */
export function prepare(data: PatternsOfPool | undefined): void {
  if (!data) return;
  scanner = compileScanner(patternSet(data.own), new Map(data.records), new Map(data.documents));
  wanted = new Set(data.wanted);
}

async function inspect(item: ItemToInspect): Promise<PackedItem> {
  if (!scanner) throw new Error('This process was given no patterns');
  const found = await inspectItem(item, scanner, (pattern) => wanted.has(pattern) || !isEverywhere(pattern));
  return item.evidence === true ? found : { ...found, parts: found.parts.map(packed) };
}

function packed(inspected: InspectedItemPart): PackedPart {
  const { part } = inspected;
  if (part.status === 'unreadable') return inspected;
  return { ...inspected, part: { ...part, findings: [] }, packed: packFindings(part.findings) };
}

/** All work on bytes that strangers made. */
export const tasks = {
  inspect,
  labels: async (files: Parameters<typeof readFileLabels>[0][]) => {
    const found = [];
    for (const file of files) found.push(await readFileLabels(file));
    return found;
  },
  writeLabel: ([file, change]: Parameters<typeof writeFileLabel>) => writeFileLabel(file, change),
  handedIn: ([body, most]: Parameters<typeof readHandedIn>) => readHandedIn(body, most),
  openMail: (bytes: Uint8Array) => openMail(bytes),
  encryptMail: ([raw, certificate]: Parameters<typeof encryptedFor>) => encryptedFor(raw, certificate),
  decryptMail: ([raw, certificate, key]: Parameters<typeof decryptedWith>) =>
    decryptedWith(raw, certificate, key),
  paragraphs: (bytes: Uint8Array) => readDocxParagraphs(bytes),
  writeParagraphs: ([bytes, paragraphs]: Parameters<typeof writeDocxParagraphs>) =>
    writeDocxParagraphs(bytes, paragraphs),
} satisfies TaskModule['tasks'];
