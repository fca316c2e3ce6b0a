import { join } from 'node:path';
import { type Scanner } from '@lantern/core/detection';
import type { Automatic, AutomaticOutcome, Label } from '@lantern/core/labels';
import { fileFacts } from '../named-kind.js';
import { readFile } from '../read-file.js';
import type { FileLabel } from './file-label.js';
import { bytesOnDisk, labelsOnDisk } from './on-disk.js';
import { claimed, type FileOfPlace, setOnDisk } from './place-labels.js';

/** A file of a place, as a run hands it to a worker. */
export interface RunFile extends FileOfPlace {
  readonly folder: string;
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
    const set = { setBy: rule?.name ?? '', at: now, how: 'automatically', owner: file.owner } as const;
    const done = await setOnDisk(whole, label, set);
    if (done.status === 'refused') return { ...shown, reason: done.reason, applied: false, setAt: null };
    return { ...shown, reason: null, applied: true, setAt };
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown';
    return { outcome: 'failed', before: null, reason: code.slice(0, 60), ...NOTHING_DONE };
  }
}
