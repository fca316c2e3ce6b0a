import { type EvidenceCode, sumOf } from './evidence.js';
import {
  countriesAround,
  explainsAsWell,
  restsOnGeneralName,
  type Surroundings,
  withCandidates,
  withCountries,
} from './candidates.js';
import type { Finding } from './finding.js';

/**
 * Where findings of ready patterns share characters, the best explained one stays and is told of the others. Own words
 * keep standing beside and inside other findings: a code name in a file name is both. Sorted by place.
 */
export function settleRivals(findings: readonly Finding[], surroundings?: Surroundings): Finding[] {
  const inOrder = (left: Finding, right: Finding): number => left.start - right.start || left.end - right.end;
  const sorted = [...findings].sort(inOrder);
  const kept: Finding[] = [];
  const settled: Settled[] = [];
  let group: Finding[] = [];
  let groupEnd = -1;
  for (const finding of sorted) {
    if (OWN.has(finding.evidence[0]?.code)) {
      if (!repeats(kept, finding)) kept.push(finding);
      continue;
    }
    if (finding.start >= groupEnd) {
      settleGroup(group, settled);
      group = [];
    }
    group.push(finding);
    groupEnd = Math.max(groupEnd, finding.end);
  }
  settleGroup(group, settled);
  if (!surroundings) return [...kept, ...settled.map(({ finding }) => finding)].sort(inOrder);
  const open = settled.filter(isOpen);
  const around =
    open.length === 0
      ? NOWHERE
      : countriesAround(
          settled.filter((each) => !isOpen(each)).map(({ finding }) => finding),
          surroundings,
        );
  for (const each of settled) {
    const { finding, losers } = each;
    // A pattern of no country that explains it as well holds whatever the country is.
    const whole = [finding, ...losers].find(
      (one) => !surroundings.nationOf(one.pattern) && explainsAsWell(one, finding),
    );
    if (!isOpen(each)) kept.push(finding);
    else if (whole) {
      const others = [finding, ...losers].filter((one) => one !== whole);
      const rivals = [finding, ...losers].flatMap(({ pattern, certainty }) =>
        pattern === whole.pattern ? [] : [{ pattern, certainty }],
      );
      kept.push(withCountries({ ...whole, rivals }, others, surroundings, around));
    } else kept.push(withCandidates(finding, losers, surroundings, around));
  }
  return kept.sort(inOrder);
}

/** Sums that differ by less are equal: the order in which they were added up must not decide. */
const SUM_STEPS = 1e6;
const NOWHERE: ReadonlySet<string> = new Set();

/** Evidence that only own patterns begin with. */
const OWN: ReadonlySet<EvidenceCode | undefined> = new Set([
  'listed-word',
  'own-expression',
  'record',
  'reappears',
  'category',
]);

/** A listed word can be read twice: as it stands and decoded. */
function repeats(kept: readonly Finding[], finding: Finding): boolean {
  for (let index = kept.length - 1; index >= 0 && index > kept.length - 8; index -= 1) {
    const other = kept[index];
    if (other?.pattern === finding.pattern && other.start === finding.start && other.end === finding.end)
      return true;
  }
  return false;
}

/** A finding that stays, and those that shared its characters. */
interface Settled {
  readonly finding: Finding;
  readonly losers: readonly Finding[];
}

/** Whether which country a number is of is a question at all. */
const isOpen = ({ finding, losers }: Settled): boolean =>
  restsOnGeneralName(finding) ||
  losers.some((rival) => restsOnGeneralName(rival) || explainsAsWell(rival, finding));

/** Findings that overlap in a row: the best explained first, each next one only where nothing better stands. */
function settleGroup(group: readonly Finding[], settled: Settled[]): void {
  if (group.length < 2) {
    for (const finding of group) settled.push({ finding, losers: [] });
    return;
  }
  const bySum = group
    .map((finding) => ({ finding, sum: Math.round(sumOf(finding.evidence) * SUM_STEPS) }))
    .sort(
      (left, right) =>
        right.sum - left.sum || left.finding.pattern.localeCompare(right.finding.pattern, 'en'),
    );
  const winners: { finding: Finding; losers: Finding[] }[] = [];
  for (const { finding } of bySum) {
    const better = winners.find(
      (winner) => winner.finding.start < finding.end && finding.start < winner.finding.end,
    );
    if (!better) winners.push({ finding, losers: [] });
    else if (better.finding.pattern !== finding.pattern) better.losers.push(finding);
  }
  for (const { finding, losers } of winners) settled.push({ finding: withRivals(finding, losers), losers });
}

function withRivals(finding: Finding, losers: readonly Finding[]): Finding {
  const rivals = [...finding.rivals];
  for (const { pattern, certainty } of losers)
    if (!rivals.some((rival) => rival.pattern === pattern)) rivals.push({ pattern, certainty });
  return { ...finding, rivals };
}
