import { randomBytes, randomUUID } from 'node:crypto';
import type { IntakeVerdict, ShareRequest } from '@lantern/contracts';
import type { Treatment } from '@lantern/core/policy';
import {
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
  type OnModuleInit,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { isEmail } from 'class-validator';
import type { Subscription } from 'rxjs';
import { EntityManager, In, Not } from 'typeorm';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PublishedRevision } from '../../published/published-revision.js';
import type { Inspection } from '../../inspection/inspection.service.js';
import { MovementJudge } from '../../movements/judge.service.js';
import { stateAfter } from '../../movements/submission.js';
import { Movements } from '../../movements/movements.service.js';
import { SubmissionEntity } from '../../movements/submission.entity.js';
import { TakeBack } from '../../response/take-back.js';
import { DriveFileEntity, DriveShareEntity, type ShareState } from './drive.entity.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveMovements } from './drive-movements.service.js';
import { DriveLabels } from './drive-labels.service.js';

const SUBMITTER = 'drive';

/**
 * What opens files for others. What a rule forbids is forbidden for what was given earlier too, and allowed again when
 * its cause is gone.
 */
@Injectable()
export class DriveShares implements OnModuleInit, OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('drive');
  private subscription: Subscription | undefined;
  private sweeping: Promise<void> = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly files: DriveFiles,
    private readonly moves: DriveMovements,
    private readonly labels: DriveLabels,
    private readonly judge: MovementJudge,
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
    private readonly takeBack: TakeBack,
  ) {}

  onModuleInit(): void {
    this.takeBack.offeredBy('drive', (manager, movementId) => this.takeBackOf(manager, movementId));
    this.movements.listen(SUBMITTER, async (manager, verdict) => {
      const share = await manager.findOneBy(DriveShareEntity, { submissionId: verdict.id });
      if (!share) return;
      const file = await manager.findOneBy(DriveFileEntity, { id: share.fileId });
      // Somebody who may let it go did: that holds for this content, whatever is published next.
      const granted =
        share.state === 'waiting' && verdict.state === 'went-on' ? (file?.version ?? null) : null;
      await manager.update(
        DriveShareEntity,
        { id: share.id },
        { state: stateOf(verdict), notice: verdict.notice, grantedVersion: granted },
      );
    });
    this.subscription = this.live.events.subscribe((event) => {
      if (event.kind === 'revision-published') void this.followRevision();
    });
  }

  /** A server that stopped while it looked through the files goes on where some are still of an older revision. */
  async onApplicationBootstrap(): Promise<void> {
    const current = this.published.current?.number ?? 0;
    if (await this.manager.existsBy(DriveFileEntity, { judgedBy: Not(current) })) void this.followRevision();
  }

  async onApplicationShutdown(): Promise<void> {
    this.subscription?.unsubscribe();
    await this.sweeping;
  }

  of(fileIds: readonly string[]): Promise<DriveShareEntity[]> {
    return fileIds.length === 0
      ? Promise.resolve([])
      : this.manager.find(DriveShareEntity, { where: { fileId: In([...fileIds]) }, order: { at: 'ASC' } });
  }

  /** Shares that were given to somebody, open or not. */
  givenTo(address: string): Promise<DriveShareEntity[]> {
    return this.manager.findBy(DriveShareEntity, { address });
  }

  openToTheHouse(): Promise<DriveShareEntity[]> {
    return this.manager.findBy(DriveShareEntity, { link: 'whole-house', state: 'open' });
  }

  byToken(token: string): Promise<DriveShareEntity | null> {
    return this.manager.findOneBy(DriveShareEntity, { token });
  }

  async get(id: string): Promise<DriveShareEntity> {
    const share = await this.manager.findOneBy(DriveShareEntity, { id });
    if (!share) throw new AppError('not-found', 'This share is gone.');
    return share;
  }

  /** Opens a file for one person or by a link. The same asked twice, also at once, is one share. */
  async share(file: DriveFileEntity, request: ShareRequest, player: Player): Promise<DriveShareEntity> {
    const { address, link } = readShare(request);
    const target = address ?? link ?? '';
    if (!file.label && this.labels.needed(player))
      throw new AppError('label-needed', 'Choose a label for the file first. Nothing was shared.');
    const known = await this.manager.findOneBy(DriveShareEntity, { fileId: file.id, target });
    if (known && known.state !== 'refused' && !isOver(known)) return known;
    const id = known?.id ?? randomUUID();
    const opened = { to: address ? [address] : [], ...(link ? { link } : {}) };
    const submission = await this.moves.submissionOf(file, await this.files.bytes(file), opened, player);
    const key = `${file.id} ${target.slice(0, 30)} ${randomUUID().slice(0, 8)}`;
    const token = link ? randomBytes(32).toString('base64url') : null;
    const verdict = await this.movements.submit({ submitter: SUBMITTER, key }, submission, {
      apply: async (manager, decided) => {
        const share: DriveShareEntity = {
          id,
          fileId: file.id,
          target,
          address,
          link,
          token: known?.token ?? token,
          by: player.address,
          at: new Date(),
          state: stateOf(decided),
          until: endOf(decided.treatments),
          treatments: decided.treatments,
          notice: decided.notice,
          submissionId: decided.id,
          grantedVersion: null,
          reported: false,
        };
        await this.keep(manager, share, known !== null);
      },
    });
    await this.relabel(file, verdict);
    this.live.publish({ kind: 'thing-changed', agent: SUBMITTER });
    return (await this.manager.findOneBy(DriveShareEntity, { fileId: file.id, target })) ?? this.get(id);
  }

  /** The file may have gone, and somebody may have shared it alike, while the share was judged. */
  private async keep(manager: EntityManager, share: DriveShareEntity, known: boolean): Promise<void> {
    if (!(await manager.existsBy(DriveFileEntity, { id: share.fileId })))
      throw new AppError('not-found', 'This file no longer exists. Nothing was shared.');
    if (known) await manager.save(DriveShareEntity, share);
    else
      await manager.createQueryBuilder().insert().orIgnore().into(DriveShareEntity).values(share).execute();
  }

  /** A label that came about by sharing stands on the file, and counts from the next movement on. */
  private async relabel(file: DriveFileEntity, verdict: IntakeVerdict): Promise<void> {
    if (verdict.state === 'refused') return;
    const at = new Date();
    const label = this.labels.after(file, verdict, at);
    if (label?.id === file.label?.id) return;
    try {
      const change = { by: file.owner, reason: 'Set as it was shared', at };
      await this.follow(await this.files.relabel(file, label, change));
    } catch (error) {
      // A higher label that came in meanwhile stays.
      if (!(error instanceof AppError) || error.code !== 'changed-meanwhile') throw error;
    }
  }

  /** Ends the shares that one movement made: withdrawn ones would open again when their rule is gone. */
  private async takeBackOf(manager: EntityManager, movementId: string): Promise<number> {
    const submissions = await manager.find(SubmissionEntity, { where: { movementId }, select: { id: true } });
    if (submissions.length === 0) return 0;
    const ended = await manager.delete(DriveShareEntity, {
      submissionId: In(submissions.map(({ id }) => id)),
      state: In(['open', 'waiting']),
    });
    this.live.publish({ kind: 'thing-changed', agent: SUBMITTER });
    return ended.affected ?? 0;
  }

  async end(id: string): Promise<void> {
    await this.manager.delete(DriveShareEntity, { id });
    this.live.publish({ kind: 'thing-changed', agent: SUBMITTER });
  }

  /**
   * Looks at everything a file was opened for, as it now is: what a rule stops is withdrawn, since somebody could read it
   * until now; what was withdrawn and is stopped no longer opens again. Both are recorded. What somebody let go stays
   * open for the content that they let go.
   */
  async follow(file: DriveFileEntity): Promise<void> {
    const shares = (await this.of([file.id])).filter(
      ({ state, grantedVersion }) =>
        (state === 'open' && grantedVersion !== file.version) || state === 'withdrawn',
    );
    const bytes = shares.length > 0 ? await this.files.bytes(file) : null;
    let read: Inspection | undefined;
    for (const share of bytes ? shares : []) {
      const submission = await this.moves.submissionOf(file, bytes ?? Buffer.alloc(0), {
        to: share.address ? [share.address] : [],
        ...(share.link ? { link: share.link } : {}),
      });
      read ??= await this.judge.read(submission);
      const judged = await this.judge.judgeRead(submission, read);
      const stays = stateAfter(judged.verdict) !== 'refused';
      if (stays === (share.state === 'open')) continue;
      const word = stays ? 'opened' : 'withdrawn';
      const key = `${share.id} ${word} ${file.version} ${file.judgedBy} ${file.labelVersion}`;
      const from = share.state;
      await this.movements.submitJudged({ submitter: SUBMITTER, key }, submission, judged, {
        apply: async (manager, { id: submissionId, notice }) => {
          await manager.update(
            DriveShareEntity,
            { id: share.id, state: from },
            stays ? { state: 'open', notice: null } : { state: 'withdrawn', notice, submissionId },
          );
        },
      });
    }
    this.live.publish({ kind: 'thing-changed', agent: SUBMITTER });
  }

  /** After a revision every file is asked about anew. */
  async followRevision(): Promise<void> {
    const files = await this.manager.find(DriveFileEntity, { select: { id: true } });
    return this.followAll(files.map(({ id }) => id));
  }

  /** Asks about some files anew, one after the other, beside everything else. */
  followAll(ids: readonly string[]): Promise<void> {
    this.sweeping = this.sweeping
      .then(async () => {
        for (const id of ids) {
          const file = await this.manager.findOneBy(DriveFileEntity, { id });
          if (file) await this.lookAnew(file);
        }
      })
      .catch((error: unknown) => {
        this.log.error(
          `Files could not be looked at anew: ${error instanceof Error ? error.name : 'unknown'}`,
        );
      });
    return this.sweeping;
  }

  /** What lay in a place may be gone; its row goes when somebody looks for it there. */
  private async lookAnew(file: DriveFileEntity): Promise<void> {
    try {
      await this.follow(await this.files.judgeAgain(file));
    } catch (error) {
      if (!(error instanceof AppError && error.code === 'not-found')) throw error;
    }
  }

  async isOutside(share: DriveShareEntity): Promise<boolean> {
    if (share.address === null) return share.link === 'whoever-holds-it';
    return (await this.people.outsideTest())(share.address);
  }
}

/** The earliest end that a treatment gives. */
function endOf(treatments: readonly Treatment[]): Date | null {
  const days = treatments.flatMap((each) => (each.kind === 'end-access' ? [each.days] : []));
  return days.length === 0 ? null : new Date(Date.now() + Math.min(...days) * 86_400_000);
}

function stateOf({ state }: Pick<IntakeVerdict, 'state'>): ShareState {
  if (state === 'went-on') return 'open';
  return state === 'waiting' ? 'waiting' : 'refused';
}

export function isOver({ until }: Pick<DriveShareEntity, 'until'>): boolean {
  return until !== null && until.getTime() <= Date.now();
}

function readShare({ address, link }: ShareRequest): {
  address: string | null;
  link: DriveShareEntity['link'];
} {
  const given = address?.trim().toLowerCase() ?? '';
  if ((given === '') === (link === undefined))
    throw new AppError('invalid-request', 'Choose either a person or a kind of link.');
  if (given !== '' && !isEmail(given, { require_tld: false }))
    throw new AppError('bad-address', `"${given.slice(0, 100)}" is not an address. Nothing was shared.`, {
      details: { address: given.slice(0, 100) },
    });
  return { address: given || null, link: link ?? null };
}
