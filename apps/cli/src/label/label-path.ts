import { basename } from 'node:path';
import { type Label, labelOfForeign, type LabelShift, labelShift, printedMarks } from '@lantern/core/labels';
import {
  bytesOnDisk,
  type FileLabel,
  type ForeignLabel,
  labelOnDisk,
  labelsOnDisk,
  type LabelToWrite,
  writeFileLabel,
} from '@lantern/files';

/** One file's answer, as `--json` prints it. */
export interface LabelLine {
  readonly path: string;
  /** `beside`: the label stands in a companion; `would-…` in a dry run. */
  readonly status:
    'shown' | 'written' | 'beside' | 'unchanged' | 'refused' | 'would-write' | 'would-stand-beside';
  readonly label: FileLabel | null;
  readonly before?: FileLabel | null;
  readonly shift?: LabelShift;
  readonly reason?: string;
  readonly notes?: readonly string[];
  readonly foreign?: readonly (ForeignLabel & { readonly means: string | null })[];
}

/** A label of the set for one file, with its marks filled in. `at` in milliseconds since 1970. */
export function labelling(
  label: Label,
  { by, owner, at }: { by: string; owner: string; at: number },
): LabelToWrite {
  return {
    label: {
      id: label.id,
      name: label.name,
      rank: label.rank,
      setBy: by,
      setAt: new Date(at).toISOString(),
      how: 'by-hand',
    },
    marks: printedMarks(label, { owner, setter: by, at, how: 'by-hand' }),
  };
}

/** What a file carries. */
export async function showLabel(path: string, labels: readonly Label[]): Promise<LabelLine> {
  const { own, foreign } = await labelsOnDisk(path);
  const line: LabelLine = { path, status: 'shown', label: own };
  if (foreign.length === 0) return line;
  return {
    ...line,
    foreign: foreign.map((each) => ({
      ...each,
      means: labelOfForeign(labels, each.field, each.value)?.name ?? null,
    })),
  };
}

/** Labels a file, or takes its label off where `change` is null. */
export async function changeLabel(
  path: string,
  change: LabelToWrite | null,
  dryRun: boolean,
): Promise<LabelLine> {
  const shift = (before: FileLabel | null): LabelShift =>
    labelShift(before && ranked(before), change && ranked(change.label));
  if (dryRun) {
    const bytes = await bytesOnDisk(path);
    const { own: before } = await labelsOnDisk(path, bytes);
    const writing = await writeFileLabel({ name: basename(path), bytes }, change);
    const common = { path, label: change?.label ?? null, before, shift: shift(before) };
    if (writing.status === 'refused') return { ...common, status: 'refused', reason: writing.reason };
    if (writing.status === 'beside')
      return { ...common, status: before || change ? 'would-stand-beside' : 'unchanged' };
    return { ...common, status: before || change ? 'would-write' : 'unchanged', notes: writing.notes };
  }
  const done = await labelOnDisk(path, change);
  const common = { path, before: done.before, shift: shift(done.before) };
  if (done.status === 'refused')
    return { ...common, label: done.before, status: 'refused', reason: done.reason };
  return { ...common, label: change?.label ?? null, status: done.status, notes: done.notes };
}

const ranked = ({ id, rank }: FileLabel): Pick<Label, 'id' | 'rank'> => ({ id: id as Label['id'], rank });
