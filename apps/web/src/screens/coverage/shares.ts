import type { CoverageCell, CoverageShare } from '@lantern/core/policy';

/** Whether anybody can move the data on that way without anything happening. */
export function isEmpty(cell: CoverageCell | undefined): boolean {
  return cell?.shares.some(({ answer, at }) => answer === null || at !== null) ?? false;
}

/** What stands behind the answer of a share: from how many values, for how many people where it is not everybody. */
export function shareWords({ answer, from, people: some, at }: CoverageShare, people: number): string {
  const whom = some === people ? '' : `, ${some} people`;
  if (answer === null) return `nothing${whom}`;
  return `${from > 1 ? ` from ${from.toLocaleString('en')}` : ''}${at === null ? '' : ' at some places'}${whom}`;
}
