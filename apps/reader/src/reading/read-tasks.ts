import { createHash } from 'node:crypto';
import type { ReadExcerpt, ReadResult } from '@lantern/contracts/discovery';
import {
  compileScanner,
  ExcerptQuota,
  excerptsOf,
  type Finding,
  isEverywhere,
  maskedExcerpt,
  type OwnPattern,
  patternSet,
  type Scanner,
} from '@lantern/core/detection';
import type { Automatic, Label } from '@lantern/core/labels';
import {
  bytesOnDisk,
  claimed,
  type FileLabel,
  fileFacts,
  labelsOnDisk,
  readFile,
  readFileLabels,
  setOnDisk,
} from '@lantern/files';
import type { TaskModule } from '@lantern/processes';
import type { StoreContent } from '../stores/store.js';
import type { OwnKnowledge } from './own-knowledge.js';
import { readLarge, type Scanned } from './read-large.js';
import { unreadable } from './unreadable.js';
import { judgeOffline, type OfflineTask, type OfflineVerdict } from '../watching/judge-offline.js';

/** What the processes of a reader know: the published revision. */
export interface ReadingData {
  readonly own: readonly OwnPattern[];
  readonly wanted: readonly string[];
  readonly labels: readonly Label[];
  readonly automatic: readonly Automatic[];
  /** Own records and documents, for one run; left out for none. */
  readonly knowledge?: OwnKnowledge;
}

export interface ReadTask {
  readonly id: string;
  /** Path below its place. */
  readonly path: string;
  readonly content: Extract<StoreContent, { kind: 'path' | 'bytes' }>;
  readonly place: { readonly name: string; readonly owner: string; readonly isOutside: boolean };
  /** Sets the label that rules call for, where the item lies on this machine. */
  readonly labels: boolean;
}

/** A result, and the processor time it took in milliseconds. */
export interface TimedResult {
  readonly result: ReadResult;
  readonly processor: number;
}

export interface LabelTask {
  readonly path: string;
  readonly owner: string;
  readonly label: Label;
  readonly by: string;
}

/** Excerpts of one item that leave its machine. */
const MOST_EXCERPTS = 40;
const MOST_BROKEN = 100;
/** Longest excerpt that leaves, in UTF-16 units. */
const LONGEST_EXCERPT = 3_000;

let given: ReadingData | undefined;
let scanner: Scanner | undefined;
let wanted: ReadonlySet<string> = new Set();

export function prepare(data: ReadingData): void {
  given = data;
  wanted = new Set(data.wanted);
  const { knowledge } = data;
  scanner = compileScanner(
    patternSet([...data.own, ...(knowledge?.own ?? [])]),
    new Map(knowledge?.records),
    new Map(knowledge?.documents),
  );
}

async function read(task: ReadTask): Promise<TimedResult> {
  const before = process.cpuUsage();
  const result = await resultOf(task);
  const { user, system } = process.cpuUsage(before);
  return { result, processor: (user + system) / 1_000 };
}

/** What reading an item gave, in one go or in pieces. */
interface Looked {
  readonly digest: string;
  readonly bytes: number;
  /** Its first bytes, or all of them. */
  readonly head: Uint8Array;
  readonly characters: number;
  readonly findings: readonly Finding[];
  readonly found: ReadResult['found'];
  readonly excerpts: readonly ReadExcerpt[];
  readonly unreadableParts: ReadResult['unreadableParts'];
  /** Why nothing of it could be read. */
  readonly reason: string | null;
}

async function resultOf(task: ReadTask): Promise<ReadResult> {
  const { content } = task;
  const large = content.kind === 'path' ? content.large : undefined;
  const looked =
    content.kind === 'path' && large !== undefined
      ? await lookInPieces(content.path, large)
      : await lookInto(task);
  if (!looked) return unreadable(task.id, 'too-large');
  const { digest, bytes, head, characters, unreadableParts, reason } = looked;
  const own = await ownLabel(content, head);
  const base = {
    ...{ id: task.id, digest, bytes, unreadableParts },
    label: own && { id: own.id, name: own.name, rank: own.rank },
  };
  if (reason !== null)
    return {
      ...base,
      ...{ status: 'unreadable', reason, characters: 0, found: [], excerpts: [] },
      ...{ suggested: null, labelled: false, refusal: null },
    };
  const suggested = suggestionFor(task, { findings: looked.findings, bytes: head, own });
  const done =
    suggested?.acts && task.labels && content.kind === 'path'
      ? await setLabel(content.path, task, suggested)
      : null;
  return {
    ...base,
    ...{ status: 'read', reason: null, characters, found: looked.found },
    excerpts: looked.excerpts.slice(0, MOST_EXCERPTS),
    ...labelAfter(base.label, done === null ? null : suggested, done?.status),
    suggested: suggested?.label.id ?? null,
    refusal: done?.status === 'refused' ? done.reason : null,
  };
}

async function lookInto({ path, content }: ReadTask): Promise<Looked> {
  const bytes = content.kind === 'path' ? await bytesOnDisk(content.path) : content.bytes;
  const parts = await readFile({ name: content.kind === 'path' ? path : content.name, bytes });
  const readable = parts.flatMap((part) => (part.status === 'read' ? [part] : []));
  const broken = parts.flatMap((part) =>
    part.status === 'unreadable'
      ? [{ path: part.path.slice(1).join(' › ').slice(0, 1_000), reason: part.reason }]
      : [],
  );
  const quota = new ExcerptQuota();
  const scanned = readable.map(({ path: place, text }) =>
    scannedPart({ name: place.slice(1).join(' › '), text, from: 0, to: text.length }, quota),
  );
  const findings = scanned.flatMap((part) => part.findings);
  return {
    digest: createHash('sha256').update(bytes).digest('hex'),
    ...{ bytes: bytes.length, head: bytes, findings },
    characters: readable.reduce((sum, { text }) => sum + text.length, 0),
    found: countedByPattern(findings.filter(counts)),
    excerpts: scanned.flatMap(({ excerpts }) => excerpts),
    unreadableParts: broken.slice(0, MOST_BROKEN),
    reason: readable.length === 0 ? (broken[0]?.reason ?? null) : null,
  };
}

