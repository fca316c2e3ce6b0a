import { createHash } from 'node:crypto';
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

/** What is published, as readers need it. */
@Injectable()
export class DiscoveryContext {
  private known: { readonly of: number | null; readonly value: LookedFor; readonly digest: string } | null =
    null;

  constructor(private readonly published: PublishedRevision) {}

  get lookedFor(): LookedFor {
    return this.current().value;
  }

  /** Equal for equal patterns, labels and rules of labels. */
  get digest(): string {
    return this.current().digest;
  }

  labels(): WholeLabelSet {
    return labelsOf(this.published.current?.document);
  }

  private current() {
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
    this.known = { of, value, digest: createHash('sha256').update(JSON.stringify(looked)).digest('hex') };
    return this.known;
  }
}
