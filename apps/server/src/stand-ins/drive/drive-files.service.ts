import { randomUUID } from 'node:crypto';
import type { DriveRestriction } from '@lantern/contracts';
import type { Label } from '@lantern/core/labels';
import { decodeText, MAX_FILE_BYTES } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { carried } from '../../labels/carried-label.js';
import type { PlaceEntity } from '../../directory/place.entity.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { isDuplicate } from '../../platform/database/duplicate.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { MovementJudge } from '../../movements/judge.service.js';
import { stateAfter } from '../../movements/submission.js';
import type { Inspection } from '../../inspection/inspection.service.js';
import { withoutValues } from '../../movements/notice/without-values.js';
import { DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveLabels } from './drive-labels.service.js';
import { DriveMovements } from './drive-movements.service.js';
import { onDrive, PlaceFiles } from './places/place-files.service.js';

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
    private readonly judge: MovementJudge,
    private readonly people: PeopleService,
    private readonly moves: DriveMovements,
    private readonly published: PublishedRevision,
    private readonly labels: DriveLabels,
    private readonly placeFiles: PlaceFiles,
  ) {}

  async get(id: string): Promise<DriveFileEntity> {
    const file = await this.manager.findOneBy(DriveFileEntity, { id });
    if (!file) throw new AppError('not-found', 'The owner deleted this file.');
    return file;
  }

  async mine(id: string, player: Player): Promise<DriveFileEntity> {
    const file = await this.get(id);
    if (file.owner !== player.address)
      throw new AppError('not-permitted', 'Only the owner can share and change this file.');
    return file;
  }

  async bytes(file: DriveFileEntity): Promise<Buffer> {
    const { id, sealed } = file;
    if (file.placeId !== null) return this.placeFiles.read(file);
    return unseal(this.config.keys.installation, `drive ${id}`, sealed);
  }

  /** The text of a file that can be changed in the window; null for others. */
  async text(file: DriveFileEntity): Promise<string | null> {
    if (file.size > MAX_TEXT_BYTES || !/\.(txt|md|csv|tsv)$/i.test(file.name)) return null;
    return decodeText(await this.bytes(file)) ?? null;
  }

  async add(
    player: Player,
    { folder, name, bytes }: { readonly folder: string; readonly name: string; readonly bytes: Uint8Array },
  ): Promise<DriveFileEntity> {
    if (player.outside) throw new AppError('not-permitted', 'People outside cannot upload files.');
    const place = `/${folder
      .split('/')
      .map((step) => step.trim())
      .filter(Boolean)
      .join('/')}`;
    const at = new Date();
    const bare: DriveFileEntity = {
      ...{ id: randomUUID(), folder: place, name: name.slice(0, 200), owner: player.address, label: null },
      ...{ size: 0, sealed: Buffer.alloc(0), version: 1, labelVersion: 1, madeAt: at, changedAt: at },
      ...{ restriction: null, suggestion: null, lowering: null, judgedBy: 0, placeId: null, kind: 'other' },
    };
    return this.insert(bare, bytes, at);
  }

  private async insert(bare: DriveFileEntity, bytes: Uint8Array, at: Date): Promise<DriveFileEntity> {
    const file = await this.withContent(bare, bytes, { sharedOutside: false, at });
    await this.insertRow(file, at, () => this.content(file));
    return file;
  }

  private async insertRow(file: DriveFileEntity, at: Date, content: () => Promise<void>): Promise<void> {
    try {
      await this.manager.transaction(async (manager) => {
        await manager.insert(DriveFileEntity, { ...file, sealed: inRow(file) });
        await this.labels.record(manager, file, { before: null, after: file.label, at });
        await content();
      });
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      throw new AppError(
        'name-taken',
        `"${file.name}" already exists in this folder. Nothing was uploaded.`,
        {
          details: { name: file.name },
        },
      );
    }
  }

  /** Written last, so that a place that cannot be written undoes the row. */
  private async content(file: DriveFileEntity): Promise<void> {
    if (file.placeId !== null) await this.placeFiles.write(file, file.sealed);
  }

  /** A file that lies in a place, as it lies there now: what changed beside the drive is read and judged anew. */
  async inPlace(
    place: Pick<PlaceEntity, 'id' | 'name' | 'owner'>,
    path: string,
    onDisk: { readonly bytes: number; readonly changedAt: Date },
  ): Promise<DriveFileEntity> {
    const known = await this.manager.findOneBy(DriveFileEntity, {
      ...onDrive(place, path),
      placeId: place.id,
    });
    if (known && known.size === onDisk.bytes && isSameTime(known.changedAt, onDisk.changedAt)) return known;
    const at = new Date();
    const bare: DriveFileEntity = {
      ...{ id: known?.id ?? randomUUID(), ...onDrive(place, path), owner: place.owner, placeId: place.id },
      ...{ size: onDisk.bytes, sealed: Buffer.alloc(0), version: (known?.version ?? 0) + 1, kind: 'other' },
      ...{ labelVersion: (known?.labelVersion ?? 0) + 1, madeAt: known?.madeAt ?? at },
      ...{ changedAt: onDisk.changedAt, label: known?.label ?? null, lowering: known?.lowering ?? null },
      ...{ restriction: null, suggestion: null, judgedBy: 0 },
    };
    const bytes = await this.placeFiles.read(bare);
    const read = await this.judge.read(await this.moves.submissionOf(bare, bytes, OUTSIDE));
    const file = await this.judged(
      { ...bare, label: this.labels.inside(read, at) ?? bare.label },
      bytes,
      read,
    );
    if (known) await this.manager.save(DriveFileEntity, file);
    else
      await this.manager
        .createQueryBuilder()
        .insert()
        .orIgnore()
        .into(DriveFileEntity)
        .values(file)
        .execute();
    // Two who open it at once have one row.
    const where = { ...onDrive(place, path), placeId: place.id };
    return (await this.manager.findOneBy(DriveFileEntity, where)) ?? this.get(file.id);
  }

  /** Puts a new file into a place; it carries the label of the place where its own is lower. */
  async addToPlace(
    player: Player,
    { place, label }: { readonly place: PlaceEntity; readonly label: Label | null },
    { path, bytes }: { readonly path: string; readonly bytes: Uint8Array },
  ): Promise<DriveFileEntity> {
    const at = new Date();
    const ofPlace = label && carried(label, 'inherited', player.address, at);
    const bare: DriveFileEntity = {
      ...{ id: randomUUID(), ...onDrive(place, path), owner: place.owner, placeId: place.id, label: ofPlace },
      ...{ size: 0, sealed: Buffer.alloc(0), version: 1, labelVersion: 1, madeAt: at, changedAt: at },
      ...{ restriction: null, suggestion: null, lowering: null, judgedBy: 0, kind: 'other' },
    };
    return this.insert(bare, bytes, at);
  }

  /** Follows a file that got another name in its place. */
  async renamed(file: DriveFileEntity, name: string): Promise<void> {
    await this.manager.update(DriveFileEntity, { id: file.id }, { name });
  }

  /** What it is called here goes with what lay there. */
  async forget(file: Pick<DriveFileEntity, 'id'>): Promise<void> {
    await this.manager.delete(DriveFileEntity, { id: file.id });
  }

  /** New content; refused where somebody saved another meanwhile. A label that came in meanwhile stays. */
  async replace(
    given: DriveFileEntity,
    bytes: Uint8Array,
    version: number = given.version,
  ): Promise<DriveFileEntity> {
    if (bytes.length > MAX_FILE_BYTES)
      throw new AppError('file-too-large', 'The file is too large for the drive.', {
        details: { limit: Math.floor(MAX_FILE_BYTES / 1024 / 1024) },
      });
    const save = async (file: DriveFileEntity): Promise<DriveFileEntity> => {
      const at = new Date();
      const sharedOutside = await this.isSharedOutside(file);
      const next = await this.withContent(file, bytes, { sharedOutside, at });
      const saved = { ...next, version: version + 1, changedAt: at };
      await this.keep(file, saved, { version, at });
      return saved;
    };
    return this.again(given, save, (error) => error instanceof LabelledMeanwhile);
  }

  /**
   * Gives it another label, inside the file where there is room. The text that somebody writes in it stays theirs: the
   * label is written into what was saved meanwhile. Throws `changed-meanwhile` where it got a higher label meanwhile.
   */
  async relabel(
    given: DriveFileEntity,
    label: DriveFileEntity['label'],
    change: { readonly by: string; readonly reason: string; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const expected = Math.max(given.label?.rank ?? 0, label?.rank ?? 0);
    const save = async (file: DriveFileEntity): Promise<DriveFileEntity> => {
      if ((file.label?.rank ?? 0) > expected)
        throw new AppError(
          'changed-meanwhile',
          'The file was given a higher label in the meantime. That label was kept.',
        );
      const bytes = await this.labels.write(file, await this.bytes(file), label);
      const content = { label, size: bytes.length, sealed: await this.sealed(file, bytes) };
      const next = await this.judged({ ...file, ...content, lowering: null }, bytes);
      await this.keep(file, next, { version: file.version, ...change });
      return next;
    };
    const saved = await this.again(given, save, isOvertaken);
    await this.endWaiting(saved);
    return saved;
  }

  /** Saves again from the file as it is by then, where another save came first. */
  private async again(
    file: DriveFileEntity,
    save: (file: DriveFileEntity) => Promise<DriveFileEntity>,
    isMended: (error: unknown) => boolean,
  ): Promise<DriveFileEntity> {
    for (let now = file, tries = 1; ; tries += 1) {
      try {
        return await save(now);
      } catch (error) {
        if (!isMended(error) || tries >= MOST_TRIES) throw error;
        now = await this.get(file.id);
      }
    }
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
    { id, label: before, labelVersion }: DriveFileEntity,
    next: DriveFileEntity,
    {
      version,
      ...change
    }: { readonly version: number; readonly by?: string; readonly reason?: string; readonly at: Date },
  ): Promise<void> {
    const { size, kind, changedAt, restriction, judgedBy, label, suggestion } = next;
    await this.manager.transaction(async (manager) => {
      const saved = await manager.update(
        DriveFileEntity,
        { id, version, labelVersion },
        {
          ...{ size, sealed: inRow(next), kind, changedAt, restriction, judgedBy, label, suggestion },
          version: next.version,
          labelVersion: labelVersion + 1,
        },
      );
      if (!saved.affected && (await manager.existsBy(DriveFileEntity, { id, version })))
        throw new LabelledMeanwhile();
      if (!saved.affected) throw new SavedMeanwhile();
      await this.labels.record(manager, next, { before, after: label, ...change });
      await this.content(next);
    });
    next.labelVersion = labelVersion + 1;
  }

  /** A file with new content: read once, labelled as it calls for, and asked what would happen to it outside. */
  private async withContent(
    file: DriveFileEntity,
    bytes: Uint8Array,
    { sharedOutside, at }: { readonly sharedOutside: boolean; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const read = await this.judge.read(await this.moves.submissionOf(file, bytes, OUTSIDE));
    const label = this.labels.ofContent(file, read, { sharedOutside, at });
    const labelled = await this.labels.write(file, bytes, label);
    const content = { label, size: labelled.length, sealed: await this.sealed(file, labelled) };
    return this.judged({ ...file, ...content }, labelled, read);
  }

  private async isSharedOutside({ id }: DriveFileEntity): Promise<boolean> {
    const open = await this.manager.findBy(DriveShareEntity, { fileId: id, state: 'open' });
    const isOutside = await this.people.outsideTest();
    return open.some(({ address, link }) =>
      address === null ? link === 'whoever-holds-it' : isOutside(address),
    );
  }

  async remove(file: DriveFileEntity): Promise<void> {
    if (file.placeId !== null) await this.placeFiles.remove(file);
    await this.manager.delete(DriveFileEntity, { id: file.id });
  }

  /** Asks anew what would happen on the way outside, as after a revision. */
  async judgeAgain(file: DriveFileEntity): Promise<DriveFileEntity> {
    const bytes = await this.bytes(file);
    const read = await this.judge.read(await this.moves.submissionOf(file, bytes, OUTSIDE));
    const label = file.label ?? this.labels.inside(read, new Date());
    const next = await this.judged({ ...file, label }, bytes, read);
    const { restriction, suggestion, judgedBy } = next;
    const { id, labelVersion } = file;
    const saved = await this.manager.update(
      DriveFileEntity,
      { id, labelVersion },
      { label, restriction, suggestion, judgedBy, labelVersion: labelVersion + 1 },
    );
    // Whoever changed it meanwhile had it judged as it then was.
    return saved.affected ? { ...next, labelVersion: labelVersion + 1 } : this.get(id);
  }

  /** A text without the values that would stop it outside. */
  async cleaned(file: DriveFileEntity): Promise<{ text: string; takenOut: number }> {
    const text = await this.text(file);
    if (text === null) return { text: '', takenOut: 0 };
    const submission = await this.moves.submissionOf(file, Buffer.alloc(0), OUTSIDE);
    const judged = await this.judge.judge({
      ...submission,
      files: [],
      texts: [{ role: 'body', path: [file.name], text }],
    });
    return withoutValues(text, judged);
  }

  private async judged(
    file: DriveFileEntity,
    bytes: Uint8Array,
    known?: Inspection,
  ): Promise<DriveFileEntity> {
    const submission = await this.moves.submissionOf(file, bytes, OUTSIDE);
    const read = known ?? (await this.judge.read(submission));
    const { verdict, notice } = await this.judge.judgeRead(submission, read);
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
      kind: read.files[0]?.kind ?? 'other',
      restriction,
      suggestion: this.labels.suggestion(file, read),
      judgedBy: this.published.current?.number ?? 0,
    };
  }

  /** Content as it is kept: sealed in the row, or as it is for the place it lies in. */
  private async sealed({ id, placeId }: DriveFileEntity, bytes: Uint8Array): Promise<Buffer> {
    if (placeId !== null) return Buffer.from(bytes);
    return seal(this.config.keys.installation, `drive ${id}`, bytes);
  }
}

/** What of its content stands in the row: nothing where it lies in a place. */
const inRow = ({ placeId, sealed }: DriveFileEntity): Buffer => (placeId === null ? sealed : Buffer.alloc(0));

/** Times of files are kept to the millisecond. */
const isSameTime = (one: Date, other: Date): boolean => Math.abs(one.getTime() - other.getTime()) < 2;

/** Thrown where a file got another label while it was being saved. */
class LabelledMeanwhile extends Error {}

/** Thrown where its content was saved by somebody else meanwhile. */
class SavedMeanwhile extends AppError {
  constructor() {
    super('changed-meanwhile', 'The file was changed in another window. Your version was not saved.');
  }
}

const isOvertaken = (error: unknown): boolean =>
  error instanceof LabelledMeanwhile || error instanceof SavedMeanwhile;

/** Tries of a save beside others that label; honest ones need two. */
const MOST_TRIES = 5;
const OUTSIDE = { to: [ANYBODY_OUTSIDE], link: 'whoever-holds-it' } as const;
