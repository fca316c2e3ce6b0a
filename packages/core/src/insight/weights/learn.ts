import type { Evidence, EvidenceCode, PatternWeights } from '../../detection/index.js';
import { brierScore, reliability, type ReliabilityRow, type Said } from './calibration.js';
import { chanceOf, fitLogistic, type LabelledCase } from './logistic.js';

/** A finding that somebody decided about, with what led to it. */
export interface DecidedFinding {
  /** Names the incident: by it a case is held out or learned from, always the same way. */
  readonly id: string;
  readonly evidence: readonly Evidence[];
  readonly real: boolean;
}

/** What decisions say about the weights of a pattern. */
export interface LearnedWeights {
  readonly weights: readonly {
    readonly name: keyof PatternWeights;
    readonly now: number;
    readonly learned: number;
  }[];
  readonly learnedFrom: number;
  readonly heldOut: number;
  /** Over the cases held out; null for none. */
  readonly brier: { readonly now: number | null; readonly learned: number | null };
  readonly reliability: {
    readonly now: readonly ReliabilityRow[];
    readonly learned: readonly ReliabilityRow[];
  };
  /** Of all cases, at a certainty of {@link SURE} or more: with the present weights, and with the learned ones. */
  readonly sure: {
    readonly real: { readonly now: number; readonly learned: number; readonly of: number };
    readonly wrong: { readonly now: number; readonly learned: number; readonly of: number };
  };
}

/** Certainty from which most rules count. */
export const SURE = 80;
/** Decisions below which nothing is learned: fewer say more about who decided than about the pattern. */
export const LEAST_DECISIONS = 20;
/** One weight may move by half a unit of log-odds before the prior resists as much as one clear case speaks for it. */
const PRECISION = 4;
/** One case in five is held out. */
const FOLDS = 5;

const WEIGHT_OF: Partial<Record<EvidenceCode, keyof PatternWeights>> = {
  shape: 'shape',
  structure: 'structure',
  'check-digits': 'check',
  'usual-check': 'usualCheck',
  grouping: 'grouping',
  'naming-word': 'namingWord',
  'general-name': 'generalName',
  'supporting-word': 'supportingWord',
  'counter-word': 'counterWord',
  'column-heading': 'heading',
  'field-name': 'heading',
  'test-value': 'testValue',
};

/**
 * Weights re-estimated from decisions: a logistic regression over the evidence of each finding, with the present weights as
 * prior. Evidence counts by the share of its weight that it had, so that a far word teaches less than a near one. A weight
 * never changes its sign, and stays within `limit`. Null for fewer than {@link LEAST_DECISIONS} decisions, or of one kind alone.
 */
export function learnWeights(
  findings: readonly DecidedFinding[],
  present: Partial<PatternWeights>,
  limit: number,
): LearnedWeights | null {
  const names = (Object.keys(present) as (keyof PatternWeights)[]).filter(
    (name) => (present[name] ?? 0) !== 0,
  );
  const real = findings.filter((finding) => finding.real).length;
  if (findings.length < LEAST_DECISIONS || real === 0 || real === findings.length) return null;
  const now = names.map((name) => present[name] ?? 0);
  const cases = findings.map((finding) => ({ id: finding.id, ...caseOf(finding, names, now) }));
  const kept = cases.filter(({ id }) => !isHeldOut(id));
  const out = cases.filter(({ id }) => isHeldOut(id));
  const learned = fitLogistic(kept, { means: now, precision: PRECISION }).map((weight, at) =>
    bounded(weight, now[at] ?? 0, limit),
  );
  const said = (weights: readonly number[]): Said[] =>
    out.map((one) => ({ chance: chanceOf(one, weights), real: one.real }));
  const sure = (weights: readonly number[], isReal: boolean): number =>
    cases.filter((one) => one.real === isReal && Math.round(100 * chanceOf(one, weights)) >= SURE).length;
  return {
    weights: names.map((name, at) => ({ name, now: now[at] ?? 0, learned: rounded(learned[at] ?? 0) })),
    learnedFrom: kept.length,
    heldOut: out.length,
    brier: { now: brierScore(said(now)), learned: brierScore(said(learned)) },
    reliability: { now: reliability(said(now)), learned: reliability(said(learned)) },
    sure: {
      real: { now: sure(now, true), learned: sure(learned, true), of: real },
      wrong: { now: sure(now, false), learned: sure(learned, false), of: findings.length - real },
    },
  };
}

/** Features are shares of the present weights; what no weight speaks of is added as it is. */
function caseOf(
  { evidence, real }: DecidedFinding,
  names: readonly (keyof PatternWeights)[],
  now: readonly number[],
): LabelledCase {
  const features = names.map(() => 0);
  let offset = 0;
  for (const { code, weight } of evidence) {
    const at = names.indexOf(WEIGHT_OF[code] ?? ('' as keyof PatternWeights));
    if (at === -1) offset += weight;
    else features[at] = (features[at] ?? 0) + weight / (now[at] ?? 1);
  }
  return { features, offset, real };
}

function bounded(weight: number, now: number, limit: number): number {
  const [least, most] = now > 0 ? [0, limit] : [-limit, 0];
  return Math.max(least, Math.min(most, weight));
}

/** Weights are written with two decimals; a third changes no certainty. */
const rounded = (weight: number): number => Math.round(weight * 100) / 100;

/** Whether a case is held out: by the hash of its name (FNV-1a), so that it is the same case every time. */
export function isHeldOut(id: string): boolean {
  let hash = 0x811c9dc5;
  for (const character of id) hash = Math.imul(hash ^ (character.codePointAt(0) ?? 0), 0x01000193) >>> 0;
  return hash % FOLDS === 0;
}
