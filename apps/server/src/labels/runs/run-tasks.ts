import {
  compileScanner,
  type DocumentSource,
  type OwnPattern,
  patternSet,
  type RecordSource,
  type Scanner,
} from '@lantern/core/detection';
import type { TaskModule } from '@lantern/processes';
import { runFile, type RunFile, type RunFileResult, type RunRules } from '@lantern/files';

/** What the processes of a run know. */
export interface RunData extends RunRules {
  readonly own: readonly OwnPattern[];
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

let given: RunData | undefined;
let scanner: Scanner | undefined;

export function prepare(data: RunData): void {
  const wanted = new Set(data.rules.flatMap(({ content }) => content.map(({ pattern }) => String(pattern))));
  given = data;
  // A run counts only what its rules ask for.
  scanner = compileScanner(
    patternSet(data.own).filter(({ id }) => wanted.has(id)),
    new Map(data.records),
    new Map(data.documents),
  );
}

export const tasks = {
  /** Some files a call. */
  run: async (files: readonly RunFile[]): Promise<RunFileResult[]> => {
    if (!given || !scanner) throw new Error('This process was given no rules');
    const results: RunFileResult[] = [];
    for (const file of files) results.push(await runFile(file, given, scanner, Date.now()));
    return results;
  },
} satisfies TaskModule['tasks'];
