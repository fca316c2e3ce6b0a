import type { IntakeVerdict } from '@lantern/contracts';
import {
  highest,
  type ItemOnItsWay,
  type Label,
  labelAfter,
  printedMarks,
  type StandingLabel,
} from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { FileWork } from '../../inspection/file-work.service.js';
import { LabelsAtWork } from '../../labels/labels-at-work.service.js';
import { labelById } from '../../published/published-labels.js';
import { labelsCarried } from '@lantern/files/inspect';
import type { JudgedSubmission } from '../submission.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import type { MailLabel } from './mailboxes.js';
import type { MailFile } from './mailboxes.js';

interface MailToLabel {
  readonly person: PersonEntity;
  readonly at: Date;
  readonly ofFiles: readonly Label[];
  /** What the sender chose; null for none, left out where nobody was asked. */
  readonly label?: string | null;
}

/** The label of a mail: what its sender chose, the highest of its attachments, or what rules make of it. */
@Injectable()
export class MailLabels {
  constructor(
    private readonly labels: LabelsAtWork,
    private readonly files: FileWork,
  ) {}

  /** The highest label of files before they go, so that their sender can follow it. */
  async highestOf(files: readonly MailFile[]): Promise<Label | null> {
    if (files.length === 0 || this.labels.set.labels.length === 0) return null;
    const carried = labelsCarried(this.labels.set, files, await this.files.labels(files));
    return highest(carried.map(({ label }) => label));
  }

  /** What its sender chose, once the labels of its files are known. Throws where one is needed or not offered. */
  chosen(mail: MailToLabel): ItemOnItsWay['own'] {
    return this.labels.chosen({ ...mail, carrier: 'mail' });
  }

  /** The label of a mail after its verdict: the highest that a treatment sets, where it is higher than its own. */
  standing({ label, verdict }: Pick<JudgedSubmission, 'label' | 'verdict'>): StandingLabel | null {
    return labelAfter(this.labels.set, label, verdict.treatments);
  }

  /** The bytes of a mail with the label that a rule or a treatment sets, where it carries no higher one in its head. */
  async writtenInto(
    raw: Buffer,
    verdict: Pick<IntakeVerdict, 'label' | 'treatments'>,
    { sender, at, own }: { readonly sender: string; readonly at: Date; readonly own: ItemOnItsWay['own'] },
  ): Promise<Buffer> {
    const wanted = this.labels.after(null, verdict)?.label;
    const carried = labelById(this.labels.set, own?.label.id);
    if (!wanted || (carried && carried.rank >= wanted.rank)) return raw;
    const { id, name, rank } = wanted;
    const how = 'automatically' as const;
    const marks = printedMarks(wanted, { owner: sender, setter: sender, at: at.getTime(), how });
    const written = { id, name, rank, setBy: 'Uncut Lantern', setAt: at.toISOString(), how };
    const writing = await this.files.writeLabel({ name: 'mail.eml', bytes: raw }, { label: written, marks });
    // What is signed or sealed cannot be changed; its label stands in what is recorded of it.
    return writing.status === 'written' ? Buffer.from(writing.bytes) : raw;
  }

  /**
   * Keeps what became of a label with every other change of one: from that of the draft to what its sender chose, and from
   * there to what rules and the verdict made of it.
   */
  async record(
    manager: EntityManager,
    [drafted, own, standing]: readonly [MailLabel | null, ItemOnItsWay['own'], StandingLabel | null],
    { sender, at, itemId }: { readonly sender: string; readonly at: Date; readonly itemId: string },
  ): Promise<void> {
    const chosen = own && { ...own, rule: null };
    const steps = [
      { before: drafted, after: chosen },
      { before: own && own.label, after: standing },
    ];
    for (const { before, after } of steps)
      await this.labels.record(manager, {
        at,
        by: sender,
        carrier: 'mail',
        // The subject is content and is not written down here.
        item: 'a mail',
        itemId,
        before,
        after,
        reason: after?.how === 'inherited' ? 'The highest label of its files' : '',
      });
  }
}
