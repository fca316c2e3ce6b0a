import type { IntakeVerdict, LabelSuggestion } from '@lantern/contracts';
import {
  highest,
  type InspectedMovement,
  type ItemOnItsWay,
  type Label,
  type StandingLabel,
  suggestedLabel,
} from '@lantern/core';
import { fileFacts, writeFileLabel } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { carried, labelToWrite } from '../../labels/documents/document-labels.js';
import type { CarriedLabel } from '../../labels/documents/document.entity.js';
import { LabelsAtWork, toSuggestion } from '../../labels/labels-at-work.service.js';
import { labelStep, type LabelStep, type LabelWish } from '../../labels/label-step.js';
import { labelById } from '../../labels/published-labels.js';
import type { Player } from '../../people/people.service.js';
import type { Attempt } from '../door.service.js';
import { LabelsOfFiles } from '../labels-of-files.service.js';
import type { DriveFileEntity, DriveLabel } from './drive.entity.js';

/** A file of the drive as its label is asked about. */
export type LabelledFile = Pick<DriveFileEntity, 'id' | 'folder' | 'name' | 'owner' | 'label'>;

/** A label, and the bytes that carry it. */
export interface LabelledBytes {
  readonly label: DriveLabel | null;
  readonly bytes: Uint8Array;
}

/** Labels of files on the drive: inside the file where its format has room, and beside it for all. */
@Injectable()
export class DriveLabels {
  constructor(
    private readonly labels: LabelsAtWork,
    private readonly ofFiles: LabelsOfFiles,
  ) {}

