import type { IntakeVerdict, LabelSuggestion } from '@lantern/contracts';
import {
  highest,
  type ItemOnItsWay,
  type Label,
  type StandingLabel,
  suggestedLabel,
} from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { FileWork } from '../../inspection/file-work.service.js';
import type { Inspection } from '../../inspection/inspection.service.js';
import { carried, labelToWrite, ownerForHandling } from '../../labels/carried-label.js';
import type { CarriedLabel } from '../../labels/carried-label.js';
import { LabelsAtWork, toSuggestion } from '../../labels/labels-at-work.service.js';
import { labelStep, type LabelStep, type LabelWish } from '../../labels/label-step.js';
import { labelById } from '../../published/published-labels.js';
import type { Player } from '../../directory/people.service.js';
import type { Submission } from '../../movements/submission.js';
import { labelsCarried } from '@lantern/files/inspect';
import type { DriveFileEntity, DriveLabel } from './drive.entity.js';

/** A file of the drive as its label is asked about. */
export type LabelledFile = Pick<DriveFileEntity, 'id' | 'folder' | 'name' | 'owner' | 'label'>;

/** Labels of files on the drive: inside the file where its format has room, and beside it for all. */
@Injectable()
export class DriveLabels {
  constructor(
    private readonly labels: LabelsAtWork,
    private readonly files: FileWork,
  ) {}

  /**
   * The label of new content: the higher of what the file had and what the content brings along, and what rules set. What
   * a rule had set goes back to what stood there before, where no rule asks for it any more.
   */
  ofContent(
    file: LabelledFile,
    read: Inspection,
    { sharedOutside, at }: { readonly sharedOutside: boolean; readonly at: Date },
  ): DriveLabel | null {
    const stood = file.label?.rule === undefined ? file.label : (file.label.over ?? null);
    const brought = this.inside(read, at);
    const own = brought && brought.rank > (stood?.rank ?? 0) ? brought : stood;
    const standing = this.labels.standing({
      carrier: 'document',
      own: this.own({ label: own }),
      findings: findingsIn(read),
      kind: read.files[0]?.kind ?? 'other',
      place: file.folder.replace(/^\//, ''),
      owner: file.owner,
      sharedOutside,
    });
    // A label that the set does not know is somebody's decision all the same.
    const unknown = own !== null && this.own({ label: own }) === null;
    if (unknown || !standing?.rule) return own;
    const set = this.carriedBy(standing, file, at);
    // The same label by the same rule is no change.
    const same = set && file.label?.id === set.id && file.label.rule === set.rule;
    return same ? file.label : set && { ...set, over: own };
  }

  /** The highest label that a file carries in itself. */
  inside(read: Inspection, at: Date): CarriedLabel | null {
    const all = labelsCarried(this.labels.set, read.files, read.labels);
    const found = highest(all.map(({ label }) => label));
    const setter = all.find(({ label }) => label.id === found?.id)?.owner;
    return found && carried(found, 'inherited', setter ?? '', at);
  }

  /** Writes a label into a file, or takes it off; a file without room for one, or locked, stays as it is. */
  async write(
    { name, owner }: Pick<LabelledFile, 'name' | 'owner'>,
    bytes: Uint8Array,
    label: DriveLabel | null,
  ): Promise<Uint8Array> {
    const known = labelById(this.labels.set, label?.id);
    const writing = await this.files.writeLabel({ name, bytes }, label && labelToWrite(label, owner, known));
    return writing.status === 'written' ? writing.bytes : bytes;
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

  /** How a movement of a file says what label it has, and whose it is. */
  movedWith({ label, name, owner: fileOwner }: LabelledFile): Pick<Submission, 'own' | 'labels' | 'handles'> {
    const own = this.own({ label });
    const since = Date.parse(label?.at ?? '') || 0;
    const owner = ownerForHandling(label, fileOwner);
    return {
      own,
      labels: label && !own ? [{ id: label.id, name: label.name }] : [],
      handles: label ? [{ label: label.id, item: name, owner, since, named: {} }] : [],
    };
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
  suggestion(file: LabelledFile, read: Inspection): LabelSuggestion | null {
    const own = this.own(file);
    if (file.label && !own) return null;
    const found = suggestedLabel(this.labels.set, {
      carrier: 'document',
      own,
      findings: findingsIn(read),
      kind: read.files[0]?.kind ?? 'other',
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
      const why = {
        by: before.by,
        reason: 'The reason for the label no longer exists',
        how: 'automatically' as const,
      };
      await this.labels.record(manager, { ...item, ...why, after: standing });
    } else {
      await this.labels.record(manager, { ...item, by, reason, after: standing });
    }
  }
}

function findingsIn({ parts }: Inspection): ItemOnItsWay['findings'] {
  return parts.flatMap(({ part }) => (part.status === 'read' ? part.findings : []));
}
