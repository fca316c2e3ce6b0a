import { highest, type Label, type MovedLabel, offeredTo, printedMarks, type Treatment } from '@lantern/core';
import { writeFileLabel } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { LabelChangesService } from '../../labels/label-changes.service.js';
import { labelById, labelsOf } from '../../labels/published-labels.js';
import { factsOf } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import { LabelsOfFiles } from '../labels-of-files.service.js';
import { mailLabel } from './labelled.js';
import type { MailLabel } from './mail.entity.js';
import type { MailFile } from './mailbox.service.js';

interface MailToLabel {
  readonly person: PersonEntity;
  readonly at: Date;
  readonly files: readonly MailFile[];
  /** What the sender chose; null for none, left out where nobody was asked. */
  readonly label?: string | null;
}

/** The label of a mail, and every label that comes along on it and on its files. */
export interface LabelledMail {
  readonly label: MailLabel | null;
  readonly carried: readonly MovedLabel[];
}

/** The label of a mail: what its sender chose, or the highest of its attachments where the offer says so. */
@Injectable()
export class MailLabels {
  constructor(
    private readonly published: PublishedRevision,
    private readonly ofFiles: LabelsOfFiles,
    private readonly changes: LabelChangesService,
  ) {}

  /** The highest label of files before they go, so that their sender can follow it. */
  async highestOf(files: readonly MailFile[]): Promise<Label | null> {
    const { labels } = labelsOf(this.published.current?.document);
    return files.length > 0 && labels.length > 0 ? highest(await this.ofFiles.of(files)) : null;
  }

  async of(mail: MailToLabel): Promise<LabelledMail> {
    const set = labelsOf(this.published.current?.document);
    const ofFiles = mail.files.length > 0 && set.labels.length > 0 ? await this.ofFiles.of(mail.files) : [];
    const label = this.chosen(mail, ofFiles);
    const carried = [
      ...(label ? [{ id: label.id, name: label.name }] : []),
      ...ofFiles.map(({ id, name }) => ({ id: String(id), name })),
    ];
    return { label, carried };
  }

  private chosen(mail: MailToLabel, ofFiles: readonly Label[]): MailLabel | null {
    const set = labelsOf(this.published.current?.document);
    const offered = offeredTo(set, factsOf(mail.person), 'mail', mail.at.getTime());
    if (!offered) return null;
    const chosen = labelById({ ...set, labels: offered.labels }, mail.label);
    if (mail.label && !chosen)
      throw new AppError(
        'label-not-offered',
        'This label is not among those you can choose. The mail was not sent.',
      );
    const follows = offered.offer.follows === 'takes-highest';
    const parts = follows ? highest(ofFiles) : null;
    const won = highest([chosen, parts]);
    if (!won && mail.label !== undefined && offered.offer.needs === 'a-label')
      throw new AppError(
        'label-needed',
        'Choose a label first: mail here cannot go without one. Nothing of it was lost.',
      );
    if (!won) return null;
    const how = won === chosen ? 'by-hand' : 'inherited';
    return mailLabel(won, { how, sender: mail.person.address, at: mail.at });
  }

  /** The label of a mail after its verdict: the highest that a treatment sets, where it is higher than its own. */
  afterVerdict(
    own: MailLabel | null,
    treatments: readonly Treatment[],
    { sender, at }: { readonly sender: string; readonly at: Date },
  ): MailLabel | null {
    const set = labelsOf(this.published.current?.document);
    const wanted = highest(
      treatments.flatMap((each) => (each.kind === 'set-label' ? [labelById(set, each.label)] : [])),
    );
    if (!wanted || (own && own.rank >= wanted.rank)) return own;
    return mailLabel(wanted, { how: 'automatically', sender, at });
  }

  /** The bytes of a mail with the label that a treatment sets, where it carries no higher one. */
  async writtenInto(
    raw: Buffer,
    treatments: readonly Treatment[],
    { sender, at }: { readonly sender: string; readonly at: Date },
  ): Promise<Buffer> {
    const set = labelsOf(this.published.current?.document);
    const wanted = highest(
      treatments.flatMap((each) => (each.kind === 'set-label' ? [labelById(set, each.label)] : [])),
    );
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
    const label = {
      id,
      name,
      rank,
      setBy: 'Uncut Lantern',
      setAt: at.toISOString(),
      how: 'automatically' as const,
    };
    const writing = await writeFileLabel({ name: 'mail.eml', bytes: raw }, { label, marks });
    // What is signed or sealed cannot be changed; its label stands in what is recorded of it.
    return writing.status === 'written' ? Buffer.from(writing.bytes) : raw;
  }

  /** Keeps what became of the label with every other change of a label. */
  async record(
    manager: EntityManager,
    label: MailLabel,
    { sender, at, itemId }: { sender: string; at: Date; itemId: string },
  ): Promise<void> {
    await this.changes.record(manager, {
      at,
      by: sender,
      how: label.how,
      shift: 'set',
      carrier: 'mail',
      // The subject is content and is not written down here.
      item: 'a mail',
      itemId,
      runId: null,
      before: null,
      after: { id: label.id, name: label.name, rank: label.rank },
      reason: label.how === 'inherited' ? 'The highest label of its files' : '',
    });
  }
}
