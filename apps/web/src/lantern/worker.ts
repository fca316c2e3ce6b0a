import {
  compileScanner,
  type Finding,
  type OwnPattern,
  patternSet,
  type Scanner,
} from '@lantern/core/detection';

/** What the panel asks of the worker. `key` changes when the lists do, so that they compile once. */
export interface LanternQuestion {
  readonly id: number;
  readonly text: string;
  readonly sides: readonly { readonly key: string; readonly own: readonly OwnPattern[] }[];
}

export interface LanternAnswer {
  readonly id: number;
  /** Findings by side, in the order of the question. */
  readonly findings: readonly (readonly Finding[])[];
}

const compiled = new Map<string, Scanner>();

function scannerFor(key: string, own: readonly OwnPattern[]): Scanner {
  const known = compiled.get(key);
  if (known) return known;
  if (compiled.size > 4) compiled.clear();
  const scanner = compileScanner(patternSet(own));
  compiled.set(key, scanner);
  return scanner;
}

self.onmessage = ({ data }: MessageEvent<LanternQuestion>) => {
  const findings = data.sides.map(({ key, own }) => scannerFor(key, own).scan(data.text).findings);
  self.postMessage({ id: data.id, findings } satisfies LanternAnswer);
};
