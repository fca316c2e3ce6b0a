import { compileScanner, READY_PATTERNS, type Scanner } from '@lantern/core/detection';
import { type Label } from '@lantern/core/labels';
import type { LabelToWrite } from '@lantern/files';
import type { TaskModule } from '@lantern/processes';
import { bytesOf } from './bytes-of.js';
import { inspectFile, type InspectLine, inspectPiece, type PieceLine } from './inspect-path.js';
import type { LabelLine } from './label/label-path.js';
import type { InspectChoices } from './usage.js';

/** What a task says about one file: its line, or why it could not be opened. */
export type Told<Line> = { readonly line: Line } | { readonly problem: string };

export interface InspectTask {
  readonly path: string;
  /** Content from standard input; null for what stands on disk. */
  readonly bytes: Uint8Array | null;
  readonly choices: InspectChoices;
}

export interface PieceTask {
  readonly path: string;
  /** From 0. */
  readonly number: number;
  readonly choices: InspectChoices;
}

export interface LabelTask {
  readonly path: string;
  readonly labels: readonly Label[];
  readonly dryRun: boolean;
  /** Undefined shows the label; null takes it off. */
  readonly change?: LabelToWrite | null;
}

let compiled: Scanner | undefined;
const scanner = (): Scanner => (compiled ??= compileScanner(READY_PATTERNS));

const inspectOne = ({ path, bytes, choices }: InspectTask): Promise<Told<InspectLine>> =>
  told(async () => inspectFile(path, bytes ?? bytesOf(path), scanner(), choices));

/** All work on files that strangers made: each in a process of its own, so that a bad one stops no other. */
export const tasks = {
  inspect: (task: InspectTask): Promise<Told<InspectLine>> => inspectOne(task),
  /** Several small files a call: a message each would take longer than the files. */
  inspectSome: async (all: readonly InspectTask[]): Promise<Told<InspectLine>[]> => {
    const lines: Told<InspectLine>[] = [];
    for (const task of all) lines.push(await inspectOne(task));
    return lines;
  },
  /** One piece of a large text; null where the file is no text. */
  inspectPiece: ({ path, number, choices }: PieceTask): Promise<Told<PieceLine | null>> =>
    told(() => inspectPiece(path, number, scanner(), choices)),
  label: ({ path, labels, change, dryRun }: LabelTask): Promise<Told<LabelLine>> =>
    told(async () => {
      const { changeLabel, showLabel } = await import('./label/label-path.js');
      return change === undefined ? showLabel(path, labels) : changeLabel(path, change, dryRun);
    }),
} satisfies TaskModule['tasks'];

async function told<Line>(make: () => Promise<Line>): Promise<Told<Line>> {
  try {
    return { line: await make() };
  } catch (error) {
    // Faults of the disk name the path; all else may quote content.
    const { code, message } = error as NodeJS.ErrnoException;
    return { problem: typeof code === 'string' ? message : 'could not be opened' };
  }
}
