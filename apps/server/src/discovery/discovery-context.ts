import type { OwnPattern } from '@lantern/core/detection';
import type { WholeLabelSet } from '@lantern/core/labels';
import { patternsOfRule } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { labelsOf } from '../published/published-labels.js';
import { PublishedRevision } from '../published/published-revision.js';

/** What readers look for: the published revision alone. */
export interface LookedFor {
  readonly revision: number | null;
  readonly own: readonly OwnPattern[];
  /** Patterns that rules ask for, though they stand in nearly every text. */
  readonly wanted: readonly string[];
  readonly labels: Pick<WholeLabelSet, 'labels' | 'automatic'>;
  /** Patterns that need keys or samples, which stay on the server. */
  readonly notHere: readonly string[];
}

interface Known {
  readonly of: number | null;
  readonly value: LookedFor;
  readonly kept: readonly OwnPattern[];
}

/** What is published, as readers need it. */
@Injectable()
export class DiscoveryContext {
  private known: Known | null = null;

  constructor(private readonly published: PublishedRevision) {}

  get lookedFor(): LookedFor {
    return this.current().value;
  }

  /** Published patterns whose keys or samples stay here, but for readers that may have them. */
  get kept(): readonly OwnPattern[] {
    return this.current().kept;
  }

  labels(): WholeLabelSet {
    return labelsOf(this.published.current?.document);
  }

  private current(): Known {
    const revision = this.published.current;
    const of = revision?.number ?? null;
    if (this.known && this.known.of === of) return this.known;
    const all = revision?.document.patterns ?? [];
    const here = all.filter(({ origin }) => origin !== 'records' && origin !== 'documents');
    const { labels, automatic } = this.labels();
    const rules = revision?.document.policies.flatMap((policy) => policy.rules) ?? [];
    const wanted = new Set<string>([
      ...rules.flatMap(patternsOfRule),
      ...automatic.flatMap(({ content }) => content.map(({ pattern }) => pattern)),
    ]);
    const looked = { own: here, wanted: [...wanted].sort(), labels: { labels, automatic } };
    const value: LookedFor = {
      ...looked,
      revision: of,
      notHere: all.filter((pattern) => !here.includes(pattern)).map(({ name }) => name),
    };
    const kept = all.filter((pattern) => !here.includes(pattern));
    const known = { of, value, kept };
    this.known = known;
    return known;
  }
}
