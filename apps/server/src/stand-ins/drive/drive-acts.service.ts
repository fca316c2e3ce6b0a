import type { Label } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { carried } from '../../labels/carried-label.js';
import type { Player } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PersonAnswers, type SubmissionRef } from '../../movements/person-answers.service.js';
import type { LabelWish } from '../../labels/label-step.js';
import { type DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveLabels } from './drive-labels.service.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveShares } from './drive-shares.service.js';

const SUBMITTER = 'drive';

/** What the owner of a file does about a share that was stopped or asked about. */
@Injectable()
export class DriveActs {
  constructor(
    private readonly files: DriveFiles,
    private readonly shares: DriveShares,
    private readonly labels: DriveLabels,
    private readonly answers: PersonAnswers,
  ) {}

  /** Gives a file of one's own another label, or asks a second person where going down costs that. */
  async label(id: string, player: Player, wish: LabelWish): Promise<DriveFileEntity> {
    const file = await this.files.mine(id, player);
    const step = this.labels.step(file, wish, player);
    const { reason = '' } = wish;
    const at = new Date();
    if (step.waits) {
      await this.files.waitForSecond(file, { label: step.after?.id ?? null, by: player.address, reason });
      return this.files.get(id);
    }
    if (step.before?.id === step.after?.id) return file;
    return this.relabelled(file, step.after, { by: player.address, reason, at });
  }

  /** A second person for whom the file is open agrees to a lower label, or does not. */
  async decideLowering(id: string, player: Player, agrees: boolean): Promise<DriveFileEntity> {
    const file = await this.files.get(id);
    const { lowering } = file;
    if (!lowering) throw new AppError('act-refused', 'No request is open here.');
    if (player.outside || lowering.by === player.address)
      throw new AppError(
        'act-refused',
        'Someone else inside must decide. You cannot agree to your own request.',
      );
    if (!agrees) {
      await this.files.endWaiting(file);
      return this.files.get(id);
    }
    return this.relabelled(file, this.labels.byId(lowering.label), {
      by: lowering.by,
      reason: `${lowering.reason} (agreed by ${player.address})`,
      at: new Date(),
    });
  }

  private async relabelled(
    file: DriveFileEntity,
    label: Label | null,
    change: { readonly by: string; readonly reason: string; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const next = label && carried(label, 'by-hand', change.by, change.at);
    const saved = await this.files.relabel(file, next, change);
    await this.shares.follow(saved);
    return saved;
  }

  async end(id: string, player: Player): Promise<void> {
    await this.own(id, player);
    await this.shares.end(id);
  }

  async reply(
    id: string,
    player: Player,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    await this.answers.reply(await this.refOf(id, player), reply);
  }

  async askOverride(id: string, player: Player, words: string): Promise<void> {
    await this.answers.askOverride(await this.refOf(id, player), words);
  }

  async report(id: string, player: Player, words: string): Promise<void> {
    const ref = await this.refOf(id, player);
    await this.answers.report(ref, words, (manager) =>
      manager.update(DriveShareEntity, { id }, { reported: true }),
    );
  }

  private async refOf(id: string, player: Player): Promise<SubmissionRef> {
    const { share } = await this.own(id, player);
    return { submitter: SUBMITTER, id: share.submissionId };
  }

  private async own(id: string, player: Player): Promise<{ share: DriveShareEntity; person: PersonEntity }> {
    const share = await this.shares.get(id);
    await this.files.mine(share.fileId, player);
    if (!player.person) throw new AppError('not-permitted', 'People outside cannot own files on this drive.');
    return { share, person: player.person };
  }
}
