import { createHash } from 'node:crypto';
import {
  certaintyFor,
  type Excerpt,
  ExcerptQuota,
  excerptsOf,
  type Finding,
  MOST_SHOWN,
  patternsOf,
  type Scanner,
} from '@lantern/core/detection';
import {
  type FieldsFound,
  type InnerPlace,
  type InspectedPart,
  type MovedFile,
  type PartRole,
} from '@lantern/core/movement';
import { fieldsAt, tableRows } from '@lantern/core/text';
import { Budget } from '../budget.js';
import { cellsAt } from '../cells.js';
import { type FileLabels, NO_FILE_LABELS } from '../labels/file-label.js';
import { readFileLabels } from '../labels/label-file.js';
import { openMail } from '../mail.js';
import { fileFacts } from '../named-kind.js';
import type { NamedBytes } from '../part.js';
import { readFile } from '../read-file.js';
import { FindingQuota } from './finding-quota.js';

/** What a channel hands in: its own texts, files to be read, or a whole mail. */
export interface ItemToInspect {
  readonly texts: readonly {
    readonly role: PartRole;
    readonly path: readonly string[];
    readonly text: string;
  }[];
  readonly files: readonly { readonly role: PartRole; readonly name: string; readonly bytes: Uint8Array }[];
  /** A mail as it came (RFC 5322): its subject, bodies and attachments are read out of it. */
  readonly mail?: Uint8Array;
  /** Units of each text that come back; 0 for none. */
  readonly keepTexts: number;
  /** Whether the texts come back whole or not at all, as the journal wants them. */
  readonly wholeTexts?: boolean;
  /** Units of all texts together that come back; left out where only {@link keepTexts} limits them. */
  readonly keepTextsTogether?: number;
  /** Excerpts of as many findings as somebody looks at, in the place of the first of each part. */
  readonly allExcerpts?: boolean;
  /** So many findings come back with their evidence, the first ones of the item: somebody looks at each of them. */
  readonly evidence?: number;
}

/** One part after inspection, with the places worth keeping as evidence. */
export interface InspectedItemPart {
  readonly part: InspectedPart;
  readonly excerpts: readonly Excerpt[];
  readonly notShown: number;
  readonly text: string | null;
  /** So many of its findings, the first ones, have their evidence. */
  readonly withEvidence: number;
}

/** A mail as its reader sees it. */
export interface OpenedMail {
  readonly subject: string;
  readonly body: string;
  readonly attachments: readonly NamedBytes[];
  /** Labels in its head. */
  readonly labels: FileLabels;
}

/** All that one reading of an item gives; it is judged as often as needed. */
export interface InspectedItem {
  readonly parts: readonly InspectedItemPart[];
  /** Of each file, the attachments of a mail included, in their order. */
  readonly files: readonly MovedFile[];
  readonly labels: readonly FileLabels[];
  readonly mail: OpenedMail | null;
  /** SHA-256 (hexadecimal) of all its content, whatever it came in; null where it was not read to its end. */
  readonly digest: string | null;
}

interface Reading {
  readonly scanner: Scanner;
  readonly wanted: (pattern: string) => boolean;
  readonly keepTexts: number;
  /** What is left for the parts that follow. */
  readonly left: { texts: number; evidence: number };
  readonly quota: FindingQuota;
  readonly excerpts: ExcerptQuota;
}

/**
 * Reads and scans everything in an item once, in order. Runs inside a child process. `wanted` says which patterns are
 * worth evidence of their own; others are marked, and so masked, where they stand beside it.
 */
export async function inspectItem(
  item: ItemToInspect,
  scanner: Scanner,
  wanted: (pattern: string) => boolean = () => true,
): Promise<InspectedItem> {
  const reading: Reading = {
    scanner,
    wanted,
    keepTexts: item.keepTexts,
    left: { texts: item.keepTextsTogether ?? Infinity, evidence: item.evidence ?? 0 },
    quota: new FindingQuota(),
    excerpts: item.allExcerpts === true ? new ExcerptQuota(MOST_SHOWN, MOST_SHOWN) : new ExcerptQuota(),
  };
  const opened = item.mail ? await openedMail(item.mail) : null;
  if (opened === 'corrupt') return unreadableMail();
  const texts = [...item.texts, ...(opened?.texts ?? [])];
  const files = [
    ...item.files,
    ...(opened?.mail.attachments ?? []).map((file) => ({ role: 'attachment' as const, ...file })),
  ];
  const parts = texts.map(({ role, path, text }) => scanPart({ role, path, text }, reading));
  const budget = new Budget();
  for (const file of files) {
    for (const read of await readFile(file, budget))
      parts.push(
        read.status === 'read'
          ? scanPart({ role: file.role, ...read }, reading)
          : unreadablePart(file.role, read.path, read.reason),
      );
  }
  return {
    parts: item.wholeTexts === true ? wholeOrNone(parts, item.keepTexts) : parts,
    files: files.map(({ name, bytes }) => fileFacts(name, bytes)),
    labels: await labelsOf(files),
    mail: opened?.mail ?? null,
    digest: digestOf(texts, files),
  };
}

