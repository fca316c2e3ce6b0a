import type { Label } from '@lantern/core/labels';
import type { RunFigures } from './label-run.entity.js';
import type { RunFileResult } from '@lantern/files';

export const NO_FIGURES: RunFigures = {
  outcomes: {},
  unreadable: 0,
  failed: 0,
  byPlace: {},
  byLabel: {},
  byPattern: {},
  byRule: {},
};

const NO_LABEL = 'none';
const plus = (counts: Readonly<Record<string, number>>, key: string): Record<string, number> => ({
  ...counts,
  [key]: (counts[key] ?? 0) + 1,
});

/** Adds one file to the figures of a run: what it carried, and what it carries or would carry afterwards. */
export function withFile(
  figures: RunFigures,
  place: string,
  result: RunFileResult,
  labels: readonly Label[],
): RunFigures {
  const { outcome, before, label } = result;
  const changes = ['labelled', 'raised', 'lowered'].includes(outcome);
  const nameOf = (id: string | null, other: string): string =>
    labels.find((each) => each.id === id)?.name ?? other;
  const was = before ? nameOf(before.id, before.name) : NO_LABEL;
  const is = changes && result.reason === null ? nameOf(label, NO_LABEL) : was;
  const byLabel: Record<string, { before: number; after: number }> = { ...figures.byLabel };
  const count = (name: string, side: 'before' | 'after'): void => {
    const known = byLabel[name] ?? { before: 0, after: 0 };
    byLabel[name] = { ...known, [side]: known[side] + 1 };
  };
  count(was, 'before');
  count(is, 'after');
  return {
    outcomes: plus(figures.outcomes, outcome),
    unreadable: figures.unreadable + (outcome === 'unreadable' ? 1 : 0),
    failed: figures.failed + (outcome === 'failed' || (result.reason !== null && changes) ? 1 : 0),
    byPlace: changes ? plus(figures.byPlace, place) : figures.byPlace,
    byLabel,
    byPattern: result.held.reduce((sum, { pattern }) => plus(sum, pattern), figures.byPattern),
    byRule: result.rule !== null && result.applied ? plus(figures.byRule, result.rule) : figures.byRule,
  };
}
