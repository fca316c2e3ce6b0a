import { buffer } from 'node:stream/consumers';
import type { RefusedSample, SampleSide } from '@lantern/contracts';
import {
  type CategoryReport,
  type DocumentSource,
  type DocumentsPattern,
  FOLDS,
  indexLikeness,
  LEAST_SAMPLES,
  learnCategory,
  wordCounts,
} from '@lantern/core/detection';
import { Budget, readFile } from '@lantern/files';
import { readUpload, type SealedUpload } from '../../platform/http/read-upload.js';
import type { TaskContext, TaskModule } from '@lantern/processes';

/** A sample whose text is known. */
export interface KnownSample {
  readonly id: string;
  readonly name: string;
  readonly side: SampleSide;
  readonly text: string;
}

export interface LearnOrder {
  readonly learns: DocumentsPattern['learns'];
  readonly known: readonly KnownSample[];
  readonly files: readonly (Omit<KnownSample, 'text'> & { readonly upload: SealedUpload })[];
}

/** What is known of a sample after learning. */
export interface LearntSample extends KnownSample {
  readonly fingerprints: number | null;
  readonly certainty: number | null;
}

export type LearnMessage =
  | {
      readonly kind: 'progress';
      readonly step: 'reading' | 'learning';
      readonly done: number;
      readonly of: number;
    }
  | { readonly kind: 'failed'; readonly sentence: string; readonly refused: readonly RefusedSample[] }
  | {
      readonly kind: 'done';
      readonly source: DocumentSource;
      readonly samples: readonly LearntSample[];
      readonly refused: readonly RefusedSample[];
      readonly report: Omit<CategoryReport, 'certainties'> | null;
    };

/** Text of one sample that is learnt from: some 600 pages. */
const MAX_SAMPLE_CHARACTERS = 2_000_000;
/** Fewer letters and digits are no document. */
const LEAST_LETTERS = 40;

/** Says how far it is. */
type Tell = (message: LearnMessage) => void;

async function textOf(upload: SealedUpload, name: string): Promise<{ text: string } | { reason: string }> {
  const parts = await readFile(
    { name, bytes: new Uint8Array(await buffer(await readUpload(upload))) },
    new Budget(),
  );
  const texts = parts.flatMap((part) => (part.status === 'read' ? [part.text] : []));
  const text = texts.join('\n').slice(0, MAX_SAMPLE_CHARACTERS);
  if ((text.match(/[\p{L}\p{N}]/gu)?.length ?? 0) >= LEAST_LETTERS) return { text };
  const unread = parts.find((part) => part.status === 'unreadable');
  return { reason: unread?.status === 'unreadable' ? unread.reason : 'no-text' };
}

async function learn({ learns, known, files }: LearnOrder, tell: Tell): Promise<LearnMessage> {
  const samples = [...known];
  const refused: RefusedSample[] = [];
  for (const [index, { upload, ...sample }] of files.entries()) {
    tell({ kind: 'progress', step: 'reading', done: index, of: files.length });
    const read = await textOf(upload, sample.name);
    if ('text' in read) samples.push({ ...sample, text: read.text });
    else refused.push({ name: sample.name, reason: read.reason });
  }
  return learns === 'likeness' ? learnLikeness(samples, refused, tell) : learnKind(samples, refused, tell);
}

function learnLikeness(
  samples: readonly KnownSample[],
  refused: readonly RefusedSample[],
  tell: Tell,
): LearnMessage {
  tell({ kind: 'progress', step: 'learning', done: 0, of: 1 });
  const like = samples.filter(({ side }) => side === 'like');
  const unlike = samples.filter(({ side }) => side === 'unlike');
  const index = indexLikeness(
    like,
    unlike.map(({ text }) => text),
  );
  const counts = new Map(index.samples.map(({ id, fingerprints }) => [id, fingerprints]));
  if (!index.samples.some(({ fingerprints }) => fingerprints > 0))
    return {
      kind: 'failed',
      refused,
      sentence: 'No sample has enough distinctive text. Nothing was changed.',
    };
  return {
    kind: 'done',
    source: { learns: 'likeness', index },
    samples: samples.map((sample) => ({
      ...sample,
      fingerprints: counts.get(sample.id) ?? null,
      certainty: null,
    })),
    refused,
    report: null,
  };
}

function learnKind(
  samples: readonly KnownSample[],
  refused: readonly RefusedSample[],
  tell: Tell,
): LearnMessage {
  const sides = samples.map(({ side }) => side === 'like');
  const like = sides.filter(Boolean).length;
  if (like < LEAST_SAMPLES || sides.length - like < LEAST_SAMPLES)
    return {
      kind: 'failed',
      refused,
      sentence: `Learning needs at least ${LEAST_SAMPLES} readable samples of this kind and ${LEAST_SAMPLES} of others; there are ${like} and ${sides.length - like}. Nothing was changed.`,
    };
  const { model, report } = learnCategory(
    samples.map(({ text }) => wordCounts(text)),
    sides,
    (round) => tell({ kind: 'progress', step: 'learning', done: round, of: FOLDS + 1 }),
  );
  const { certainties, ...rest } = report;
  return {
    kind: 'done',
    source: { learns: 'category', model },
    samples: samples.map((sample, index) => ({
      ...sample,
      fingerprints: null,
      certainty: certainties[index] ?? null,
    })),
    refused,
    report: rest,
  };
}

export const tasks = {
  learn: (order: LearnOrder, { progress }: TaskContext): Promise<LearnMessage> => learn(order, progress),
} satisfies TaskModule['tasks'];
