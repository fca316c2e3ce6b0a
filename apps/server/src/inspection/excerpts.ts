import type { Evidence, Finding } from '@lantern/core';

/** Characters of context on either side of a finding: two lines of prose. */
const CONTEXT = 120;
/** Longest excerpt; findings further on start another one. */
const LONGEST = 1_500;
/** Findings kept as evidence for one part. A count says how many more there are. */
const MAX_KEPT = 60;
/** Below this, a finding is not evidence of anything; it stays masked all the same. */
const WORTH_MARKING = 25;

/** A finding in an excerpt, in offsets of the excerpt's text. */
export interface ExcerptMark {
  readonly start: number;
  readonly end: number;
  readonly pattern: string;
  readonly certainty: number;
  readonly evidence: readonly Evidence[];
}

/** A stretch of text with the findings in it. */
export interface Excerpt {
  /** Line in the part's text, from 1. */
  readonly line: number;
  readonly text: string;
  readonly marks: readonly ExcerptMark[];
}

/** Cuts a text down to what surrounds its findings. Findings must be in the order of the text. */
export function excerptsOf(
  text: string,
  findings: readonly Finding[],
): { excerpts: Excerpt[]; notShown: number } {
  const marked = findings.filter((finding) => finding.certainty >= WORTH_MARKING);
  const kept = marked.slice(0, MAX_KEPT);
  const groups: { from: number; to: number; findings: Finding[] }[] = [];
  for (const finding of kept) {
    const from = Math.max(0, finding.start - CONTEXT);
    const to = Math.min(text.length, finding.end + CONTEXT);
    const last = groups.at(-1);
    if (last && from <= last.to && to - last.from <= LONGEST) {
      last.to = Math.max(last.to, to);
      last.findings.push(finding);
    } else
      groups.push({
        from: Math.max(from, last?.to ?? 0),
        to: Math.max(to, finding.end),
        findings: [finding],
      });
  }
  let line = 1;
  let counted = 0;
  const excerpts = groups.map((group) => {
    const from = Math.min(group.from, group.findings[0]?.start ?? group.from);
    line += newlines(text, counted, from);
    counted = Math.max(counted, from);
    // What is found but too weak to mark must not show up as plain context beside a mark.
    return {
      line,
      text: text.slice(from, group.to),
      marks: group.findings.map((finding) => toMark(finding, from)),
    };
  });
  return { excerpts, notShown: marked.length - kept.length };
}

function toMark(finding: Finding, from: number): ExcerptMark {
  const { pattern, certainty, evidence } = finding;
  return { start: finding.start - from, end: finding.end - from, pattern, certainty, evidence };
}

function newlines(text: string, from: number, to: number): number {
  let found = 0;
  for (let at = text.indexOf('\n', from); at !== -1 && at < to; at = text.indexOf('\n', at + 1)) found += 1;
  return found;
}