/** A text larger than what is opened in one go; null for anything else as large. */
async function lookInPieces(path: string, bytes: number): Promise<Looked | null> {
  const quota = new ExcerptQuota();
  const sums = new Map<string, { count: number; certainty: number }>();
  const read = await readLarge(
    path,
    bytes,
    (part) => scannedPart(part, quota),
    (findings) => {
      for (const { pattern, count, certainty } of countedByPattern(findings.filter(counts))) {
        const known = sums.get(pattern) ?? { count: 0, certainty: 0 };
        sums.set(pattern, {
          count: known.count + count,
          certainty: Math.max(known.certainty, certainty),
        });
      }
    },
  );
  const found = [...sums].map(([pattern, sum]) => ({ pattern, ...sum }));
  return read && { ...read, bytes, found, unreadableParts: [], reason: null };
}

/** The label that an item carries after the run, and whether the run set it. */
function labelAfter(
  before: ReadResult['label'],
  suggested: Suggestion | null,
  status: 'written' | 'beside' | 'unchanged' | 'refused' | undefined,
): Pick<ReadResult, 'label' | 'labelled'> {
  if (!suggested || (status !== 'written' && status !== 'beside')) return { label: before, labelled: false };
  const { id, name, rank } = suggested.label;
  return { label: { id, name, rank }, labelled: true };
}

/** Findings that stand in nearly every text count only where a rule asks for them. */
const counts = ({ pattern }: Finding): boolean => wanted.has(pattern) || !isEverywhere(pattern);

/** A text, and between which places what is found in it counts. */
interface Part {
  readonly name: string;
  readonly text: string;
  readonly from: number;
  readonly to: number;
}

function scannedPart({ name, text, from, to }: Part, quota: ExcerptQuota): Scanned<ReadExcerpt> {
  if (!scanner) throw new Error('This process was given no patterns');
  const findings = scanner.scan(text).findings.filter(({ start }) => start >= from && start < to);
  const cut = excerptsOf(text, findings, {
    wanted: (pattern) => wanted.has(pattern) || !isEverywhere(pattern),
    quota,
  });
  return {
    findings,
    excerpts: cut.excerpts
      .map((excerpt) => ({ part: name.slice(0, 1_000), ...maskedExcerpt(excerpt) }))
      .filter((excerpt) => excerpt.text.length <= LONGEST_EXCERPT),
  };
}

function countedByPattern(findings: readonly Finding[]): ReadResult['found'] {
  const found = new Map<string, { count: number; certainty: number }>();
  for (const { pattern, certainty } of findings) {
    const known = found.get(pattern) ?? { count: 0, certainty: 0 };
    found.set(pattern, { count: known.count + 1, certainty: Math.max(known.certainty, certainty) });
  }
  return [...found].map(([pattern, sum]) => ({ pattern, ...sum }));
}

async function ownLabel(content: ReadTask['content'], bytes: Uint8Array): Promise<FileLabel | null> {
  try {
    const labels =
      content.kind === 'path'
        ? await labelsOnDisk(content.path, bytes)
        : await readFileLabels({ name: content.name, bytes });
    return labels.own;
  } catch {
    return null;
  }
}

interface Suggestion {
  readonly label: Label;
  /** A rule that only suggests leaves the label to people. */
  readonly acts: boolean;
  readonly rule: Automatic | undefined;
}

function suggestionFor(
  task: ReadTask,
  { findings, bytes, own }: { findings: readonly Finding[]; bytes: Uint8Array; own: FileLabel | null },
): Suggestion | null {
  const { labels = [], automatic = [] } = given ?? {};
  const { name: placeName, owner, isOutside: sharedOutside } = task.place;
  const kind = fileFacts(task.path, bytes).kind;
  const result = claimed(
    { path: task.path, placeName, owner, sharedOutside },
    { rules: automatic, labels },
    { findings, kind, before: own },
  );
  const label = labels.find(({ id }) => id === result.label);
  const called = ['labelled', 'suggested', 'raised', 'lowered'].includes(result.outcome);
  return label && called
    ? { label, acts: result.outcome !== 'suggested', rule: automatic.find(({ id }) => id === result.rule) }
    : null;
}

function setLabel(path: string, { place }: ReadTask, { label, rule }: Suggestion) {
  const set = { setBy: rule?.name ?? '', at: Date.now(), how: 'automatically', owner: place.owner } as const;
  return setOnDisk(path, label, set);
}

async function judge(task: OfflineTask): Promise<OfflineVerdict> {
  if (!given || !scanner) throw new Error('This process was given no patterns');
  const { labels, automatic } = given;
  return judgeOffline(task, scanner, { labels, automatic, offers: [] });
}

/** All work on bytes that strangers made: in processes of their own, so that a bad one ends nothing else. */
export const tasks = {
  read,
  judge,
  /** A label that somebody chose: no rule lowers it later. */
  label: async ({ path, label, by, owner }: LabelTask): Promise<string | null> => {
    const done = await setOnDisk(path, label, { setBy: by, at: Date.now(), how: 'by-hand', owner });
    return done.status === 'refused' ? done.reason : null;
  },
} satisfies TaskModule['tasks'];
