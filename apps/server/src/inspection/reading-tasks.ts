import {
  compileScanner,
  type DocumentSource,
  isEverywhere,
  type OwnPattern,
  patternSet,
  type RecordSource,
  type Scanner,
  packFindings,
  type PackedFindings,
} from '@lantern/core/detection';
import {
  decryptedWith,
  encryptedFor,
  openMail,
  readDocxParagraphs,
  readFile,
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
} from '@lantern/files/inspect';
import type { WireFindings } from '@lantern/contracts';
import { toWire } from './wire-findings.js';
import { readHandedEvents } from './handed-events.js';
import { readHandedIn } from './handed-in.js';
import { writeTable } from './write-table.js';

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

/** An inspected part as it leaves the process: its findings without evidence are packed. */
export type PackedPart = InspectedItemPart & { readonly packed?: PackedFindings };
export type PackedItem = Omit<InspectedItem, 'parts'> & { readonly parts: readonly PackedPart[] };
/** The same for somebody who looks at it: packed as JSON takes it, so that the server passes it on as it is. */
export type WiredPart = InspectedItemPart & { readonly wire: WireFindings };
export type WiredItem = Omit<InspectedItem, 'parts'> & { readonly parts: readonly WiredPart[] };

let scanner: Scanner | undefined;
let wanted: ReadonlySet<string> = new Set();

/** Compiles the patterns; a pool that only reads and writes files is given none. */
export function prepare(data: PatternsOfPool | undefined): void {
  if (!data) return;
  scanner = compileScanner(patternSet(data.own), new Map(data.records), new Map(data.documents));
  wanted = new Set(data.wanted);
}

function inspected(item: ItemToInspect): Promise<InspectedItem> {
  if (!scanner) throw new Error('This process was given no patterns');
  return inspectItem(item, scanner, (pattern) => wanted.has(pattern) || !isEverywhere(pattern));
}

async function inspect(item: ItemToInspect): Promise<PackedItem> {
  const found = await inspected(item);
  return { ...found, parts: found.parts.map(packed) };
}

async function look(item: ItemToInspect): Promise<WiredItem> {
  const found = await inspected(item);
  const parts = found.parts.map((part) => {
    const { packed: rest = packFindings([]), ...shown } = packed(part);
    return { ...shown, wire: toWire(rest) };
  });
  return { ...found, parts };
}

function packed(one: InspectedItemPart): PackedPart {
  const { part, withEvidence } = one;
  if (part.status === 'unreadable') return one;
  return {
    ...one,
    part: { ...part, findings: part.findings.slice(0, withEvidence) },
    packed: packFindings(part.findings.slice(withEvidence)),
  };
}

/** All work on bytes that strangers made. */
export const tasks = {
  inspect,
  look,
  labels: async (files: Parameters<typeof readFileLabels>[0][]) => {
    const found = [];
    for (const file of files) found.push(await readFileLabels(file));
    return found;
  },
  writeLabel: ([file, change]: Parameters<typeof writeFileLabel>) => writeFileLabel(file, change),
  handedIn: ([body, most]: Parameters<typeof readHandedIn>) => readHandedIn(body, most),
  handedEvents: (given: Parameters<typeof readHandedEvents>) => readHandedEvents(...given),
  openMail: (bytes: Uint8Array) => openMail(bytes),
  encryptMail: ([raw, certificate]: Parameters<typeof encryptedFor>) => encryptedFor(raw, certificate),
  decryptMail: ([raw, certificate, key]: Parameters<typeof decryptedWith>) =>
    decryptedWith(raw, certificate, key),
  writeTable,
  texts: async (file: Parameters<typeof readFile>[0]) =>
    (await readFile(file)).flatMap((part) => (part.status === 'read' ? [part.text] : [])),
  paragraphs: (bytes: Uint8Array) => readDocxParagraphs(bytes),
  writeParagraphs: ([bytes, paragraphs]: Parameters<typeof writeDocxParagraphs>) =>
    writeDocxParagraphs(bytes, paragraphs),
} satisfies TaskModule['tasks'];
