import { randomUUID } from 'node:crypto';
import type { IntakeVerdict, LedgerDeed, LedgerDeedView, LedgerFacts } from '@lantern/contracts';
import type { ApplicationUse, HandledInMovement, Machine, NetworkState, Spot } from '@lantern/core/movement';
import type { Label } from '@lantern/core/labels';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, MoreThan } from 'typeorm';
import type { Player } from '../../directory/people.service.js';
import { Movements } from '../../movements/movements.service.js';
import { SignOut } from '../../response/sign-out.js';
import { TakeBack } from '../../response/take-back.js';
import { SubmissionEntity } from '../../movements/submission.entity.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { seal, unseal } from '../../platform/sealing.js';
import { LEDGER_NAME } from '../posts/ledger-notes.js';
import { LedgerDeedEntity } from './ledger.entity.js';

export const LEDGER_SUBMITTER = 'ledger';
/** A sign-in lasts a working day. */
const SIGN_IN_HOURS = 12;
const LISTED = 100;

/** What is done, with what it would give. */
export interface LedgerDoing {
  readonly player: Player;
  readonly use: ApplicationUse & { readonly deed: LedgerDeed };
  readonly facts: LedgerFacts;
  readonly texts?: readonly string[];
  readonly file?: { readonly name: string; readonly bytes: Uint8Array };
  readonly into?: readonly Spot[];
  /** Of the report: what is taken inherits it. */
  readonly label?: Label | null;
  readonly handles?: readonly HandledInMovement[];
  readonly machine?: Machine;
  readonly network?: NetworkState;
  /** Given once it goes on. */
  readonly result?: Uint8Array;
}

