import {
  type FileLabel,
  type FileLabels,
  labelFields,
  labelFrom,
  type LabelWriting,
  NO_FILE_LABELS,
} from './file-label.js';

/** Name and version of the format; docs/formats/file-labels.md describes it. */
export const COMPANION_FORMAT = 'uncut-lantern label 1';
/** Ending of the file that stands beside one without room for a label. */
export const COMPANION_ENDING = '.label.json';
/** Larger ones are none of ours. */
const MAX_COMPANION_BYTES = 64 * 1024;

/** The companion of a file, named for it, so that it is not taken for another's when both are moved. */
export function writeCompanion(file: string, label: FileLabel | null): LabelWriting {
  if (!label) return { status: 'beside', companion: null };
  const content = { format: COMPANION_FORMAT, file, ...Object.fromEntries(labelFields(label)) };
  return { status: 'beside', companion: new TextEncoder().encode(`${JSON.stringify(content, null, 2)}\n`) };
}

export function readCompanion(bytes: Uint8Array): FileLabels {
  if (bytes.length > MAX_COMPANION_BYTES) return NO_FILE_LABELS;
  try {
    const content: unknown = JSON.parse(new TextDecoder().decode(bytes));
    if (typeof content !== 'object' || content === null) return NO_FILE_LABELS;
    const fields = content as Record<string, unknown>;
    if (fields['format'] !== COMPANION_FORMAT) return NO_FILE_LABELS;
    return {
      own: labelFrom(new Map(Object.entries(fields).map(([name, value]) => [name, String(value)]))),
      foreign: [],
    };
  } catch {
    return NO_FILE_LABELS;
  }
}
