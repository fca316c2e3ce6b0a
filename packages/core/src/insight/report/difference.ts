import type { Listed } from '../../incidents/filter/fields.js';

/** One line of a report: a figure with its name and the list that it counts. */
export interface ReportLine {
  /** Names the line from run to run. */
  readonly key: string;
  readonly name: string;
  readonly value: number;
  /** What else is worth reading, such as a status; compared too. */
  readonly detail: string;
  /** Shows what is counted: what is listed, and under which filter. */
  readonly listed: Listed;
  readonly filter: string;
}

/** How a line stands to the run before. */
export type LineChange = 'new' | 'gone' | 'changed' | 'same';
export const LINE_CHANGES = ['new', 'gone', 'changed', 'same'] as const;

export interface ComparedLine extends ReportLine {
  readonly change: LineChange;
  /** Value of the run before; null for what was not there. */
  readonly before: number | null;
}

/** Whether lines are those of a first run, which had nothing to be compared with. */
export function isFirstRun(lines: readonly ComparedLine[]): boolean {
  return lines.every(({ change, before }) => change === 'same' && before === null);
}

/**
 * Lines of a run beside those of the run before: new, gone and changed ones first, each in the order of the reports. A gone
 * line has the value 0. Without a run before, nothing is new.
 */
export function differenceOf(
  lines: readonly ReportLine[],
  before: readonly ReportLine[] | null,
): ComparedLine[] {
  if (before === null) return lines.map((line) => ({ ...line, change: 'same', before: null }));
  const earlier = new Map(before.map((line) => [line.key, line]));
  const now = new Set(lines.map(({ key }) => key));
  const compared = lines.map((line): ComparedLine => {
    const known = earlier.get(line.key);
    if (!known) return { ...line, change: 'new', before: null };
    const same = known.value === line.value && known.detail === line.detail;
    return { ...line, change: same ? 'same' : 'changed', before: known.value };
  });
  const gone = before
    .filter(({ key }) => !now.has(key))
    .map((line): ComparedLine => ({ ...line, value: 0, change: 'gone', before: line.value }));
  const all = [...compared, ...gone];
  return LINE_CHANGES.flatMap((change) => all.filter((line) => line.change === change));
}
