import { randomUUID } from 'node:crypto';
import type { DriveRestriction } from '@lantern/contracts';
import type { Effect } from '@lantern/core/labels';
import { decodeText, MAX_FILE_BYTES } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachinesService } from '../../directory/machines.service.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { MovementJudge } from '../../movements/judge.service.js';
import { stateAfter, type Submission } from '../../movements/submission.js';
import type { Inspection } from '../../inspection/inspection.service.js';
import { withoutValues } from '../../movements/notice/without-values.js';
import { DriveFileEntity, DriveShareEntity } from './drive.entity.js';
import { DriveLabels } from './drive-labels.service.js';

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
    private readonly machines: MachinesService,
    private readonly published: PublishedRevision,
    private readonly labels: DriveLabels,
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

  bytes({ id, sealed }: DriveFileEntity): Promise<Buffer> {
    return unseal(this.config.evidenceKey, `drive ${id}`, sealed);
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
      ...{ restriction: null, suggestion: null, lowering: null, judgedBy: 0 },
    };
    const file = await this.withContent(bare, bytes, { sharedOutside: false, at });
    try {
      await this.manager.transaction(async (manager) => {
        await manager.insert(DriveFileEntity, file);
        await this.labels.record(manager, file, { before: null, after: file.label, at });
      });
    } catch (error) {
      if (!(error instanceof Error && 'code' in error && error.code === 'ER_DUP_ENTRY')) throw error;
      throw new AppError(
        'name-taken',
        `"${file.name}" already exists in this folder. Nothing was uploaded.`,
        {
          details: { name: file.name },
        },
      );
    }
    return file;
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
    return this.untilLabelled(given, save);
  }

  /** Gives it another label, inside the file where there is room. The text that somebody writes in it stays theirs. */
  async relabel(
    given: DriveFileEntity,
    label: DriveFileEntity['label'],
    change: { readonly by: string; readonly reason: string; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const save = async (file: DriveFileEntity): Promise<DriveFileEntity> => {
      const bytes = await this.labels.write(file, await this.bytes(file), label);
      const content = { label, size: bytes.length, sealed: await this.sealed(file.id, bytes) };
      const next = await this.judged({ ...file, ...content, lowering: null }, bytes);
      await this.keep(file, next, { version: file.version, ...change });
      return next;
    };
    const saved = await this.untilLabelled(given, save);
    await this.endWaiting(saved);
    return saved;
  }

  /** Saves again from the file as it now is, where it was given another label in between. */
  private async untilLabelled(
    file: DriveFileEntity,
    save: (file: DriveFileEntity) => Promise<DriveFileEntity>,
  ): Promise<DriveFileEntity> {
    for (let now = file, tries = 1; ; tries += 1) {
      try {
        return await save(now);
      } catch (error) {
        if (!(error instanceof LabelledMeanwhile) || tries >= MOST_TRIES) throw error;
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
    const { size, sealed, changedAt, restriction, judgedBy, label, suggestion } = next;
    await this.manager.transaction(async (manager) => {
      const saved = await manager.update(
        DriveFileEntity,
        { id, version, labelVersion },
        {
          ...{ size, sealed, changedAt, restriction, judgedBy, label, suggestion },
          version: next.version,
          labelVersion: labelVersion + 1,
        },
      );
      if (!saved.affected && (await manager.existsBy(DriveFileEntity, { id, version })))
        throw new LabelledMeanwhile();
      if (!saved.affected)
        throw new AppError(
          'changed-meanwhile',
          'The file was changed in another window. Your version was not saved.',
        );
      await this.labels.record(manager, next, { before, after: label, ...change });
    });
    next.labelVersion = labelVersion + 1;
  }

  /** A file with new content: read once, labelled as it calls for, and asked what would happen to it outside. */
  private async withContent(
    file: DriveFileEntity,
    bytes: Uint8Array,
    { sharedOutside, at }: { readonly sharedOutside: boolean; readonly at: Date },
  ): Promise<DriveFileEntity> {
    const read = await this.judge.read(await this.submissionOf(file, bytes, OUTSIDE));
    const label = this.labels.ofContent(file, read, { sharedOutside, at });
    const labelled = await this.labels.write(file, bytes, label);
    const content = { label, size: labelled.length, sealed: await this.sealed(file.id, labelled) };
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
    await this.manager.delete(DriveFileEntity, { id: file.id });
  }

  /** Asks anew what would happen on the way outside, as after a revision. */
  async judgeAgain(file: DriveFileEntity): Promise<DriveFileEntity> {
    const bytes = await this.bytes(file);
    const read = await this.judge.read(await this.submissionOf(file, bytes, OUTSIDE));
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
    const submission = await this.submissionOf(file, Buffer.alloc(0), OUTSIDE);
    const judged = await this.judge.judge({
      ...submission,
      files: [],
      texts: [{ role: 'body', path: [file.name], text }],
    });
    return withoutValues(text, judged);
  }

  /** How a file moves when its owner opens it for somebody. */
  async submissionOf(
    file: DriveFileEntity,
    bytes: Uint8Array,
    opened: { readonly to: readonly string[]; readonly link?: Submission['link'] },
  ): Promise<Submission> {
    const [owner] = await this.people.findByAddresses([file.owner]);
    const machine = await this.machines.ofPerson(file.owner);
    return {
      ...this.movedBy(file, bytes),
      person: owner ?? { address: file.owner },
      to: opened.to,
      ...(opened.link ? { link: opened.link } : {}),
      ...(machine ? { machine } : {}),
    };
  }

  /** How somebody whom it was opened for does something with it. */
  handledBy(file: DriveFileEntity, bytes: Uint8Array, player: Player, effect: Effect): Submission {
    return {
      ...this.movedBy(file, bytes),
      activity: effect === 'read' ? 'share' : 'copy',
      effects: [effect],
      person: player.person ?? { address: player.address },
      to: [],
    };
  }

  private movedBy(file: DriveFileEntity, bytes: Uint8Array): Omit<Submission, 'person' | 'to'> {
    return {
      channel: 'drive',
      activity: 'share',
      at: new Date(),
      texts: [],
      files: [{ name: file.name, bytes }],
      ...this.labels.movedWith(file),
      from: [{ kind: 'place', path: `${file.folder}/${file.name}` }],
      connection: 'encrypted',
      made: file.madeAt,
    };
  }

  private async judged(
    file: DriveFileEntity,
    bytes: Uint8Array,
    known?: Inspection,
  ): Promise<DriveFileEntity> {
    const submission = await this.submissionOf(file, bytes, OUTSIDE);
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
      restriction,
      suggestion: this.labels.suggestion(file, read),
      judgedBy: this.published.current?.number ?? 0,
    };
  }

  private sealed(id: string, bytes: Uint8Array): Promise<Buffer> {
    return seal(this.config.evidenceKey, `drive ${id}`, bytes);
  }
}

/** Thrown where a file got another label while it was being saved. */
class LabelledMeanwhile extends Error {}

/** Tries of a save beside others that label; honest ones need two. */
const MOST_TRIES = 5;
const OUTSIDE = { to: [ANYBODY_OUTSIDE], link: 'whoever-holds-it' } as const;