/** Equal for equal content, by whichever door it came. */
function digestOf(
  texts: readonly { readonly text: string }[],
  files: readonly { readonly bytes: Uint8Array }[],
): string {
  const digest = createHash('sha256');
  for (const { text } of texts) digest.update(`\n${text.length}\n`).update(text);
  for (const { bytes } of files) digest.update(`\n${bytes.length}\n`).update(bytes);
  return digest.digest('hex');
}

/** Labels that files carry; what cannot be read carries none. */
async function labelsOf(files: readonly NamedBytes[]): Promise<FileLabels[]> {
  const found: FileLabels[] = [];
  for (const file of files) found.push(await readFileLabels(file).catch(() => NO_FILE_LABELS));
  return found;
}

/** Name under which the labels in the head of a mail are read. */
const MAIL_NAME = 'mail.eml';

async function openedMail(
  bytes: Uint8Array,
): Promise<{ readonly mail: OpenedMail; readonly texts: ItemToInspect['texts'] } | 'corrupt'> {
  try {
    const { subject, texts, attachments } = await openMail(bytes);
    const [labels = NO_FILE_LABELS] = await labelsOf([{ name: MAIL_NAME, bytes }]);
    const body = texts.map(({ text }) => text).join('\n\n');
    return {
      mail: { subject, body, attachments, labels },
      texts: [
        { role: 'subject', path: ['subject'], text: subject },
        ...texts.map(({ name, text }) => ({ role: 'body' as const, path: [name], text })),
      ],
    };
  } catch {
    return 'corrupt';
  }
}

function unreadableMail(): InspectedItem {
  return {
    parts: [unreadablePart('body', ['mail'], 'corrupt')],
    files: [],
    labels: [],
    mail: null,
    digest: null,
  };
}

export function unreadablePart(
  role: PartRole,
  path: readonly string[],
  reason: (InspectedPart & { status: 'unreadable' })['reason'],
): InspectedItemPart {
  return {
    part: { status: 'unreadable', role, path, reason },
    excerpts: [],
    notShown: 0,
    text: null,
    withEvidence: 0,
  };
}

function scanPart(
  source: {
    readonly role: PartRole;
    readonly inner?: InnerPlace;
    readonly path: readonly string[];
    readonly text: string;
    readonly rows?: readonly number[];
  },
  { scanner, wanted, keepTexts, left, quota, excerpts: excerptQuota }: Reading,
): InspectedItemPart {
  const all = withCells(scanner.scan(source.text).findings, source);
  const { excerpts, notShown } = excerptsOf(source.text, all, { wanted, quota: excerptQuota });
  const findings = all.filter((finding) => quota.keeps(finding));
  const rows = source.rows?.length ?? tableRows(source.text);
  const withEvidence = Math.min(findings.length, left.evidence);
  left.evidence -= withEvidence;
  const part: InspectedPart = {
    status: 'read',
    role: source.role,
    ...(source.inner === undefined ? {} : { inner: source.inner }),
    path: source.path,
    characters: source.text.length,
    ...(rows > 0 ? { rows, ...withFields(source.text, all) } : {}),
    findings: findings.map((finding, index) =>
      index < withEvidence ? finding : { ...finding, evidence: NONE, rivals: NONE },
    ),
  };
  const text = keepTexts > 0 ? source.text.slice(0, Math.min(keepTexts, left.texts)) : null;
  left.texts -= text?.length ?? 0;
  return { part, excerpts, notShown, text, withEvidence };
}

const NONE: readonly never[] = [];

/** Columns of one table that are told apart: more are a matrix of numbers. */
const MOST_FIELDS = 200;

/** In which columns each pattern was found, and how certainly. */
function withFields(text: string, findings: readonly Finding[]): { readonly fields?: FieldsFound } {
  const names = fieldsAt(text, findings);
  const fields: Record<string, Record<string, number>> = {};
  const known = new Set<string>();
  findings.forEach((finding, index) => {
    const name = names[index];
    if (name === undefined || (!known.has(name) && known.size >= MOST_FIELDS)) return;
    known.add(name);
    for (const pattern of patternsOf(finding)) {
      // Names of columns come from strangers: nothing is inherited.
      const ofPattern = (fields[pattern] ??= Object.create(null) as Record<string, number>);
      ofPattern[name] = Math.max(ofPattern[name] ?? 0, certaintyFor(finding, pattern));
    }
  });
  return known.size > 0 ? { fields } : {};
}

/** Parts with all of their texts, or with none where they are longer together than is kept. */
function wholeOrNone(parts: readonly InspectedItemPart[], most: number): InspectedItemPart[] {
  const length = parts.reduce((sum, { part }) => sum + (part.status === 'read' ? part.characters : 0), 0);
  return length <= most ? [...parts] : parts.map((part) => ({ ...part, text: null }));
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