  /**
   * The label of new content: the higher of what the file had and what the content brings along, and what rules set. What
   * a rule had set goes back to what stood there before, where no rule asks for it any more.
   */
  async ofContent(
    file: LabelledFile,
    bytes: Uint8Array,
    { sharedOutside, at }: { readonly sharedOutside: boolean; readonly at: Date },
  ): Promise<LabelledBytes> {
    const stood = file.label?.rule === undefined ? file.label : (file.label.over ?? null);
    const brought = await this.inside(file, bytes, at);
    const own = brought && brought.rank > (stood?.rank ?? 0) ? brought : stood;
    const standing = await this.labels.standing(
      {
        carrier: 'document',
        own: this.own({ label: own }),
        kind: fileFacts(file.name, bytes).kind,
        place: file.folder.replace(/^\//, ''),
        owner: file.owner,
        sharedOutside,
      },
      { texts: [], files: [{ name: file.name, bytes }] },
    );
    // A label that the set does not know is somebody's decision all the same.
    const unknown = own !== null && this.own({ label: own }) === null;
    if (unknown || !standing?.rule) return this.write(file, bytes, own);
    const set = this.carriedBy(standing, file, at);
    // The same label by the same rule is no change.
    const same = set && file.label?.id === set.id && file.label.rule === set.rule;
    return this.write(file, bytes, same ? file.label : set && { ...set, over: own });
  }

  /** The highest label that a file carries in itself. */
  async inside(
    { name, owner }: Pick<LabelledFile, 'name' | 'owner'>,
    bytes: Uint8Array,
    at: Date = new Date(),
  ): Promise<CarriedLabel | null> {
    const found = highest(await this.ofFiles.of([{ name, bytes }]));
    return found && carried(found, 'inherited', owner, at);
  }

  /** Writes a label into a file, or takes it off; a file without room for one, or locked, stays as it is. */
  async write(
    { name, owner }: Pick<LabelledFile, 'name' | 'owner'>,
    bytes: Uint8Array,
    label: DriveLabel | null,
  ): Promise<LabelledBytes> {
    const known = labelById(this.labels.set, label?.id);
    const writing = await writeFileLabel({ name, bytes }, label && labelToWrite(label, owner, known));
    return { label, bytes: writing.status === 'written' ? writing.bytes : bytes };
  }

  /** A label as a file carries it from now on. */
  private carriedBy(
    standing: StandingLabel | null,
    { owner }: Pick<LabelledFile, 'owner'>,
    at: Date,
  ): DriveLabel | null {
    if (!standing) return null;
    const { label, how, rule } = standing;
    const set = carried(label, how, this.labels.ruleName(rule) ?? owner, at);
    return rule === null ? set : { ...set, rule };
  }

  /** The label of a file after a share was judged. */
  after(
    file: LabelledFile,
    verdict: Pick<IntakeVerdict, 'label' | 'treatments'>,
    at: Date,
  ): DriveLabel | null {
    const standing = this.labels.after(this.own(file), verdict);
    if (!standing || standing.label.id === file.label?.id) return file.label;
    return this.carriedBy(standing, file, at);
  }

  /** How a movement of a file says what label it has. */
  movedWith({ label }: Pick<LabelledFile, 'label'>): Pick<Attempt, 'own' | 'labels'> {
    const own = this.own({ label });
    return { own, labels: label && !own ? [{ id: label.id, name: label.name }] : [] };
  }

  own({ label }: Pick<LabelledFile, 'label'>): ItemOnItsWay['own'] {
    const known = labelById(this.labels.set, label?.id);
    return known && { label: known, how: label?.how ?? 'by-hand' };
  }

  known({ label }: Pick<LabelledFile, 'label'>): Label | null {
    return labelById(this.labels.set, label?.id);
  }

  view(label: CarriedLabel | null): { id: string; name: string; colour: string } | null {
    return label && { id: label.id, name: label.name, colour: this.labels.colourOf(label.id) };
  }

  nameOf(id: string | null): string | null {
    return labelById(this.labels.set, id)?.name ?? null;
  }

  /** What its owner's wish does to the label. */
  step(file: LabelledFile, wish: LabelWish, player: Player): LabelStep {
    return labelStep(wish, file, this.labels.set, this.labels.offered(player.person, 'document'));
  }

  /** Whether what this person opens for others needs a label. */
  needed({ person }: Player): boolean {
    return this.labels.offered(person, 'document')?.offer.needs === 'a-label';
  }

  byId(id: string | null): Label | null {
    return labelById(this.labels.set, id);
  }

  /** The label that what was found in a file calls for; null where it has it, or one as high. */
  suggestion(
    file: LabelledFile,
    bytes: Uint8Array,
    parts: InspectedMovement['parts'],
  ): LabelSuggestion | null {
    const own = this.own(file);
    if (file.label && !own) return null;
    const found = suggestedLabel(this.labels.set, {
      carrier: 'document',
      own,
      findings: parts.flatMap((part) => (part.status === 'read' ? part.findings : [])),
      kind: fileFacts(file.name, bytes).kind,
      place: file.folder.replace(/^\//, ''),
      owner: file.owner,
      sharedOutside: false,
    });
    return found && toSuggestion(found);
  }

  async record(
    manager: EntityManager,
    { id, folder, name, owner }: LabelledFile,
    {
      before,
      after,
      by = owner,
      reason = '',
      at,
    }: {
      readonly before: DriveLabel | null;
      readonly after: DriveLabel | null;
      readonly by?: string;
      readonly reason?: string;
      readonly at: Date;
    },
  ): Promise<void> {
    const label = labelById(this.labels.set, after?.id);
    if (after && !label) return;
    const item = { carrier: 'document' as const, item: `${folder}/${name}`, itemId: id, at, before };
    const standing = label && after ? { label, how: after.how, rule: null } : null;
    if (after?.rule) {
      const why = { by: after.by, reason: `Rule "${after.by}"` };
      await this.labels.record(manager, { ...item, ...why, after: standing });
    } else if (before?.rule && reason === '') {
      const why = { by: before.by, reason: 'What the rule asked for is gone', how: 'automatically' as const };
      await this.labels.record(manager, { ...item, ...why, after: standing });
    } else {
      await this.labels.record(manager, { ...item, by, reason, after: standing });
    }
  }
}
