import type { PatternId, RawOffset, SearchOffset } from '../shared/brand.js';
import { Columns } from '../text/columns.js';
import { type SearchText, toSearchText } from '../text/search-text.js';
import { certaintyOf, type Evidence } from './evidence.js';
import type { Finding } from './finding.js';
import type { Pattern, ReadyPattern, WordListPattern } from './pattern.js';
import { type Candidate, evidenceFor } from './candidate.js';
import { settleRivals } from './rivals.js';
import { WordIndex } from './word-index.js';

/**
 * Most candidates of one pattern in one text. Past it the text is a data dump: counts say "at least", and memory
 * stays bounded (a candidate takes some 200 bytes).
 */
export const MAX_CANDIDATES = 100_000;

/** What one pass over a text gave. */
export interface ScanResult {
  /** In the order of the text. */
  readonly findings: readonly Finding[];
  /** Patterns that reached {@link MAX_CANDIDATES}; their counts are lower bounds. */
  readonly cutShort: readonly PatternId[];
}

/** Patterns made ready for use; holds no state between texts. */
export interface Scanner {
  scan(text: string): ScanResult;
}

interface Compiled {
  readonly pattern: ReadyPattern;
  readonly expression: RegExp;
}

/** Compiles patterns once. Throws a SyntaxError for an expression that is none: ready patterns are tested for it. */
export function compileScanner(patterns: readonly Pattern[]): Scanner {
  const ready: Compiled[] = [];
  const lists: WordListPattern[] = [];
  for (const pattern of patterns) {
    if (pattern.origin === 'own') lists.push(pattern);
    else ready.push({ pattern, expression: new RegExp(pattern.expression, 'g') });
  }
  const words = new WordIndex(lists);
  return { scan: (text) => scanText(toSearchText(text), ready, words) };
}

function scanText(search: SearchText, ready: readonly Compiled[], words: WordIndex): ScanResult {
  const columns = new Columns(search.text);
  const cutShort: PatternId[] = [];
  const findings: Finding[] = [];
  for (const { pattern, expression } of ready) {
    const candidates = collect(search.text, expression, pattern);
    if (candidates.length >= MAX_CANDIDATES) cutShort.push(pattern.id);
    const passing = candidates.filter((candidate) => candidate.result.passes);
    const around = { shaped: candidates.length - 1, passing: passing.length - 1 };
    for (const candidate of passing) {
      const evidence = evidenceFor(candidate, pattern, { text: search.text, columns, around });
      findings.push(
        toFinding(search, candidate, {
          pattern: pattern.id,
          canonical: candidate.result.canonical,
          evidence,
        }),
      );
    }
  }
  const listed = new Map<PatternId, number>();
  for (const hit of words.search(search.text)) {
    const seen = listed.get(hit.pattern.id) ?? 0;
    listed.set(hit.pattern.id, seen + 1);
    if (seen >= MAX_CANDIDATES) continue;
    const evidence: Evidence[] = [{ code: 'listed-word', weight: hit.weight, detail: hit.entry }];
    findings.push(
      toFinding(search, hit, { pattern: hit.pattern.id, canonical: hit.entry.toLowerCase(), evidence }),
    );
  }
  for (const [pattern, seen] of listed) if (seen > MAX_CANDIDATES) cutShort.push(pattern);
  return { findings: settleRivals(findings), cutShort };
}

function collect(text: string, expression: RegExp, pattern: ReadyPattern): Candidate[] {
  const candidates: Candidate[] = [];
  for (const match of text.matchAll(expression)) {
    candidates.push({
      start: match.index,
      end: match.index + match[0].length,
      result: pattern.check(match[0]),
    });
    if (candidates.length >= MAX_CANDIDATES) break;
  }
  return candidates;
}

function toFinding(
  search: SearchText,
  place: { readonly start: number; readonly end: number },
  about: { readonly pattern: PatternId; readonly canonical: string; readonly evidence: readonly Evidence[] },
): Finding {
  return {
    pattern: about.pattern,
    start: search.toRaw(place.start as SearchOffset),
    end: ((search.toRaw((place.end - 1) as SearchOffset) as number) + 1) as RawOffset,
    certainty: certaintyOf(about.evidence),
    evidence: about.evidence,
    canonical: about.canonical,
    rivals: [],
  };
}
