import { createHash, randomUUID } from 'node:crypto';
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
import { EntityManager, In, IsNull } from 'typeorm';
import { Movements } from '../../movements/movements.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { DriveFileEntity, type DriveShareEntity } from './drive.entity.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveLabels } from './drive-labels.service.js';
import { DriveLeaves } from './drive-leaves.service.js';
import { DriveMovements } from './drive-movements.service.js';
import { pathIn } from './places/place-files.service.js';
import { comesIn, type PlaceGuard, PlaceGuards, placeRefusal } from './places/place-guards.service.js';
import { DriveShares, isOver } from './drive-shares.service.js';

/** What one person sees of the drive: their own files, and what others opened for them. */
@Injectable()
export class DriveService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly files: DriveFiles,
    private readonly moves: DriveMovements,
    private readonly shares: DriveShares,
    private readonly people: PeopleService,
    private readonly leaves: DriveLeaves,
    private readonly labels: DriveLabels,
    private readonly movements: Movements,
    private readonly guards: PlaceGuards,
  ) {}

  /** A file of one's own, to be changed: throws `label-forbids` where its place lets nobody do so from there. */
  async toChange(id: string, player: Player): Promise<DriveFileEntity> {
    const file = await this.files.mine(id, player);
    const refusal = placeRefusal(await this.guards.of(file.placeId), 'change', player, { kind: file.kind });
    if (refusal) throw new AppError('label-forbids', refusal);
    return file;
  }

  async list(player: Player): Promise<DriveFileSummary[]> {
    const given = [
      ...(await this.shares.givenTo(player.address)),
      ...(player.outside ? [] : await this.shares.openToTheHouse()),
    ];
    // What lies in places stands there, with all that was never opened.
    const mine = await this.manager.findBy(DriveFileEntity, { owner: player.address, placeId: IsNull() });
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
    if (file.placeId !== null) {
      const inside = await this.inPlace(file, player);
      if (inside) return inside;
    } else if (file.owner === player.address)
      return { status: 'open', file: await this.detail(file, player) };
    const shares = await this.shares.of([id]);
    const mine = shares.find(({ address }) => address === player.address);
    const house = shares.find(({ link }) => link === 'whole-house' && !player.outside);
    return this.through(file, mine?.state === 'open' ? mine : (house ?? mine), player);
  }

  /** A file as it opens for somebody of its place; null for others, who need a share. */
  private async inPlace(file: DriveFileEntity, player: Player): Promise<OpenedView | null> {
    const guard = await this.guards.of(file.placeId);
    if (!guard || !comesIn(guard, player)) return null;
    return this.unlessRefused(file, player, { share: null, guard });
  }

  private async unlessRefused(
    file: DriveFileEntity,
    player: Player,
    { share, guard }: { readonly share: DriveShareEntity | null; readonly guard: PlaceGuard | null },
  ): Promise<OpenedView> {
    const { read } = this.leaves.of(file, player, share, guard);
    if (!read) return { status: 'open', file: await this.detail(file, player, share) };
    const machine = player.machine?.name ?? '';
    await this.recordUse(
      file,
      { player, effect: 'read', byLink: share?.link === 'whoever-holds-it' },
      readKey([file.id, player.address, file.labelVersion, guard?.label?.id, machine]),
    );
    const signIn = guard?.terms.signIn === true && player.outside && player.signedIn !== true;
    return { status: 'closed', name: file.name, why: signIn ? 'sign-in' : 'label', text: read };
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
    const guard = await this.guards.of(file.placeId);
    const refused = this.leaves.of(file, player, share, guard);
    const [summary] = await this.summaries([file], player);
    const mine = file.owner === player.address;
    return {
      ...(summary as DriveFileSummary),
      text: await this.files.text(file),
      version: file.version,
      refused: { 'take-out': refused['take-out'], 'make-another': refused['make-another'] },
      mine,
      place: guard && placeOfFile(guard, file),
      labelKeepsInside: this.leaves.keepsInside(file),
      suggestion: mine ? file.suggestion : null,
      lowering: this.lowering(file, player),
      shares: mine ? await this.shareViews(file, await this.shares.of([file.id]), guard) : [],
    };
  }

  /** The bytes of a file for whoever takes them away: another copy, which its label or a rule may not grant. */
  async taken(
    file: DriveFileEntity,
    player: Player,
    { refused, byLink }: { readonly refused: string | null; readonly byLink: boolean },
  ): Promise<Buffer> {
    const own = file.placeId === null && file.owner === player.address;
    const verdict = own
      ? null
      : await this.recordUse(
          file,
          { player, effect: 'make-another', byLink },
          `${file.id} copy ${randomUUID().slice(0, 13)}`,
        );
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
    use: { readonly player: Player; readonly effect: Effect; readonly byLink: boolean },
    key: string,
  ): Promise<IntakeVerdict> {
    const submission = await this.moves.handledBy(file, await this.files.bytes(file), use);
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
    const guard = await this.guards.of(file.placeId);
    const byLink = share.link === 'whoever-holds-it';
    // The label of the place says why, before any state of the share does.
    if (placeRefusal(guard, 'read', player, { kind: file.kind, byLink }))
      return this.unlessRefused(file, player, { share, guard });
    if (share.state === 'waiting') return closed(file.name, 'waiting');
    if (isOver(share)) return closed(file.name, 'over');
    if (share.state === 'withdrawn') return closed(file.name, 'withdrawn', file.restriction?.policyName);
    return this.unlessRefused(file, player, { share, guard });
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

  private async shareViews(
    file: DriveFileEntity,
    shares: readonly DriveShareEntity[],
    guard: PlaceGuard | null,
  ): Promise<ShareView[]> {
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
          share.state === 'open' &&
          this.leaves.closes(file, share, { outside: await this.shares.isOutside(share), guard }),
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

/** The same person at the same machine is turned back once for the same labels. */
const readKey = (of: readonly unknown[]): string =>
  `read ${createHash('sha256').update(JSON.stringify(of)).digest('base64url')}`;

function placeOfFile({ place, label, terms }: PlaceGuard, file: DriveFileEntity): DriveFileDetail['place'] {
  return {
    ...{ id: place.id, name: place.name, path: pathIn(place, file), label: label?.name ?? null },
    noCopies: terms.copies.kind === 'none',
  };
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
