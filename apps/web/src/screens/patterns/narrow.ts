import type { PatternSummary } from '@lantern/contracts';

export interface PatternFilter {
  readonly kind: string;
  readonly words: string;
}

/** Patterns that fit the filters; every word must stand in the name, purpose or source. */
export function narrowPatterns(patterns: readonly PatternSummary[], filter: PatternFilter): PatternSummary[] {
  const words = filter.words.toLowerCase().split(/\s+/).filter(Boolean);
  return patterns.filter((pattern) => {
    const text = `${pattern.name} ${pattern.about} ${pattern.source}`.toLowerCase();
    return (filter.kind === '' || pattern.kind === filter.kind) && words.every((word) => text.includes(word));
  });
}
