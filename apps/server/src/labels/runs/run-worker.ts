import { workerData } from 'node:worker_threads';
import {
  compileScanner,
  type DocumentSource,
  type OwnPattern,
  patternSet,
  type RecordSource,
} from '@lantern/core';
import { runFile, type RunFile, type RunFileResult, type RunRules } from '@lantern/files';

/** What the workers of a run know. */
export interface RunData extends RunRules {
  readonly own: readonly OwnPattern[];
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

// Piscina wraps what the pool was given.
const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as RunData;
const wanted = new Set(given.rules.flatMap(({ content }) => content.map(({ pattern }) => String(pattern))));
// A run counts only what its rules ask for.
const scanner = compileScanner(
  patternSet(given.own).filter(({ id }) => wanted.has(id)),
  new Map(given.records),
  new Map(given.documents),
);

/** Some files a call. */
export default async function run(files: readonly RunFile[]): Promise<RunFileResult[]> {
  const results: RunFileResult[] = [];
  for (const file of files) results.push(await runFile(file, given, scanner, Date.now()));
  return results;
}
