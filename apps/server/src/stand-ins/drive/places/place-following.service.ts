import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { type OpeningsEnded, PlaceOpenings } from '../../../discovery/places/place-openings.js';
import { likeText } from '../../../platform/database/like.js';
import { DriveFileEntity, type DriveShareEntity } from '../drive.entity.js';
import { DriveLeaves } from '../drive-leaves.service.js';
import { DriveShares } from '../drive-shares.service.js';
import { onDrive } from './place-files.service.js';
import { type PlaceGuard, PlaceGuards } from './place-guards.service.js';

/** Whoever took a copy within this time counts as somebody who works like that. */
const TAKERS_DAYS = 30;
const MOST_TAKERS = 50;
/** Longest folder and name that the drive keeps. */
const MAX_FOLDER = 300;
const MAX_NAME = 200;

/** What labels on places do to what was opened before, beforehand and after. */
@Injectable()
export class PlaceFollowing extends PlaceOpenings {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly guards: PlaceGuards,
    private readonly shares: DriveShares,
    private readonly leaves: DriveLeaves,
  ) {
    super();
  }

  async preview(directoryPlaceId: string, label: string | null): Promise<OpeningsEnded> {
    const now = await this.guards.of(directoryPlaceId);
    if (!now) return { links: 0, people: [], closesInside: false, takers: [] };
    const then = this.guards.under(now, label);
    const closes = now.terms.outside !== 'nobody' && then.terms.outside === 'nobody';
    return {
      links: await this.linksEnded(now, then),
      people: closes ? now.place.sharedOutside : [],
      closesInside: now.opensInside && !then.opensInside,
      takers: then.terms.copies.kind === 'none' ? await this.takersOf(now.place.name) : [],
    };
  }

  async outsideLinks(directoryPlaceId: string): Promise<number> {
    return (await this.outside(directoryPlaceId)).length;
  }

  async endOutside(directoryPlaceId: string): Promise<void> {
    for (const { id } of await this.outside(directoryPlaceId)) await this.shares.end(id);
  }

  private async outside(directoryPlaceId: string): Promise<DriveShareEntity[]> {
    const files = await this.manager.findBy(DriveFileEntity, { placeId: directoryPlaceId });
    const shares = await this.shares.of(files.map(({ id }) => id));
    const isOutside = await Promise.all(shares.map((share) => this.shares.isOutside(share)));
    return shares.filter(
      ({ state }, at) => isOutside[at] === true && (state === 'open' || state === 'waiting'),
    );
  }

  /** Looks at every share of its files anew, so that what no longer may is withdrawn and its holder told why. */
  async follow(directoryPlaceId: string): Promise<void> {
    const files = await this.manager.findBy(DriveFileEntity, { placeId: directoryPlaceId });
    await this.shares.followAll(files.map(({ id }) => id));
  }

  async moved(
    manager: EntityManager,
    path: string,
    { from, to }: { readonly from: string; readonly to: string },
  ): Promise<void> {
    const [here, there] = await Promise.all([this.guards.of(from), this.guards.of(to)]);
    if (!here || !there) return;
    const file = await manager.findOneBy(DriveFileEntity, { placeId: from, ...onDrive(here.place, path) });
    if (!file) return;
    const address = onDrive(there.place, path);
    // Something that the drive remembers of a file that is no longer there.
    await manager.delete(DriveFileEntity, { placeId: to, ...address });
    // Too deep for the drive: it is forgotten there, with what was opened of it.
    if (address.folder.length > MAX_FOLDER || address.name.length > MAX_NAME)
      await manager.delete(DriveFileEntity, { id: file.id });
    else await manager.update(DriveFileEntity, { id: file.id }, { placeId: to, ...address });
  }

  private async linksEnded(now: PlaceGuard, then: PlaceGuard): Promise<number> {
    const files = await this.manager.findBy(DriveFileEntity, { placeId: now.place.id });
    const byId = new Map(files.map((file) => [file.id, file]));
    let ended = 0;
    for (const share of await this.shares.of([...byId.keys()])) {
      const file = byId.get(share.fileId);
      if (share.state !== 'open' || !file) continue;
      const outside = await this.shares.isOutside(share);
      const isClosed = (guard: PlaceGuard): boolean => this.leaves.closes(file, share, { outside, guard });
      if (isClosed(then) && !isClosed(now)) ended += 1;
    }
    return ended;
  }

  private async takersOf(placeName: string): Promise<string[]> {
    const since = new Date(Date.now() - TAKERS_DAYS * 86_400_000);
    const rows = await this.manager.query<{ address: string }[]>(
      `SELECT DISTINCT m.personAddress AS address FROM movement_trait t JOIN movement m ON m.id = t.movementId
       WHERE t.field = 'source' AND t.value LIKE ? AND m.activity = 'copy' AND m.at > ?
       ORDER BY address LIMIT ${MOST_TAKERS}`,
      [`${likeText(`/${placeName}/`)}%`, since],
    );
    return rows.map(({ address }) => address);
  }
}
