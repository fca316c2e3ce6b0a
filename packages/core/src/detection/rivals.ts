import type { Finding } from './finding.js';

const sumOf = (finding: Finding): number => finding.evidence.reduce((total, item) => total + item.weight, 0);

/**
 * Where findings of two ready patterns share characters, the better explained one stays and is told of the other.
 * Own words keep standing beside and inside other findings: a code name in a file name is both. Sorted by place.
 */
export function settleRivals(findings: readonly Finding[]): Finding[] {
  const sorted = [...findings].sort((left, right) => left.start - right.start || left.end - right.end);
  const kept: Finding[] = [];
  let lastShaped = -1;
  for (const finding of sorted) {
    const listed = finding.evidence[0]?.code === 'listed-word';
    const before = kept[lastShaped];
    if (listed || !before || before.end <= finding.start) {
      kept.push(finding);
      if (!listed) lastShaped = kept.length - 1;
      continue;
    }
    const [winner, loser] = sumOf(finding) > sumOf(before) ? [finding, before] : [before, finding];
    const rival = { pattern: loser.pattern, certainty: loser.certainty };
    kept[lastShaped] = { ...winner, rivals: [...winner.rivals, ...loser.rivals, rival] };
  }
  return kept.sort((left, right) => left.start - right.start || left.end - right.end);
}
