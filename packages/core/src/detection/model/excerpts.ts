import type { Evidence } from './evidence.js';
import type { Finding } from './finding.js';
import { mask } from './mask.js';

/** Characters of context on either side of a finding: two lines of prose. */
const CONTEXT = 120;
/** Longest excerpt; findings further on start another one. */
const LONGEST = 1_500;
/** Findings kept as evidence for one part. A count says how many more there are. */
const MAX_KEPT = 60;
/** Findings kept as evidence for one item, over all of its parts: nobody reads more, and a dump of files has thousands. */
const MAX_KEPT_OF_ITEM = 600;

/** Findings of one item for somebody who asks for all of them: as much as one page shows without holding anybody up. */
export const MOST_SHOWN = 2_000;

/** What may still be kept as evidence for an item. */
export class ExcerptQuota {
  private left: number;

  /** So many of each part, and of the item together. */
  constructor(
    private readonly ofPart = MAX_KEPT,
    ofItem = MAX_KEPT_OF_ITEM,
  ) {
    this.left = ofItem;
  }

  /** Takes as many of `wanted` as are left for one part. */
  take(wanted: number): number {
    const taken = Math.min(wanted, this.ofPart, this.left);
    this.left -= taken;
    return taken;
  }
}

/** A finding in an excerpt, in offsets of the excerpt's text. */
export interface ExcerptMark {
  readonly start: number;
  readonly end: number;
  readonly pattern: string;
  readonly certainty: number;
  readonly evidence: readonly Evidence[];
  readonly cell?: string;
}

/** A stretch of text with the findings in it. */
export interface Excerpt {
  /** Line in the part's text, from 1. */
  readonly line: number;
  readonly text: string;
  readonly marks: readonly ExcerptMark[];
}

/**
 * Cuts a text down to what surrounds its wanted findings. Findings must be in the order of the text; all that stand in
 * an excerpt are marked, wanted or not, since nothing found may stand there in the clear.
 */
export function excerptsOf(
  text: string,
  findings: readonly Finding[],
  {
    wanted = () => true,
    quota = new ExcerptQuota(),
  }: { readonly wanted?: (pattern: string) => boolean; readonly quota?: ExcerptQuota } = {},
): { excerpts: Excerpt[]; notShown: number } {
  const own = findings.filter((finding) => wanted(finding.pattern));
  const kept = own.slice(0, quota.take(own.length));
  const groups = groupsOf(text, kept);
  let line = 1;
  let counted = 0;
  const shown = new Set<Finding>();
  const excerpts = groups.map((group) => {
    const { from } = group;
    line += newlines(text, counted, from);
    counted = Math.max(counted, from);
    // The context of a kept finding can hold others that are not kept: they are marked all the same, or they would
    // stand there in the clear.
    const to = uncut(findings, group);
    const inside = findings.filter((finding) => finding.end > from && finding.start < to);
    for (const finding of inside) shown.add(finding);
    const marks = inside.map((finding) => toMark(finding, { from, to }));
    return { line, text: text.slice(from, to), marks };
  });
  return { excerpts, notShown: own.filter((finding) => !shown.has(finding)).length };
}

interface Group {
  readonly from: number;
  to: number;
  /** End of the last kept finding in it. */
  end: number;
}

/** Stretches around findings: those that stand together share one, which ends where the next one begins. */
function groupsOf(text: string, kept: readonly Finding[]): Group[] {
  const groups: Group[] = [];
  for (const finding of kept) {
    const from = Math.max(0, finding.start - CONTEXT);
    const to = Math.min(text.length, finding.end + CONTEXT);
    const last = groups.at(-1);
    if (last && (finding.start < last.end || (from <= last.to && to - last.from <= LONGEST))) {
      last.to = Math.max(last.to, to);
      last.end = Math.max(last.end, finding.end);
      continue;
    }
    if (last) last.to = Math.max(last.end, Math.min(last.to, finding.start));
    groups.push({ from: Math.max(from, last?.to ?? 0), to, end: finding.end });
  }
  return groups;
}

/** Where a group ends so that it does not cut through a finding that is not kept. */
function uncut(findings: readonly Finding[], group: Group): number {
  const across = findings.find((finding) => finding.start < group.to && finding.end > group.to);
  return across ? Math.max(group.end, across.start) : group.to;
}

/** A finding in offsets of an excerpt, cut where the excerpt is. */
function toMark(finding: Finding, excerpt: { readonly from: number; readonly to: number }): ExcerptMark {
  const { pattern, certainty, evidence, cell } = finding;
  return {
    start: Math.max(finding.start, excerpt.from) - excerpt.from,
    end: Math.min(finding.end, excerpt.to) - excerpt.from,
    pattern,
    certainty,
    evidence,
    ...(cell === undefined ? {} : { cell }),
  };
}

function newlines(text: string, from: number, to: number): number {
  let found = 0;
  for (let at = text.indexOf('\n', from); at !== -1 && at < to; at = text.indexOf('\n', at + 1)) found += 1;
  return found;
}

/** A stretch of an excerpt, with the finding that stands there or none. */
export interface CutPiece {
  readonly text: string;
  readonly mark: ExcerptMark | null;
}

/** Cuts an excerpt at its marks. Where marks share characters, the earlier one shows and the rest of the later one follows. */
export function cutAtMarks({ text, marks }: Pick<Excerpt, 'text' | 'marks'>): CutPiece[] {
  const pieces: CutPiece[] = [];
  let at = 0;
  for (const mark of [...marks].sort((left, right) => left.start - right.start || right.end - left.end)) {
    const start = Math.max(mark.start, at);
    if (start >= mark.end) continue;
    if (start > at) pieces.push({ text: text.slice(at, start), mark: null });
    pieces.push({ text: text.slice(start, mark.end), mark });
    at = mark.end;
  }
  if (at < text.length) pieces.push({ text: text.slice(at), mark: null });
  return pieces;
}

/** An excerpt with every value masked, for whoever may never see them: marks stand in offsets of the masked text. */
export function maskedExcerpt(excerpt: Excerpt): {
  readonly line: number;
  readonly text: string;
  readonly marks: readonly Pick<ExcerptMark, 'start' | 'end' | 'pattern' | 'certainty'>[];
} {
  let text = '';
  const marks = cutAtMarks(excerpt).flatMap((piece) => {
    const start = text.length;
    text += piece.mark ? mask(piece.text) : piece.text;
    if (!piece.mark) return [];
    const { pattern, certainty } = piece.mark;
    return [{ start, end: text.length, pattern, certainty }];
  });
  return { line: excerpt.line, text, marks };
}
