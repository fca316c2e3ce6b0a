import { MAX_COUNT, type Path, type Problem } from './problem.js';
import type { Band, Rule } from '../model/rule.js';

/**
 * What is wrong with the bands of a rule. Bands must follow each other without overlap and without a gap; below the
 * first nothing happens, which is stated, not a gap.
 */
export function bandProblems(rule: Rule, path: Path): Problem[] {
  const { bands, measure } = rule;
  if (bands.length === 0) return [{ code: 'no-bands', path: [...path, 'bands'] }];
  if (!measure) return [];
  return bands.flatMap((band, index): Problem[] => {
    const at = [...path, 'bands', index];
    const wrong = rangeProblem(band, at);
    if (wrong) return [wrong];
    const before = bands[index - 1];
    return before ? [...joint(before, band, at), ...alike(before, band, at)] : [];
  });
}

const isCount = (value: number): boolean => Number.isInteger(value) && value >= 1 && value <= MAX_COUNT;

function rangeProblem({ from, to }: Band, at: Path): Problem | null {
  if (!isCount(from)) return { code: 'count-out-of-range', path: [...at, 'from'], value: String(from) };
  if (to !== null && !isCount(to))
    return { code: 'count-out-of-range', path: [...at, 'to'], value: String(to) };
  if (to !== null && to < from)
    return { code: 'bands-out-of-order', path: [...at, 'to'], value: `${from} to ${to}` };
  return null;
}

/** How two bands that follow each other meet. */
function joint(before: Band, band: Band, at: Path): Problem[] {
  const path = [...at, 'from'];
  if (before.to === null || band.from <= before.to) {
    if (band.from < before.from)
      return [{ code: 'bands-out-of-order', path, value: `${before.from}, then ${band.from}` }];
    const last = before.to === null ? 'and more' : `to ${before.to}`;
    return [{ code: 'bands-overlap', path, value: `${before.from} ${last}, then ${band.from}` }];
  }
  if (band.from === before.to + 1) return [];
  const gap = before.to + 2 === band.from ? `${before.to + 1}` : `${before.to + 1} to ${band.from - 1}`;
  return [{ code: 'bands-gap', path, value: gap }];
}

/** Two bands with the same outcome can never differ. */
function alike(before: Band, band: Band, at: Path): Problem[] {
  const outcome = ({ answer, severity, text, treatments }: Band): string =>
    JSON.stringify([answer, severity, text, treatments]);
  return outcome(before) === outcome(band) ? [{ code: 'bands-alike', path: at }] : [];
}
