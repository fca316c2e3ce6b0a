import { type EvidenceCode, sumOf } from './evidence.js';
import type { Finding } from './finding.js';

/**
 * Where findings of ready patterns share characters, the best explained one stays and is told of the others. Own words
 * keep standing beside and inside other findings: a code name in a file name is both. Sorted by place.
 */
export function settleRivals(findings: readonly Finding[]): Finding[] {
  const inOrder = (left: Finding, right: Finding): number => left.start - right.start || left.end - right.end;
  const sorted = [...findings].sort(inOrder);
  const kept: Finding[] = [];
  let group: Finding[] = [];
  let groupEnd = -1;
  for (const finding of sorted) {
    if (OWN.has(finding.evidence[0]?.code)) {
      if (!repeats(kept, finding)) kept.push(finding);
      continue;
    }
    if (finding.start >= groupEnd) {
      if (group.length === 1) kept.push(group[0]!);
      else kept.push(...settleGroup(group));
      group = [];
    }
    group.push(finding);
    groupEnd = Math.max(groupEnd, finding.end);
  }
  kept.push(...settleGroup(group));
  return kept.sort(inOrder);
}

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

/** Findings that overlap in a row: the best explained first, each next one only where nothing better stands. */
function settleGroup(group: readonly Finding[]): Finding[] {
  if (group.length < 2) return [...group];
  const bySum = group
    .map((finding) => ({ finding, sum: sumOf(finding.evidence) }))
    .sort((left, right) => right.sum - left.sum);
  const winners: { finding: Finding; rivals: { pattern: Finding['pattern']; certainty: number }[] }[] = [];
  for (const { finding } of bySum) {
    const better = winners.find(
      (winner) => winner.finding.start < finding.end && finding.start < winner.finding.end,
    );
    if (!better) winners.push({ finding, rivals: [...finding.rivals] });
    else if (
      better.finding.pattern !== finding.pattern &&
      !better.rivals.some((rival) => rival.pattern === finding.pattern)
    )
      better.rivals.push({ pattern: finding.pattern, certainty: finding.certainty });
  }
  return winners.map(({ finding, rivals }) => ({ ...finding, rivals }));
}
