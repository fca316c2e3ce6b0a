import { dirname, join } from 'node:path';
import { type Scanner } from '@lantern/core/detection';
import {
  type Automatic,
  type AutomaticOutcome,
  type AutomaticResult,
  type Label,
  labelByRules,
  type LabelledItem,
  printedMarks,
} from '@lantern/core/labels';
import { fileFacts } from '../named-kind.js';
import { readFile } from '../read-file.js';
import type { FileLabel } from './file-label.js';
import { bytesOnDisk, labelOnDisk, labelsOnDisk } from './on-disk.js';

/** A file of a place, as a run hands it to a worker. */
export interface RunFile {
  readonly folder: string;
  /** Path below the folder of its place, with `/`. */
  readonly path: string;
  readonly placeName: string;
  readonly owner: string;
  readonly sharedOutside: boolean;
  /** Rules that may still label: those over their limit only look. */
  readonly spent: readonly string[];
}

/** What a worker says about a file. */
export interface RunFileResult {
  readonly outcome: AutomaticOutcome | 'unreadable' | 'failed';
  readonly before: FileLabel | null;
  readonly label: string | null;
  readonly rule: string | null;
  readonly outranked: readonly string[];
  readonly held: readonly { readonly pattern: string; readonly count: number }[];
  readonly reason: string | null;
  readonly applied: boolean;
  readonly setAt: string | null;
}

export interface RunRules {
  readonly rules: readonly Automatic[];
  readonly labels: readonly Label[];
  readonly does: 'look' | 'label';
}

interface Looked {
  readonly findings: LabelledItem['findings'];
  readonly kind: string;
  readonly before: FileLabel | null;
}

/** What the rules make of a file at its place. */
function claimed(file: RunFile, given: RunRules, { findings, kind, before }: Looked): AutomaticResult {
  const inside = dirname(file.path);
  const item: LabelledItem = {
    findings,
    kind,
    place: inside === '.' ? file.placeName : `${file.placeName}/${inside}`,
    owner: file.owner,
    sharedOutside: file.sharedOutside,
    carries: before && { label: before.id as Label['id'], how: before.how },
  };
  return labelByRules(given.rules, item, given.labels);
}

const NOTHING_DONE = {
  label: null,
  rule: null,
  outranked: [],
  held: [],
  applied: false,
  setAt: null,
} as const;

/** Looks at one file and labels it where a rule says so. One bad file stops no other. `now` in milliseconds. */
export async function runFile(
  file: RunFile,
  given: RunRules,
  scanner: Scanner,
  now: number,
): Promise<RunFileResult> {
  const whole = join(file.folder, file.path);
  try {
    const bytes = await bytesOnDisk(whole);
    const { own: before } = await labelsOnDisk(whole, bytes);
    const parts = await readFile({ name: file.path, bytes });
    const read = parts.flatMap((part) => (part.status === 'read' ? [part] : []));
    const broken = parts.find((part) => part.status === 'unreadable');
    if (read.length === 0 && broken?.status === 'unreadable')
      return { outcome: 'unreadable', before, reason: broken.reason, ...NOTHING_DONE };
    const result = claimed(file, given, {
      findings: read.flatMap(({ text }) => scanner.scan(text).findings),
      kind: fileFacts(file.path, bytes).kind,
      before,
    });
    const shown = {
      outcome: result.outcome,
      before,
      label: result.label,
      rule: result.rule,
      outranked: result.outranked,
      held: result.held,
    };
    const acts = ['labelled', 'raised', 'lowered'].includes(result.outcome);
    const label = given.labels.find(({ id }) => id === result.label);
    if (given.does === 'look' || !acts || !label)
      return { ...shown, reason: null, applied: false, setAt: null };
    if (file.spent.includes(result.rule ?? ''))
      return { ...shown, reason: 'limit', applied: false, setAt: null };
    const rule = given.rules.find(({ id }) => id === result.rule);
    const setAt = new Date(now).toISOString();
    const setBy = rule?.name ?? '';
    const done = await labelOnDisk(whole, {
      label: { id: label.id, name: label.name, rank: label.rank, setBy, setAt, how: 'automatically' },
      marks: printedMarks(label, { owner: file.owner, setter: setBy, at: now, how: 'automatically' }),
    });
    if (done.status === 'refused') return { ...shown, reason: done.reason, applied: false, setAt: null };
    return { ...shown, reason: null, applied: true, setAt };
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown';
    return { outcome: 'failed', before: null, reason: code.slice(0, 60), ...NOTHING_DONE };
  }
}
