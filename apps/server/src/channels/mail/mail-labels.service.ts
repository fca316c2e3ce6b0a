import type { IntakeVerdict } from '@lantern/contracts';
import {
  highest,
  type ItemOnItsWay,
  type Label,
  labelAfter,
  type MovedLabel,
  printedMarks,
  type StandingLabel,
} from '@lantern/core';
import { writeFileLabel } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { LabelsAtWork } from '../../labels/labels-at-work.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import type { JudgedAttempt } from '../door.service.js';
import { LabelsOfFiles } from '../labels-of-files.service.js';
import type { MailFile } from './mailbox.service.js';

interface MailToLabel {
  readonly person: PersonEntity;
  readonly at: Date;
  readonly files: readonly MailFile[];
  /** What the sender chose; null for none, left out where nobody was asked. */
  readonly label?: string | null;
}

/** The label of a mail before its verdict, and those that come along on its files. */
export interface LabelledMail {
  readonly own: ItemOnItsWay['own'];
  readonly ofFiles: readonly MovedLabel[];
}

/** The label of a mail: what its sender chose, the highest of its attachments, or what rules make of it. */
@Injectable()
export class MailLabels {
  constructor(
    private readonly labels: LabelsAtWork,
    private readonly ofFiles: LabelsOfFiles,
  ) {}

  /** The highest label of files before they go, so that their sender can follow it. */
  async highestOf(files: readonly MailFile[]): Promise<Label | null> {
    return highest(await this.ofFiles.of(files));
  }

  /** Labels of files, as they come along. */
  carriedBy(files: readonly MailFile[]): Promise<MovedLabel[]> {
    return this.ofFiles.carriedBy(files);
  }

  async of({ person, at, files, label }: MailToLabel): Promise<LabelledMail> {
    const ofFiles = await this.ofFiles.of(files);
    return {
      own: this.labels.chosen({
        person,
        carrier: 'mail',
        at,
        ofFiles,
        ...(label === undefined ? {} : { label }),
      }),
      ofFiles: ofFiles.map(({ id, name }) => ({ id: String(id), name })),
    };
  }

  /** The label of a mail after its verdict: the highest that a treatment sets, where it is higher than its own. */
  afterVerdict({ label, verdict }: Pick<JudgedAttempt, 'label' | 'verdict'>): StandingLabel | null {
    return labelAfter(this.labels.set, label, verdict.treatments);
  }

  /** The bytes of a mail with the label that a rule or a treatment sets, where it carries no higher one. */
  async writtenInto(
    raw: Buffer,
    verdict: Pick<IntakeVerdict, 'label' | 'treatments'>,
    { sender, at }: { readonly sender: string; readonly at: Date },
  ): Promise<Buffer> {
    const wanted = this.labels.after(null, verdict)?.label;
    if (!wanted) return raw;
    const own = highest(await this.ofFiles.of([{ name: 'mail.eml', bytes: raw }]));
    if (own && own.rank >= wanted.rank) return raw;
    const { id, name, rank } = wanted;
    const marks = printedMarks(wanted, {
      owner: sender,
      setter: sender,
      at: at.getTime(),
      how: 'automatically',
    });
    const written = {
      id,
      name,
      rank,
      setBy: 'Uncut Lantern',
      setAt: at.toISOString(),
      how: 'automatically' as const,
    };
    const writing = await writeFileLabel({ name: 'mail.eml', bytes: raw }, { label: written, marks });
    // What is signed or sealed cannot be changed; its label stands in what is recorded of it.
    return writing.status === 'written' ? Buffer.from(writing.bytes) : raw;
  }

  /** Keeps what became of the label with every other change of a label. */
  async record(
    manager: EntityManager,
    after: StandingLabel,
    { sender, at, itemId }: { sender: string; at: Date; itemId: string },
  ): Promise<void> {
    await this.labels.record(manager, {
      at,
      by: sender,
      carrier: 'mail',
      // The subject is content and is not written down here.
      item: 'a mail',
      itemId,
      before: null,
      after,
      reason: after.how === 'inherited' ? 'The highest label of its files' : '',
    });
  }
}
