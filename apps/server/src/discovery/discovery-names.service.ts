import { Injectable } from '@nestjs/common';
import { KnownNames, type NamedKind } from '../incidents/known-names.service.js';
import { PublishedRevision } from '../published/published-revision.js';
import { DiscoveryContext } from './discovery-context.js';

/** Names of what was found and of labels: as published, and as incidents remember what is published no more. */
@Injectable()
export class DiscoveryNames {
  constructor(
    private readonly known: KnownNames,
    private readonly context: DiscoveryContext,
    private readonly published: PublishedRevision,
  ) {}

  /** What something is called; its id where no name is known. */
  nameOf(kind: 'pattern' | 'label', id: string): string {
    return this.ofPublished(kind).find((each) => each.id === id)?.name ?? this.known.nameOf(kind, id);
  }

  /** Ids of everything whose name (or id) passes a test. */
  idsWhere(kind: NamedKind, test: (text: string) => boolean): string[] {
    const published = kind === 'pattern' || kind === 'label' ? this.ofPublished(kind) : [];
    const own = published.flatMap(({ id, name }) => (test(name) || test(id) ? [String(id)] : []));
    return [...new Set([...own, ...this.known.idsWhere(kind, test)])];
  }

  private ofPublished(kind: 'pattern' | 'label'): readonly { readonly id: string; readonly name: string }[] {
    if (kind === 'label') return this.context.labels().labels;
    // An adjusted pattern is a ready one with other weights: its name is the ready one's.
    const patterns = this.published.current?.document.patterns ?? [];
    return patterns.filter(({ origin }) => origin !== 'adjusted');
  }
}