/** Submits every activity in the ledger as a movement, on the screen and over the interface alike. */
@Injectable()
export class LedgerDeeds implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly movements: Movements,
    private readonly live: LiveEvents,
    private readonly takeBack: TakeBack,
    private readonly signOut: SignOut,
  ) {}

  onModuleInit(): void {
    this.takeBack.offeredBy('business', (manager, movementId) => this.takeBackOf(manager, movementId));
    this.signOut.offeredBy((manager, address) => this.signOutOf(manager, address));
    this.movements.listen(LEDGER_SUBMITTER, async (manager, verdict) => {
      await manager.update(
        LedgerDeedEntity,
        { submissionId: verdict.id },
        { state: verdict.state, ...(isOver(verdict.state) ? { result: null } : {}) },
      );
      this.live.publish({ kind: 'thing-changed', agent: 'business' });
    });
  }

  /** Disconnects the application or deletes the file of a movement. Returns how many things were withdrawn. */
  private async takeBackOf(manager: EntityManager, movementId: string): Promise<number> {
    const submission = await manager.findOneBy(SubmissionEntity, { movementId, submitter: LEDGER_SUBMITTER });
    if (!submission) return 0;
    const found = await manager.findOneBy(LedgerDeedEntity, {
      ...{ submissionId: submission.id, state: 'went-on', endedAt: IsNull() },
    });
    if (!found || (found.deed !== 'connect' && found.deed !== 'export')) return 0;
    await manager.update(LedgerDeedEntity, { id: found.id }, { endedAt: new Date(), result: null });
    this.live.publish({ kind: 'thing-changed', agent: 'business' });
    return 1;
  }

  private async signOutOf(manager: EntityManager, address: string): Promise<number> {
    const ended = await manager.update(
      LedgerDeedEntity,
      { person: address, deed: 'sign-in', state: 'went-on', endedAt: IsNull() },
      { endedAt: new Date() },
    );
    this.live.publish({ kind: 'thing-changed', agent: 'business' });
    return ended.affected ?? 0;
  }

  async do(doing: LedgerDoing): Promise<LedgerDeedView> {
    const { player, use, facts, texts = [], file, into = [], label, machine, network, result } = doing;
    const { handles = [] } = doing;
    const id = randomUUID();
    const sealed = result ? await seal(this.config.keys.installation, `ledger ${id}`, result) : null;
    await this.movements.submit(
      { submitter: LEDGER_SUBMITTER, key: id },
      {
        ...{ channel: 'business', activity: use.deed, person: player.person ?? { address: player.address } },
        ...{ at: new Date(), to: [], into, use, from: [{ kind: 'application', name: LEDGER_NAME }] },
        texts: texts.map((text) => ({ role: 'body', path: [facts.title], text })),
        files: file ? [file] : [],
        ...(label ? { own: { label, how: 'by-hand' } } : {}),
        ...(handles.length > 0 ? { handles } : {}),
        ...(machine ? { machine } : {}),
        ...(network ? { network } : {}),
      },
      {
        apply: async (manager, verdict) => {
          await manager.insert(LedgerDeedEntity, {
            ...{ id, person: player.address, deed: use.deed, way: use.by, at: new Date() },
            ...{ state: verdict.state, submissionId: verdict.id, facts },
            result: isOver(verdict.state) ? null : sealed,
            ...{ endedAt: null, reported: false },
          });
          this.live.publish({ kind: 'thing-changed', agent: 'business' });
        },
      },
    );
    return this.view(id, player);
  }

  /** The sign-in that holds; null where there is none. */
  async signIn(player: Player): Promise<LedgerDeedEntity | null> {
    return this.manager.findOne(LedgerDeedEntity, {
      where: {
        ...{ person: player.address, deed: 'sign-in', state: 'went-on', endedAt: IsNull() },
        at: MoreThan(new Date(Date.now() - SIGN_IN_HOURS * 3_600_000)),
      },
      order: { at: 'DESC' },
    });
  }

  async list(player: Player): Promise<LedgerDeedView[]> {
    const found = await this.manager.find(LedgerDeedEntity, {
      where: { person: player.address },
      order: { at: 'DESC' },
      take: LISTED,
    });
    return this.views(found);
  }

  async view(id: string, player: Player): Promise<LedgerDeedView> {
    const [view] = await this.views([await this.own(id, player)]);
    if (!view) throw new AppError('not-found', 'This entry does not exist.');
    return view;
  }

  async own(id: string, player: Player): Promise<LedgerDeedEntity> {
    const found = await this.manager.findOneBy(LedgerDeedEntity, { id, person: player.address });
    if (!found) throw new AppError('not-found', 'This entry does not exist.');
    return found;
  }

  /** File or records of a deed. Throws `act-refused` while it is not allowed. */
  async result(id: string, player: Player): Promise<{ deed: LedgerDeedEntity; bytes: Buffer }> {
    const deed = await this.own(id, player);
    if (deed.state !== 'went-on')
      throw new AppError('act-refused', 'This was not allowed, so there is no file.');
    const found = await this.manager.findOne(LedgerDeedEntity, {
      where: { id },
      select: { id: true, result: true },
    });
    if (!found?.result) throw new AppError('not-found', 'There is no file.');
    return {
      deed,
      bytes: Buffer.from(await unseal(this.config.keys.installation, `ledger ${id}`, found.result)),
    };
  }

  /** Ends a sign-in, or cuts a connection off. */
  async end(id: string, player: Player): Promise<void> {
    const changed = await this.manager.update(
      LedgerDeedEntity,
      { id, person: player.address, endedAt: IsNull() },
      { endedAt: new Date() },
    );
    if (!changed.affected) throw new AppError('not-found', 'This ended already.');
    this.live.publish({ kind: 'thing-changed', agent: 'business' });
  }

  async markReported(manager: EntityManager, id: string): Promise<void> {
    await manager.update(LedgerDeedEntity, { id }, { reported: true });
  }

  async views(deeds: readonly LedgerDeedEntity[]): Promise<LedgerDeedView[]> {
    const submissions = await this.manager.findBy(SubmissionEntity, {
      id: In(deeds.map(({ submissionId }) => submissionId)),
    });
    const notices = new Map(submissions.map(({ id, notice }) => [id, notice]));
    return deeds.map(({ id, deed, way, at, state, facts, submissionId, reported, endedAt }) => ({
      ...{ id, deed, by: way, at: at.toISOString(), state, facts, reported },
      notice: notices.get(submissionId) ?? null,
      endedAt: endedAt?.toISOString() ?? null,
    }));
  }
}

/** Whether a deed has ended for good, so that its file is deleted. */
const isOver = (state: IntakeVerdict['state']): boolean => state === 'taken-back';
