import { LABELLED_HOW, type LabelledHow, type PrintedMark } from '@lantern/core/labels';
import type { NamedBytes } from '../part.js';

/** A label as it travels in a file; docs/formats/file-labels.md describes each carrier. */
export interface FileLabel {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  /** Who set it. */
  readonly setBy: string;
  /** ISO 8601, UTC. */
  readonly setAt: string;
  readonly how: LabelledHow;
}

/** What looks like a label of another maker. */
export interface ForeignLabel {
  readonly field: string;
  readonly value: string;
}

export interface FileLabels {
  readonly own: FileLabel | null;
  readonly foreign: readonly ForeignLabel[];
}

export const NO_FILE_LABELS: FileLabels = { own: null, foreign: [] };

/** A label to be written, with the lines it prints. */
export interface LabelToWrite {
  readonly label: FileLabel;
  readonly marks: readonly PrintedMark[];
}

/** Something that was left undone, and why. */
export const LABEL_NOTES = ['no-place-across', 'header-full', 'no-marks-here', 'body-sealed'] as const;
export type LabelNote = (typeof LABEL_NOTES)[number];

export const LABEL_REFUSALS = ['encrypted', 'signed', 'corrupt', 'too-large', 'expands-too-far'] as const;
export type LabelRefusal = (typeof LABEL_REFUSALS)[number];

export type LabelWriting =
  | { readonly status: 'written'; readonly bytes: Uint8Array; readonly notes: readonly LabelNote[] }
  /** The file has no room for a label: it belongs into a companion beside it, which holds these bytes; null to remove it. */
  | { readonly status: 'beside'; readonly companion: Uint8Array | null }
  | { readonly status: 'refused'; readonly reason: LabelRefusal };

/** Changes the label of one kind of file; null takes it off. */
export type LabelWriter = (file: NamedBytes, change: LabelToWrite | null) => Promise<LabelWriting>;

/** Names of the fields in documents and metadata. */
export const FIELDS = {
  id: 'LanternLabelId',
  name: 'LanternLabelName',
  rank: 'LanternLabelRank',
  setBy: 'LanternLabelSetBy',
  setAt: 'LanternLabelSetAt',
  how: 'LanternLabelHow',
} as const satisfies Readonly<Record<keyof FileLabel, string>>;

/** Namespace of the same fields where a format has namespaces. */
export const NAMESPACE = 'urn:uncut-lantern:label:1#';

/** Remembers the exact lines that were printed where a format has no other way to find them again. */
export const MARKS_FIELD = 'LanternLabelMarks';

/** Longest value that is believed; labels are short. */
const MAX_VALUE = 1_000;

/** Fields of a label by their names. */
export function labelFields(label: FileLabel): [name: string, value: string][] {
  return (Object.keys(FIELDS) as (keyof FileLabel)[]).map((key) => [FIELDS[key], String(label[key])]);
}

/** The label that fields make, by their names; null where the id or the name is missing. */
export function labelFrom(fields: ReadonlyMap<string, string>): FileLabel | null {
  const value = (key: keyof FileLabel): string => (fields.get(FIELDS[key]) ?? '').trim().slice(0, MAX_VALUE);
  const id = value('id');
  const name = value('name');
  if (id === '' || name === '') return null;
  const rank = Number(value('rank'));
  return {
    id,
    name,
    rank: Number.isFinite(rank) ? rank : 0,
    setBy: value('setBy'),
    setAt: value('setAt'),
    how: LABELLED_HOW.find((how) => how === value('how')) ?? 'by-hand',
  };
}

const TELLS_OF_LABEL = /label|classif|sensitiv|confidential|protective.?mark/i;
const MAX_FOREIGN = 20;

/** Fields that another maker's label may stand in. */
export function foreignFrom(fields: Iterable<readonly [name: string, value: string]>): ForeignLabel[] {
  const found: ForeignLabel[] = [];
  for (const [field, value] of fields) {
    if (field.startsWith('LanternLabel') || !TELLS_OF_LABEL.test(field) || value.trim() === '') continue;
    found.push({ field: field.slice(0, 200), value: value.trim().slice(0, MAX_VALUE) });
    if (found.length >= MAX_FOREIGN) break;
  }
  return found;
}

export function refused(reason: LabelRefusal): LabelWriting {
  return { status: 'refused', reason };
}
