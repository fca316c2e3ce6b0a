/** What a run takes of a place. */
export interface Scope {
  /** Paths it is about: `*` stands for anything within a folder or name, `**` for anything at all; empty for everything. */
  readonly only: readonly string[];
  /** Paths it leaves out, written alike; these win. */
  readonly leaveOut: readonly string[];
  /** Endings of files it is about, in small letters without a full stop; empty for every kind. */
  readonly endings: readonly string[];
  /** Items that are larger are listed and not read; null for the limit of the readers alone. */
  readonly mostBytes: number | null;
  /** Only items that changed within so many days; null for any age. */
  readonly changedWithinDays: number | null;
}

export const WHOLE_PLACE: Scope = {
  only: [],
  leaveOut: [],
  endings: [],
  mostBytes: null,
  changedWithinDays: null,
};

/** Longest line of a scope: no store allows longer paths. */
export const MAX_SCOPE_LINE = 500;
/** Most lines of one kind. */
export const MAX_SCOPE_LINES = 100;

/** An item as a store lists it. Times are milliseconds. */
export interface ListedItem {
  /** Path below the place, with `/`. */
  readonly path: string;
  readonly bytes: number;
  /** Null where the store does not know. */
  readonly changedAt: number | null;
}

export const LEFT_OUT = ['not-among', 'left-out', 'other-kind', 'too-large', 'too-old'] as const;
export type LeftOut = (typeof LEFT_OUT)[number];

/** Why a run does not read an item; null where it does. `now` in milliseconds. */
export function leftOutBy(scope: Scope, item: ListedItem, now: number): LeftOut | null {
  if (scope.leaveOut.some((line) => pathFits(line, item.path))) return 'left-out';
  if (scope.only.length > 0 && !scope.only.some((line) => pathFits(line, item.path))) return 'not-among';
  if (scope.endings.length > 0 && !scope.endings.includes(endingOf(item.path))) return 'other-kind';
  if (scope.mostBytes !== null && item.bytes > scope.mostBytes) return 'too-large';
  if (scope.changedWithinDays !== null && item.changedAt !== null) {
    const days = (now - item.changedAt) / 86_400_000;
    if (days > scope.changedWithinDays) return 'too-old';
  }
  return null;
}

/** Ending of a path in small letters, without its full stop; empty for none. */
export function endingOf(path: string): string {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const at = name.lastIndexOf('.');
  return at <= 0 ? '' : name.slice(at + 1).toLowerCase();
}

/**
 * Whether a line of a scope fits a path. A line that names a folder fits all under it; one without `/` fits a name
 * wherever it stands. Capitals do not count. Takes time in proportion to line times path, whatever the line.
 */
export function pathFits(line: string, path: string): boolean {
  const wanted = line
    .trim()
    .replace(/^\/+|\/+$/gu, '')
    .toLowerCase();
  if (wanted === '') return false;
  const parts = path.replace(/^\/+/u, '').toLowerCase().split('/');
  if (!wanted.includes('/') && !wanted.includes('**')) return parts.some((part) => fits(wanted, part));
  return parts.some((_, count) => fits(wanted, parts.slice(0, count + 1).join('/')));
}

/** Compares from left to right, keeping every state the pattern can be in: no going back, so no runaway. */
function fits(pattern: string, text: string): boolean {
  const steps = stepsOf(pattern);
  let states = closed(new Set([0]), steps);
  for (const sign of text) {
    const next = new Set<number>();
    for (const state of states) {
      const step = steps[state];
      if (step === '**' || (step === '*' && sign !== '/')) next.add(state);
      else if (step === sign || (step === '?' && sign !== '/')) next.add(state + 1);
    }
    states = closed(next, steps);
    if (states.size === 0) return false;
  }
  return states.has(steps.length);
}

/** States that are reached without reading a sign: what a star stands for may be nothing. */
function closed(states: Set<number>, steps: readonly string[]): Set<number> {
  for (const state of states) if (steps[state] === '*' || steps[state] === '**') states.add(state + 1);
  return states;
}

function stepsOf(pattern: string): string[] {
  const steps: string[] = [];
  const signs = [...pattern];
  for (let at = 0; at < signs.length; at += 1) {
    if (signs[at] !== '*') steps.push(signs[at] ?? '');
    else if (signs[at + 1] !== '*') steps.push('*');
    else {
      steps.push('**');
      while (signs[at + 1] === '*') at += 1;
      // "a/**/b" fits "a/b" as well.
      if (signs[at + 1] === '/' && (steps.length === 1 || steps.at(-2) === '/')) at += 1;
    }
  }
  return steps;
}
