import { randomUUID } from 'node:crypto';
import type { DriveRestriction } from '@lantern/contracts';
import { decodeText, MAX_FILE_BYTES } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachinesService } from '../../people/machines.service.js';
import { PeopleService, type Player } from '../../people/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import { type Attempt, Door, stateAfter } from '../door.service.js';
import { withoutValues } from '../without-values.js';
import { DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveLabels, type LabelledBytes } from './drive-labels.service.js';

/** Somebody outside whom no list names, to ask what would happen. The domain is nobody's (RFC 2606). */
const ANYBODY_OUTSIDE = 'anybody@outside.invalid';
/** Longest text that is changed in the window. */
const MAX_TEXT_BYTES = 300_000;

/** Files of the drive, and what would happen to each on its way outside. */
@Injectable()
export class DriveFiles {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly door: Door,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly published: PublishedRevision,
    private readonly labels: DriveLabels,
  ) {}

  async get(id: string): Promise<DriveFileEntity> {
    const file = await this.manager.findOneBy(DriveFileEntity, { id });
    if (!file) throw new AppError('not-found', 'This file is gone; its owner took it away.');
    return file;
  }

  async mine(id: string, player: Player): Promise<DriveFileEntity> {
    const file = await this.get(id);
    if (file.owner !== player.address)
      throw new AppError('not-permitted', 'Only the owner of a file shares and changes it here.');
    return file;
  }

  bytes({ id, sealed }: DriveFileEntity): Buffer {
    return unseal(this.config.evidenceKey, `drive ${id}`, sealed);
  }

  /** The text of a file that can be changed in the window; null for others. */
  text(file: DriveFileEntity): string | null {
    if (file.size > MAX_TEXT_BYTES) return null;
    const bytes = this.bytes(file);
    return /\.(txt|md|csv|tsv)$/i.test(file.name) ? (decodeText(bytes) ?? null) : null;
  }

  async add(
    player: Player,
    { folder, name, bytes }: { readonly folder: string; readonly name: string; readonly bytes: Uint8Array },
  ): Promise<DriveFileEntity> {
    if (player.outside) throw new AppError('not-permitted', 'People outside put nothing on this drive.');
    const place = `/${folder
      .split('/')
      .map((step) => step.trim())
      .filter(Boolean)
      .join('/')}`;
    const id = randomUUID();
    const at = new Date();
    const bare = { id, folder: place, name: name.slice(0, 200), owner: player.address, label: null };
    const labelled = await this.labels.ofContent(bare, bytes, { sharedOutside: false, at });
    const file = await this.judged({
      ...bare,
      ...this.content(id, labelled),
      version: 1,
      changedAt: at,
      restriction: null,
      suggestion: null,
      lowering: null,
      judgedBy: 0,
    });
    try {
      await this.manager.transaction(async (manager) => {
        await manager.insert(DriveFileEntity, file);
        await this.labels.record(manager, file, { before: null, after: file.label, at });
      });
    } catch (error) {
      if (!(error instanceof Error && 'code' in error && error.code === 'ER_DUP_ENTRY')) throw error;
      throw new AppError('name-taken', `"${file.name}" is in this folder already. Nothing was put there.`, {
        details: { name: file.name },
      });
    }
    return file;
  }

  /** New content; refused where somebody saved another meanwhile. */
  async replace(
    file: DriveFileEntity,
    bytes: Uint8Array,
    version: number = file.version,
  ): Promise<DriveFileEntity> {
    if (bytes.length > MAX_FILE_BYTES)
      throw new AppError('file-too-large', 'The file is larger than the drive takes.', {
        details: { limit: Math.floor(MAX_FILE_BYTES / 1024 / 1024) },
      });
    const at = new Date();
    const sharedOutside = await this.isSharedOutside(file);
    const labelled = await this.labels.ofContent(file, bytes, { sharedOutside, at });
    const next = await this.judged({
      ...file,
      ...this.content(file.id, labelled),
      version: version + 1,
      changedAt: at,
    });
    await this.keep(file, next, { version, at });
    return next;
  }

  /** Gives it another label, inside the file where there is room. The text that somebody writes in it stays theirs. */
  async relabel(
    file: DriveFileEntity,
    label: DriveFileEntity['label'],
    change: { readonly by: string; readonly reason: string; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const labelled = await this.labels.write(file, this.bytes(file), label);
    const next = await this.judged({ ...file, ...this.content(file.id, labelled), lowering: null });
    await this.keep(file, next, { version: file.version, ...change });
    await this.endWaiting(file);
    return next;
  }

  /** A lower label that waits for a second person. */
  async waitForSecond(
    file: DriveFileEntity,
    lowering: NonNullable<DriveFileEntity['lowering']>,
  ): Promise<void> {
    await this.manager.update(DriveFileEntity, { id: file.id }, { lowering });
  }

  async endWaiting(file: DriveFileEntity): Promise<void> {
    await this.manager.update(DriveFileEntity, { id: file.id }, { lowering: null });
  }

  /** Writes what changed about a file, if nobody did meanwhile. */
  private async keep(
    { id, label: before }: DriveFileEntity,
    next: DriveFileEntity,
    {
      version,
      ...change
    }: { readonly version: number; readonly by?: string; readonly reason?: string; readonly at: Date },
  ): Promise<void> {
    const { size, sealed, changedAt, restriction, judgedBy, label, suggestion } = next;
    await this.manager.transaction(async (manager) => {
      const saved = await manager.update(
        DriveFileEntity,
        { id, version },
        {
          size,
          sealed,
          changedAt,
          restriction,
          judgedBy,
          label,
          suggestion,
          version: next.version,
        },
      );
      if (!saved.affected)
        throw new AppError(
          'changed-meanwhile',
          'The file was changed in another window. Nothing was saved over it.',
        );
      await this.labels.record(manager, next, { before, after: label, ...change });
    });
  }

  private content(
    id: string,
    { label, bytes }: LabelledBytes,
  ): Pick<DriveFileEntity, 'label' | 'size' | 'sealed'> {
    return { label, size: bytes.length, sealed: this.sealed(id, bytes) };
  }

  private async isSharedOutside({ id }: DriveFileEntity): Promise<boolean> {
    const open = await this.manager.findBy(DriveShareEntity, { fileId: id, state: 'open' });
    const isOutside = await this.people.outsideTest();
    return open.some(({ address, link }) =>
      address === null ? link === 'whoever-holds-it' : isOutside(address),
    );
  }

  async remove(file: DriveFileEntity): Promise<void> {
    await this.manager.delete(DriveFileEntity, { id: file.id });
  }

  /** Asks anew what would happen on the way outside, as after a revision. */
  async judgeAgain(file: DriveFileEntity): Promise<DriveFileEntity> {
    const label = file.label ?? (await this.labels.inside(file, this.bytes(file)));
    const { restriction, suggestion, judgedBy } = await this.judged({ ...file, label });
    await this.manager.update(DriveFileEntity, { id: file.id }, { label, restriction, suggestion, judgedBy });
    return { ...file, label, restriction, suggestion, judgedBy };
  }

  /** A text without the values that would stop it outside. */
  async cleaned(file: DriveFileEntity): Promise<{ text: string; takenOut: number }> {
    const text = this.text(file);
    if (text === null) return { text: '', takenOut: 0 };
    const attempt = await this.attemptOf(file, { to: [ANYBODY_OUTSIDE], link: 'whoever-holds-it' });
    const judged = await this.door.judge({
      ...attempt,
      files: [],
      texts: [{ role: 'body', path: [file.name], text }],
    });
    return withoutValues(text, judged);
  }

  /** How a file moves when it is opened for somebody. */
  async attemptOf(
    file: DriveFileEntity,
    opened: { readonly to: readonly string[]; readonly link?: Attempt['link'] },
  ): Promise<Attempt> {
    const [owner] = await this.people.findByAddresses([file.owner]);
    const machine = await this.machines.ofPerson(file.owner);
    return {
      channel: 'drive',
      activity: 'share',
      person: owner ?? { address: file.owner },
      at: new Date(),
      to: opened.to,
      texts: [],
      files: [{ name: file.name, bytes: this.bytes(file) }],
      ...this.labels.movedWith(file),
      from: [{ kind: 'place', path: `${file.folder}/${file.name}` }],
      connection: 'encrypted',
      ...(opened.link ? { link: opened.link } : {}),
      ...(machine ? { machine } : {}),
    };
  }

  private async judged(file: DriveFileEntity): Promise<DriveFileEntity> {
    const attempt = await this.attemptOf(file, { to: [ANYBODY_OUTSIDE], link: 'whoever-holds-it' });
    const { verdict, notice, movement } = await this.door.judge(attempt);
    const restriction: DriveRestriction | null =
      notice && stateAfter(verdict) !== 'went-on'
        ? {
            policyName: notice.policyName,
            ruleNumber: notice.ruleNumber,
            text: notice.text.replaceAll(ANYBODY_OUTSIDE, 'people outside'),
            found: notice.found,
            answer: notice.answer,
          }
        : null;
    return {
      ...file,
      restriction,
      suggestion: this.labels.suggestion(file, this.bytes(file), movement.parts),
      judgedBy: this.published.current?.number ?? 0,
    };
  }

  private sealed(id: string, bytes: Uint8Array): Buffer {
    return seal(this.config.evidenceKey, `drive ${id}`, bytes);
  }
}
