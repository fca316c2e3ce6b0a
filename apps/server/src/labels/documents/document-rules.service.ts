import type { DocumentDetail } from '@lantern/contracts';
import { type Label, labelByRules, labelShift } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { InspectionService } from '../../inspection/inspection.service.js';
import { PeopleService } from '../../people/people.service.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import { LabelChangesService } from '../label-changes.service.js';
import { labelById, labelsOf } from '../published-labels.js';
import { carried } from './document-labels.js';
import type { CarriedLabel, DocumentEntity } from './document.entity.js';

/** A change of the label of a document. */
export interface Step {
  readonly before: Label | null;
  readonly after: Label | null;
  readonly by: string;
  readonly how: CarriedLabel['how'];
  readonly reason: string;
}

/** What published automatic rules make of documents, and the record of every change of their labels. */
@Injectable()
export class DocumentRules {
  constructor(
    private readonly people: PeopleService,
    private readonly published: PublishedRevision,
    private readonly inspection: InspectionService,
    private readonly changes: LabelChangesService,
  ) {}

  /** The label that a text calls for by the published automatic rules; null for none, or none that is higher. */
  async suggest(
    text: string,
    document: Pick<DocumentEntity, 'label' | 'sharedWith' | 'ownerAddress'>,
  ): Promise<DocumentDetail['suggestion']> {
    const set = this.labels();
    const result = await this.byRules(text, document);
    if (
      !result ||
      !result.label ||
      !result.rule ||
      !['suggested', 'labelled', 'raised'].includes(result.outcome)
    )
      return null;
    const label = labelById(set, result.label);
    const rule = set.automatic.find(({ id }) => id === result.rule);
    return label && rule ? { label: label.id, name: label.name, rule: rule.name } : null;
  }

  /** Lets published rules label a document as it is saved; they never lower what a person chose, unless told. */
  async automatic(document: DocumentEntity, text: string): Promise<Step | null> {
    const set = this.labels();
    const result = await this.byRules(text, document);
    if (!result?.label || !['labelled', 'raised', 'lowered'].includes(result.outcome)) return null;
    const after = labelById(set, result.label);
    const before = labelById(set, document.label?.id);
    const rule = set.automatic.find(({ id }) => id === result.rule);
    if (!after || !rule) return null;
    document.label = carried(after, 'automatically', rule.name, document.updatedAt);
    return { before, after, by: rule.name, how: 'automatically', reason: `Rule "${rule.name}"` };
  }

  private async byRules(
    text: string,
    document: Pick<DocumentEntity, 'label' | 'sharedWith' | 'ownerAddress'>,
  ) {
    const set = this.labels();
    if (set.automatic.length === 0) return null;
    const parts = await this.inspection.inspect({
      texts: [{ role: 'body', path: ['document'], text }],
      files: [],
      keepTexts: 0,
    });
    const outside = await this.people.outsideTest();
    return labelByRules(
      set.automatic,
      {
        findings: parts.flatMap(({ part }) => (part.status === 'read' ? part.findings : [])),
        kind: 'office',
        place: '',
        owner: document.ownerAddress,
        sharedOutside: document.sharedWith.some(outside),
        carries: document.label && { label: document.label.id as Label['id'], how: document.label.how },
      },
      set.labels,
    );
  }

  /** Keeps a change in the list of all of them; what stays the same is none. */
  async record(
    manager: EntityManager,
    document: DocumentEntity,
    { before, after, by, how, reason }: Step,
  ): Promise<void> {
    const shift = labelShift(before, after);
    if (shift === 'same') return;
    const short = (label: Label | null) => label && { id: label.id, name: label.name, rank: label.rank };
    await this.changes.record(manager, {
      at: document.updatedAt,
      by,
      how,
      shift,
      carrier: 'document',
      item: document.name,
      itemId: document.id,
      runId: null,
      before: short(before),
      after: short(after),
      reason,
    });
  }

  private labels() {
    return labelsOf(this.published.current?.document);
  }
}
