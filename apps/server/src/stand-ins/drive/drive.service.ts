import { randomUUID } from 'node:crypto';
import type {
  DriveFileDetail,
  DriveFileSummary,
  IntakeVerdict,
  OpenedView,
  ShareView,
} from '@lantern/contracts';
import type { Effect } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { Movements } from '../../movements/movements.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { DriveFileEntity, type DriveShareEntity } from './drive.entity.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveLabels } from './drive-labels.service.js';
import { DriveLeaves } from './drive-leaves.service.js';
import { DriveShares, isOver } from './drive-shares.service.js';

/** What one person sees of the drive: their own files, and what others opened for them. */
@Injectable()
export class DriveService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly files: DriveFiles,
    private readonly shares: DriveShares,
    private readonly people: PeopleService,
    private readonly leaves: DriveLeaves,
    private readonly labels: DriveLabels,
    private readonly movements: Movements,
  ) {}

  async list(player: Player): Promise<DriveFileSummary[]> {
    const given = [
      ...(await this.shares.givenTo(player.address)),
      ...(player.outside ? [] : await this.shares.openToTheHouse()),
    ];
    const mine = await this.manager.find(DriveFileEntity, { where: { owner: player.address } });
    const others = given.length
      ? await this.manager.findBy(DriveFileEntity, { id: In(given.map(({ fileId }) => fileId)) })
      : [];
    const distinct = new Map([...others, ...mine].map((file) => [file.id, file]));
    const all = [...distinct.values()].sort((left, right) =>
      `${left.folder}/${left.name}`.localeCompare(`${right.folder}/${right.name}`, 'en'),
    );
    return this.summaries(all, player);
  }

  /** A file as it opens for this person: whole, or why it does not. */
  async open(id: string, player: Player): Promise<OpenedView> {
    const file = await this.manager.findOneBy(DriveFileEntity, { id });
    if (!file) return closed('', 'gone');
    if (file.owner === player.address) return { status: 'open', file: await this.detail(file, player) };
    const shares = await this.shares.of([id]);
    const mine = shares.find(({ address }) => address === player.address);
    const house = shares.find(({ link }) => link === 'whole-house' && !player.outside);
    return this.through(file, mine?.state === 'open' ? mine : (house ?? mine), player);
  }

  /** What is behind a link for whoever holds it. */
  async openLink(token: string, player: Player): Promise<OpenedView> {
    const share = await this.shares.byToken(token);
    const file = share && (await this.manager.findOneBy(DriveFileEntity, { id: share.fileId }));
    if (!file || !share) return closed('', 'gone');
    if (share.link === 'whole-house' && player.outside) return closed(file.name, 'not-for-you');
    if (share.link === 'only-named' && file.owner !== player.address) return this.open(file.id, player);
    return this.through(file, share, player);
  }

  async detail(
    file: DriveFileEntity,
    player: Player,
    share: DriveShareEntity | null = null,
  ): Promise<DriveFileDetail> {
    const refused = this.leaves.of(file, player, share);
    const [summary] = await this.summaries([file], player);
    const mine = file.owner === player.address;
    return {
      ...(summary as DriveFileSummary),
      text: await this.files.text(file),
      version: file.version,
      refused: { 'take-out': refused['take-out'], 'make-another': refused['make-another'] },
      mine,
      labelKeepsInside: this.leaves.keepsInside(file),
      suggestion: mine ? file.suggestion : null,
      lowering: this.lowering(file, player),
      shares: mine ? await this.shareViews(file, await this.shares.of([file.id])) : [],
    };
  }

  /** The bytes of a file for whoever takes them away: another copy, which its label or a rule may not grant. */
  async taken(file: DriveFileEntity, player: Player, refused: string | null): Promise<Buffer> {
    const verdict =
      file.owner === player.address
        ? null
        : await this.recordUse(file, player, 'make-another', `${file.id} copy ${randomUUID().slice(0, 13)}`);
    if (refused !== null) throw new AppError('label-forbids', refused);
    if (verdict && verdict.state !== 'went-on')
      throw new AppError(
        'label-forbids',
        verdict.notice?.text || 'A rule of the organisation does not allow this.',
      );
    return this.files.bytes(file);
  }

  /** What somebody does with a file of somebody else, as a movement of its own. */
  private async recordUse(
    file: DriveFileEntity,
    player: Player,
    effect: Effect,
    key: string,
  ): Promise<IntakeVerdict> {
    const submission = this.files.handledBy(file, await this.files.bytes(file), player, effect);
    return this.movements.submit({ submitter: 'drive-use', key }, submission);
  }

  private lowering({ lowering }: DriveFileEntity, player: Player): DriveFileDetail['lowering'] {
    if (!lowering || player.outside) return null;
    const { label, by, reason } = lowering;
    return { label: this.labels.nameOf(label), by, reason, mayDecide: by !== player.address };
  }

  private async through(
    file: DriveFileEntity,
    share: DriveShareEntity | undefined,
    player: Player,
  ): Promise<OpenedView> {
    if (!share || share.state === 'refused') return closed(file.name, 'not-for-you');
    if (share.state === 'waiting') return closed(file.name, 'waiting');
    if (isOver(share)) return closed(file.name, 'over');
    if (share.state === 'withdrawn') return closed(file.name, 'withdrawn', file.restriction?.policyName);
    const { read } = this.leaves.of(file, player, share);
    if (read) {
      await this.recordUse(file, player, 'read', `${file.id} read ${player.address} ${file.labelVersion}`);
      return { status: 'closed', name: file.name, why: 'label', text: read };
    }
    return { status: 'open', file: await this.detail(file, player, share) };
  }

  private async summaries(files: readonly DriveFileEntity[], player: Player): Promise<DriveFileSummary[]> {
    const names = await this.people.namesOf(files.map(({ owner }) => owner));
    const shares = await this.shares.of(files.map(({ id }) => id));
    const isOutside = await this.people.outsideTest();
    const outside = (share: DriveShareEntity): boolean =>
      share.state === 'open' &&
      !isOver(share) &&
      (share.address === null ? share.link === 'whoever-holds-it' : isOutside(share.address));
    return files.map((file) => ({
      id: file.id,
      folder: file.folder,
      name: file.name,
      size: file.size,
      owner: { name: names.get(file.owner)?.name ?? file.owner, address: file.owner },
      changedAt: file.changedAt.toISOString(),
      label: this.labels.view(file.label),
      // Whoever is outside is not told what was found in a file of the house.
      restriction: player.outside ? null : file.restriction,
      outsideNow: shares.filter((share) => share.fileId === file.id && outside(share)).length,
    }));
  }

  private async shareViews(file: DriveFileEntity, shares: readonly DriveShareEntity[]): Promise<ShareView[]> {
    const names = await this.people.namesOf(shares.flatMap(({ address }) => (address ? [address] : [])));
    return Promise.all(
      shares.map(async (share) => ({
        id: share.id,
        at: share.at.toISOString(),
        by: share.by,
        address: share.address,
        name: share.address === null ? null : (names.get(share.address)?.name ?? share.address),
        outside: await this.shares.isOutside(share),
        closedByLabel:
          share.state === 'open' && this.leaves.closes(file, share, await this.shares.isOutside(share)),
        link: share.link,
        token: share.state === 'open' ? share.token : null,
        state: share.state,
        until: share.until?.toISOString() ?? null,
        notice: share.notice,
        reported: share.reported,
      })),
    );
  }
}

function closed(
  name: string,
  why: 'withdrawn' | 'gone' | 'not-for-you' | 'waiting' | 'over',
  policyName?: string,
): OpenedView {
  const texts = {
    withdrawn: `It is no longer shared with you: a rule of the organisation ended the access${policyName ? ` ("${policyName}")` : ''}. Ask its owner.`,
    gone: 'Its owner took it away.',
    'not-for-you': 'It is not shared with you. Ask the owner.',
    over: 'Your access has expired. Ask the owner.',
    waiting: 'Someone in the organisation must decide first.',
  };
  return { status: 'closed', name, why, text: texts[why] };
}
