import type { DocumentDetail } from '@lantern/contracts';
import { type Label, labelShift } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { PeopleService } from '../../directory/people.service.js';
import { LabelChangesService } from '../../labels/label-changes.service.js';
import { LabelsAtWork } from '../../labels/labels-at-work.service.js';
import { labelById } from '../../published/published-labels.js';
import { carried } from '../../labels/carried-label.js';
import type { DocumentEntity } from './document.entity.js';
import type { CarriedLabel } from '../../labels/carried-label.js';

/** A change of the label of a document. */
export interface Step {
  readonly before: Label | null;
  readonly after: Label | null;
  readonly by: string;
  readonly how: CarriedLabel['how'];
  readonly reason: string;
}

type Labelled = Pick<DocumentEntity, 'label' | 'sharedWith' | 'ownerAddress'>;

/** What published automatic rules make of documents, and the record of every change of their labels. */
@Injectable()
export class DocumentRules {
  constructor(
    private readonly people: PeopleService,
    private readonly labels: LabelsAtWork,
    private readonly changes: LabelChangesService,
  ) {}

  /** The label that a text calls for by the published automatic rules; null for none, or none that is higher. */
  async suggest(text: string, document: Labelled): Promise<DocumentDetail['suggestion']> {
    const label = document.label?.id ?? null;
    // A label that this set does not know is somebody's decision all the same.
    if (label !== null && !labelById(this.labels.set, label)) return null;
    const sharedOutside = await this.outside(document);
    return this.labels.suggested(document.ownerAddress, { carrier: 'document', text, label, sharedOutside });
  }

  /** Lets published rules label a document as it is saved; they never lower what a person chose, unless told. */
  async automatic(document: DocumentEntity, text: string): Promise<Step | null> {
    const { set } = this.labels;
    const before = labelById(set, document.label?.id);
    if (document.label && !before) return null;
    const standing = await this.labels.standingOf([text], {
      carrier: 'document',
      own: before && { label: before, how: document.label?.how ?? 'by-hand' },
      kind: 'office',
      place: '',
      owner: document.ownerAddress,
      sharedOutside: await this.outside(document),
    });
    const rule = this.labels.ruleName(standing?.rule ?? null);
    if (!standing || rule === null) return null;
    document.label = carried(standing.label, 'automatically', rule, document.updatedAt);
    return { before, after: standing.label, by: rule, how: 'automatically', reason: `Rule "${rule}"` };
  }

  private async outside({ sharedWith }: Labelled): Promise<boolean> {
    return sharedWith.some(await this.people.outsideTest());
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
}
