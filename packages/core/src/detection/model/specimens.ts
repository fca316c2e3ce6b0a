import { certaintyFor, type Finding } from './finding.js';

/** Certainty from which a finding counts for and against a specimen. */
export const SPECIMEN_CERTAINTY = 80;

/** What a specimen should give for one pattern: these values, or nothing at all where there are none. */
export interface Expected {
  readonly pattern: string;
  /** Values in any way of writing; each stands once. */
  readonly values: readonly string[];
}

/** How one specimen came out for one pattern. */
export interface SpecimenOutcome {
  readonly found: number;
  /** Expected values that were not found, as they stand in the specimen. */
  readonly missed: readonly string[];
  /** Values that were found and should not have been. */
  readonly extra: readonly string[];
}

/** Letters and digits only, in capitals: two ways of writing one value are one. */
export const bareValue = (text: string): string => text.replace(/[^\p{L}\p{N}]/gu, '').toUpperCase() || text;

/** Holds findings of a text to what it should give. Distinct values count, not places. */
export function judgeSpecimen(findings: readonly Finding[], expected: Expected): SpecimenOutcome {
  const found = new Map<string, string>();
  for (const finding of findings) {
    if (certaintyFor(finding, expected.pattern) >= SPECIMEN_CERTAINTY)
      found.set(bareValue(finding.canonical), finding.canonical);
  }
  const wanted = new Set(expected.values.map(bareValue));
  const missed = expected.values.filter((value) => !found.has(bareValue(value)));
  const extra = [...found].flatMap(([bare, written]) => (wanted.has(bare) ? [] : [written]));
  return { found: found.size - extra.length, missed, extra };
}

/** Figures of a pattern over its specimens. */
export interface SpecimenFigures {
  readonly specimens: number;
  /** Specimens that give exactly what they should. */
  readonly kept: number;
  /** Share of what was found that should have been, 0 to 1; null where nothing was found. */
  readonly precision: number | null;
  /** Share of what should be found that was, 0 to 1; null where nothing should be. */
  readonly recall: number | null;
}

/** Adds up outcomes of one pattern. */
export function specimenFigures(outcomes: readonly SpecimenOutcome[]): SpecimenFigures {
  const sum = (count: (outcome: SpecimenOutcome) => number): number =>
    outcomes.reduce((total, outcome) => total + count(outcome), 0);
  const found = sum((outcome) => outcome.found);
  const missed = sum((outcome) => outcome.missed.length);
  const extra = sum((outcome) => outcome.extra.length);
  return {
    specimens: outcomes.length,
    kept: outcomes.filter(isKept).length,
    precision: found + extra === 0 ? null : found / (found + extra),
    recall: found + missed === 0 ? null : found / (found + missed),
  };
}

/** Whether a specimen gives exactly what it should. */
export function isKept(outcome: SpecimenOutcome): boolean {
  return outcome.missed.length === 0 && outcome.extra.length === 0;
}
