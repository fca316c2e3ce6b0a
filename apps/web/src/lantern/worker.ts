import {
  compileScanner,
  type Finding,
  READY_PATTERNS,
  type Scanner,
  type WordListPattern,
} from '@lantern/core';

/** What the panel asks of the worker. `key` changes when the lists do, so that they compile once. */
export interface LanternQuestion {
  readonly id: number;
  readonly text: string;
  readonly sides: readonly { readonly key: string; readonly wordLists: readonly WordListPattern[] }[];
}

export interface LanternAnswer {
  readonly id: number;
  /** Findings by side, in the order of the question. */
  readonly findings: readonly (readonly Finding[])[];
}

const compiled = new Map<string, Scanner>();

function scannerFor(key: string, wordLists: readonly WordListPattern[]): Scanner {
  const known = compiled.get(key);
  if (known) return known;
  if (compiled.size > 4) compiled.clear();
  const scanner = compileScanner([...READY_PATTERNS, ...wordLists]);
  compiled.set(key, scanner);
  return scanner;
}

self.onmessage = ({ data }: MessageEvent<LanternQuestion>) => {
  const findings = data.sides.map(
    ({ key, wordLists }) => scannerFor(key, wordLists).scan(data.text).findings,
  );
  self.postMessage({ id: data.id, findings } satisfies LanternAnswer);
};
