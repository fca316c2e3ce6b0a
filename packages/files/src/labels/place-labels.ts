import { dirname } from 'node:path';
import {
  type Automatic,
  type AutomaticResult,
  type Label,
  labelByRules,
  type LabelledHow,
  type LabelledItem,
  printedMarks,
} from '@lantern/core/labels';
import type { FileLabel } from './file-label.js';
import { type DiskLabelling, labelOnDisk } from './on-disk.js';

/** A file of a place, as rules of labels ask about it. */
export interface FileOfPlace {
  /** Path below its place, with `/`. */
  readonly path: string;
  readonly placeName: string;
  readonly owner: string;
  readonly sharedOutside: boolean;
}

export interface LookedInto {
  readonly findings: LabelledItem['findings'];
  readonly kind: string;
  /** The label it carries. */
  readonly before: FileLabel | null;
}

/** What the rules make of a file at its place. */
export function claimed(
  file: FileOfPlace,
  { rules, labels }: { readonly rules: readonly Automatic[]; readonly labels: readonly Label[] },
  { findings, kind, before }: LookedInto,
): AutomaticResult {
  const inside = dirname(file.path);
  const item: LabelledItem = {
    findings,
    kind,
    place: inside === '.' ? file.placeName : `${file.placeName}/${inside}`,
    owner: file.owner,
    sharedOutside: file.sharedOutside,
    carries: before && { label: before.id as Label['id'], how: before.how },
  };
  return labelByRules(rules, item, labels);
}

/** Writes a label into a file with the marks it prints. `at` in milliseconds; `setBy` is a rule or a person. */
export function setOnDisk(
  path: string,
  label: Label,
  set: { readonly setBy: string; readonly at: number; readonly how: LabelledHow; readonly owner: string },
): Promise<DiskLabelling> {
  const { setBy, at, how, owner } = set;
  const { id, name, rank } = label;
  return labelOnDisk(path, {
    label: { id, name, rank, setBy, setAt: new Date(at).toISOString(), how },
    marks: printedMarks(label, { owner, setter: setBy, at, how }),
  });
}
