import { type IncidentDetail, MAX_PICTURE_BYTES, type PicturesView } from '@lantern/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { JournalService } from '../../journal/journal.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { insertOnly } from '../../platform/database/insert-only.js';
import { movementKey } from '../../platform/keys/movement-keys.js';
import { SEALED_OF_MOVEMENT } from '../../platform/keys/sealed-of-movement.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { isBase64 } from '../../inspection/handed-in.js';
import type { Channel } from '@lantern/core/movement';
import { KeptOriginalEntity, KeptPicturesEntity } from './kept.entity.js';
import {
  type ContentAsItWas,
  packed,
  packedPictures,
  type Picture,
  pictureType,
  sizeOf,
  unpackedPictures,
} from './packing.js';

/** Longest time between a picture and its movement: a picture shows the movement, not somebody's day. */
const AROUND_MS = 5 * 60_000;
/** Largest original that is kept. Every backup carries all of them. */
const MOST_BYTES = 25 * 1024 * 1024;

/** Copies of one movement, sealed and ready to be written. */
export interface PreparedCopies {
  readonly original: KeptOriginalEntity | null;
  readonly pictures: KeptPicturesEntity | null;
}

export const NO_COPIES: PreparedCopies = { original: null, pictures: null };

/** Keeps originals and pictures of the screen, sealed, and opens them. */
@Injectable()
export class KeptCopies {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly journal: JournalService,
  ) {}

  /** Whether a channel keeps content: one that keeps findings alone has no copies and takes no pictures. */
  keeps(channel: Channel): boolean {
    return this.journal.keepsContent(channel);
  }

  /** Pictures of the screen as they were handed in. Throws `invalid-request` for other files, other times, and other channels. */
  readPictures(
    channel: Channel,
    given: readonly { readonly at: string; readonly base64: string }[],
    moved: Date,
  ): Picture[] {
    if (given.length > 0 && !this.keeps(channel))
      throw new AppError(
        'invalid-request',
        'This channel keeps findings only, so it takes no pictures. Nothing was kept. Send the movement without them.',
      );
    return given.map(({ at, base64 }, index) => {
      const taken = new Date(at);
      const bytes = isBase64(base64) ? Buffer.from(base64, 'base64') : Buffer.alloc(0);
      // Written so that an unreadable time (NaN) is refused as well.
      if (!(Math.abs(taken.getTime() - moved.getTime()) <= AROUND_MS))
        throw new AppError(
          'invalid-request',
          `pictures.${index}.at must be a time within five minutes of the movement.`,
        );
      if (bytes.length > MAX_PICTURE_BYTES || pictureType(bytes) === null)
        throw new AppError(
          'invalid-request',
          `pictures.${index} must be a PNG or JPEG in base 64 of ${MAX_PICTURE_BYTES / 1024} kB at most.`,
        );
      return { at: taken, bytes };
    });
  }

  /** Packs and seals; does nothing where the channel keeps findings alone. */
  async prepare(
    { movementId, key }: { readonly movementId: string; readonly key: Buffer },
    channel: Channel,
    content: ContentAsItWas & { readonly pictures?: readonly Picture[] | undefined },
  ): Promise<PreparedCopies> {
    if (!this.keeps(channel)) return NO_COPIES;
    const { bytes, items } = sizeOf(content);
    const { original, pictures } = SEALED_OF_MOVEMENT;
    const taken = content.pictures ?? [];
    return {
      original:
        items === 0
          ? null
          : {
              ...{ movementId, bytes, items },
              sealed:
                bytes > MOST_BYTES ? null : await seal(key, original.place(movementId), packed(content)),
            },
      pictures:
        taken.length === 0
          ? null
          : {
              ...{ movementId, taken: taken.map(({ at }) => at.toISOString()) },
              sealed: await seal(key, pictures.place(movementId), packedPictures(taken)),
            },
    };
  }

  async write(manager: EntityManager, { original, pictures }: PreparedCopies): Promise<void> {
    if (original) await insertOnly(manager, KeptOriginalEntity, [original]);
    if (pictures) await insertOnly(manager, KeptPicturesEntity, [pictures]);
  }

  /** What there is of a movement, without its content. */
  async of(movementId: string): Promise<Pick<IncidentDetail, 'original' | 'pictures'>> {
    const original = await this.manager
      .createQueryBuilder(KeptOriginalEntity, 'k')
      .select(['k.bytes AS bytes', 'k.items AS items', 'k.sealed IS NOT NULL AS isKept'])
      .where({ movementId })
      .getRawOne<{ bytes: string; items: number; isKept: number }>();
    const pictures = await this.manager.findOne(KeptPicturesEntity, {
      where: { movementId },
      select: { movementId: true, taken: true },
    });
    return {
      original: original
        ? { bytes: Number(original.bytes), items: original.items, kept: Number(original.isKept) === 1 }
        : null,
      pictures: pictures?.taken ?? [],
    };
  }

  /** The archive of the content; null where there is none. */
  async original(movementId: string): Promise<Buffer | null> {
    const found = await this.manager.findOneBy(KeptOriginalEntity, { movementId });
    if (!found?.sealed) return null;
    const key = await movementKey(this.manager, this.config.keys, movementId);
    return unseal(key, SEALED_OF_MOVEMENT.original.place(movementId), found.sealed);
  }

  async pictures(movementId: string): Promise<PicturesView['pictures']> {
    const found = await this.manager.findOneBy(KeptPicturesEntity, { movementId });
    if (!found) return [];
    const key = await movementKey(this.manager, this.config.keys, movementId);
    const archive = await unseal(key, SEALED_OF_MOVEMENT.pictures.place(movementId), found.sealed);
    return unpackedPictures(archive).map((bytes, at) => ({
      at: found.taken[at] ?? '',
      type: pictureType(bytes) ?? 'image/png',
      base64: Buffer.from(bytes).toString('base64'),
    }));
  }
}
