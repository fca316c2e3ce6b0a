import type { Columns } from '../text/columns.js';
import { type Evidence, neighbourWeight, shareAtDistance, WORD_WINDOW } from './evidence.js';
import type { CheckResult, ReadyPattern } from './pattern.js';

/** Something of the right shape, in offsets of the searched text. */
export interface Candidate {
  readonly start: number;
  readonly end: number;
  readonly result: CheckResult;
}

/** What stands around a candidate. */
export interface Surroundings {
  readonly text: string;
  readonly columns: Columns;
  /** Other values of the same shape in the text, and how many of them pass their check. */
  readonly around: { readonly shaped: number; readonly passing: number };
}

/** Log-odds when the digits are part of an address, a path or a longer code. */
const INSIDE_LONGER_CODE = -2.5;
/** Characters read on either side: the window and a word that straddles its edge, so that none is seen cut. */
const REACH = WORD_WINDOW + 24;
const JOINS_BEFORE = /[-_/@#+]$|[0-9A-Za-z][.:]$/;
const JOINS_AFTER = /^[-_/@][0-9A-Za-z]|^\.\d/;
const LETTER_OR_DIGIT = /[\p{L}\p{N}]/u;

/** Everything that speaks for and against a candidate whose check digits hold, strongest statements of structure first. */
export function evidenceFor(
  candidate: Candidate,
  pattern: ReadyPattern,
  surroundings: Surroundings,
): Evidence[] {
  const { weights } = pattern;
  const evidence: Evidence[] = [
    { code: 'shape', weight: weights.shape },
    { code: 'structure', weight: weights.structure },
    { code: 'check-digits', weight: weights.check, detail: pattern.checkName },
  ];
  if (candidate.result.grouped) evidence.push({ code: 'grouping', weight: weights.grouping });
  evidence.push(...wordEvidence(candidate, pattern, surroundings));
  const { shaped, passing } = surroundings.around;
  const neighbours = neighbourWeight(shaped, passing, pattern.accidentalShare);
  if (neighbours !== 0) evidence.push({ code: 'neighbours', weight: neighbours, detail: String(shaped) });
  if (pattern.testValues.includes(candidate.result.canonical)) {
    evidence.push({ code: 'test-value', weight: weights.testValue });
  }
  if (insideLongerCode(candidate, surroundings.text)) {
    evidence.push({ code: 'inside-longer-code', weight: INSIDE_LONGER_CODE });
  }
  return evidence;
}

function insideLongerCode(candidate: Candidate, text: string): boolean {
  const before = text.slice(Math.max(0, candidate.start - 2), candidate.start);
  return JOINS_BEFORE.test(before) || JOINS_AFTER.test(text.slice(candidate.end, candidate.end + 2));
}

function wordEvidence(
  candidate: Candidate,
  pattern: ReadyPattern,
  { text, columns }: Surroundings,
): Evidence[] {
  const found: Evidence[] = [];
  const cell = columns.cellAt(candidate.start);
  const heading = cell?.heading.toLowerCase() ?? '';
  const headed = pattern.supportingWords.some((word) => wordIn(heading, word));
  if (headed) found.push({ code: 'column-heading', weight: pattern.weights.heading, detail: cell?.heading });
  // In a table only the same row is near: the row above is about somebody else.
  const bounds = cell ? { from: cell.rowStart, to: cell.rowEnd } : { from: 0, to: text.length };
  const window = windowAround(candidate, text, bounds);
  if (!headed) {
    const word = nearest(window, pattern.supportingWords);
    if (word) found.push(scaled('supporting-word', pattern.weights.supportingWord, word));
  }
  const against = pattern.counterWords.some((word) => wordIn(heading, word))
    ? { word: cell?.heading ?? '', distance: 0 }
    : nearest(window, pattern.counterWords);
  if (against) found.push(scaled('counter-word', pattern.weights.counterWord, against));
  return found;
}

interface NearWord {
  readonly word: string;
  readonly distance: number;
}

function scaled(code: 'supporting-word' | 'counter-word', weight: number, near: NearWord): Evidence {
  return {
    code,
    weight: weight * shareAtDistance(near.distance),
    detail: near.word,
    distance: near.distance,
  };
}

interface Window {
  readonly before: string;
  readonly after: string;
}

function windowAround(candidate: Candidate, text: string, bounds: { from: number; to: number }): Window {
  return {
    before: text.slice(Math.max(bounds.from, candidate.start - REACH), candidate.start).toLowerCase(),
    after: text.slice(candidate.end, Math.min(bounds.to, candidate.end + REACH)).toLowerCase(),
  };
}

function nearest(window: Window, words: readonly string[]): NearWord | undefined {
  let best: NearWord | undefined;
  for (const word of words) {
    const distance = Math.min(distanceBefore(window.before, word), distanceAfter(window.after, word));
    if (distance <= WORD_WINDOW && (!best || distance < best.distance)) best = { word, distance };
  }
  return best;
}

function distanceBefore(text: string, word: string): number {
  for (let at = text.lastIndexOf(word); at !== -1; at = at === 0 ? -1 : text.lastIndexOf(word, at - 1)) {
    if (standsAlone(text, at, word.length)) return text.length - at - word.length;
  }
  return Number.POSITIVE_INFINITY;
}

function distanceAfter(text: string, word: string): number {
  for (let at = text.indexOf(word); at !== -1; at = text.indexOf(word, at + 1)) {
    if (standsAlone(text, at, word.length)) return at;
  }
  return Number.POSITIVE_INFINITY;
}

function wordIn(text: string, word: string): boolean {
  return distanceAfter(text, word) !== Number.POSITIVE_INFINITY;
}

function standsAlone(text: string, at: number, length: number): boolean {
  return !LETTER_OR_DIGIT.test(text[at - 1] ?? ' ') && !LETTER_OR_DIGIT.test(text[at + length] ?? ' ');
}
