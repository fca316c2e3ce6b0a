import type { RecordPreview } from '@lantern/contracts';
import {
  MAX_RECORDS,
  RecordIndexBuilder,
  type RecordReport,
  type RecordShape,
} from '@lantern/core/detection';
import type { TaskContext, TaskModule } from '@lantern/processes';
import type { IndexFacts } from '../../inspection/sources/record-source.entity.js';
import type { SealedUpload } from '../../platform/http/read-upload.js';
import { previewOf } from './preview.js';
import { csvRows, encodingOf, MAX_ROW } from '../../platform/tables/read-csv.js';

export interface ImportOrder {
  readonly upload: SealedUpload;
  readonly shape: RecordShape;
  /** Place of the key and of each other column in the file. */
  readonly places: readonly number[];
  readonly key: Uint8Array;
}

export type ImportMessage =
  | { readonly kind: 'progress'; readonly rows: number }
  | { readonly kind: 'failed'; readonly sentence: string }
  | {
      readonly kind: 'done';
      /** The keyed hashes. */
      readonly bytes: Uint8Array;
      readonly facts: IndexFacts;
      readonly report: RecordReport & { readonly ragged: number; readonly overLimit: number };
    };

/** Rows between two words about progress. */
const STEP = 5_000;

async function build(
  { upload, shape, places, key }: ImportOrder,
  { progress }: TaskContext,
): Promise<ImportMessage> {
  const builder = new RecordIndexBuilder(shape, key);
  let width = 0;
  let ragged = 0;
  let overLimit = 0;
  for await (const { number, cells } of csvRows(upload, await encodingOf(upload))) {
    if (number === 1) {
      width = cells.length;
      continue;
    }
    if (cells.some((cell) => cell.length > MAX_ROW))
      return {
        kind: 'failed',
        sentence: `Row ${number} has no end: a quotation mark is not closed.`,
      };
    if (builder.count >= MAX_RECORDS) {
      overLimit += 1;
      continue;
    }
    if (cells.length !== width) ragged += 1;
    const [keyCell = '', ...others] = places.map((place) => cells[place] ?? '');
    builder.add(keyCell, others);
    if (number % STEP === 0) progress({ kind: 'progress', rows: number } satisfies ImportMessage);
  }
  const { index, report } = builder.finish((bytes) => new ArrayBuffer(bytes));
  const { records, keyLengths, keyShapes } = index;
  if (report.records === 0) return { kind: 'failed', sentence: 'No row has a usable key.' };
  return {
    kind: 'done',
    bytes: new Uint8Array(index.buffer),
    facts: { records, keyLengths, keyShapes },
    report: { ...report, ragged, overLimit },
  };
}

/** What a file holds, or a sentence that says why it is no table. */
async function preview(upload: SealedUpload): Promise<PreviewReading> {
  try {
    return { status: 'read', preview: await previewOf(upload) };
  } catch (error) {
    return {
      status: 'refused',
      sentence: error instanceof Error ? error.message : 'It is not a readable table.',
    };
  }
}

export type PreviewReading =
  | { readonly status: 'read'; readonly preview: Omit<RecordPreview, 'upload'> }
  | { readonly status: 'refused'; readonly sentence: string };

export const tasks = { build, preview } satisfies TaskModule['tasks'];
