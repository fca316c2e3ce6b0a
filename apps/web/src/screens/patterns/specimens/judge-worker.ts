import {
  certaintyFor,
  compileScanner,
  type Expected,
  judgeSpecimen,
  type Pattern,
  type Scanner,
  SPECIMEN_CERTAINTY,
  type SpecimenOutcome,
} from '@lantern/core/detection';

/** One pattern as it stands in the draft and as it is being written, with texts to hold both to. */
export interface JudgeQuestion {
  readonly id: number;
  readonly pattern: string;
  readonly saved: Pattern | null;
  readonly written: Pattern;
  readonly texts: readonly { readonly text: string; readonly expected: Expected }[];
}

export interface JudgedText {
  readonly before: SpecimenOutcome | null;
  readonly now: SpecimenOutcome;
  /** Values found now, as they stand in the text, in its order; each once. */
  readonly values: readonly string[];
}

export interface JudgeAnswer {
  readonly id: number;
  readonly judged: readonly JudgedText[];
}

const compiled = new Map<string, Scanner>();

function scannerFor(pattern: Pattern): Scanner {
  const key = JSON.stringify(pattern);
  const known = compiled.get(key);
  if (known) return known;
  if (compiled.size > 8) compiled.clear();
  const scanner = compileScanner([pattern]);
  compiled.set(key, scanner);
  return scanner;
}

self.onmessage = ({ data }: MessageEvent<JudgeQuestion>) => {
  const saved = data.saved && scannerFor(data.saved);
  const written = scannerFor(data.written);
  const judged = data.texts.map(({ text, expected }): JudgedText => {
    const findings = written.scan(text).findings;
    const certain = findings.filter((finding) => certaintyFor(finding, data.pattern) >= SPECIMEN_CERTAINTY);
    return {
      before: saved && judgeSpecimen(saved.scan(text).findings, expected),
      now: judgeSpecimen(findings, expected),
      values: [...new Set(certain.map((finding) => text.slice(finding.start, finding.end)))],
    };
  });
  self.postMessage({ id: data.id, judged } satisfies JudgeAnswer);
};
