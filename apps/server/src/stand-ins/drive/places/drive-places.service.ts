import { basename } from 'node:path';
import type { DriveFolderView, DrivePlaceTerms, DrivePlaceView } from '@lantern/contracts';
import { isOpenPlace } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { zip } from 'fflate';
import { EntityManager } from 'typeorm';
import { PeopleService, type Player } from '../../../directory/people.service.js';
import { DiscoveryPlaces } from '../../../discovery/places/places.service.js';
import { PlaceEntity } from '../../../directory/place.entity.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { LiveEvents } from '../../../platform/live/live-events.js';
import { DriveFileEntity } from '../drive.entity.js';
import { DriveFiles } from '../drive-files.service.js';
import { DriveService } from '../drive.service.js';
import { PlaceDisk } from './place-disk.service.js';
import { onDrive } from './place-files.service.js';
import { comesIn, finds, type PlaceGuard, PlaceGuards, placeRefusal } from './place-guards.service.js';

/** Entries of one folder that a window shows. */
const MOST_SHOWN = 1_000;
/** Bytes of files that are taken at once: they are put into one archive in memory. */
const MOST_TAKEN_BYTES = 200 * 1024 * 1024;

/** The places of the organisation as somebody uses them on the drive. */
@Injectable()
export class DrivePlaces {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly guards: PlaceGuards,
    private readonly disk: PlaceDisk,
    private readonly files: DriveFiles,
    private readonly drive: DriveService,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly discovered: DiscoveryPlaces,
  ) {}

  /** Places that somebody may know of, by name. */
  async list(player: Player): Promise<DrivePlaceView[]> {
    const places = await this.manager.find(PlaceEntity, { order: { name: 'ASC' } });
    const guards = (await this.guards.all(places)).filter((guard) => finds(guard, player));
    const names = await this.people.namesOf(guards.map(({ place }) => place.owner));
    return guards.map((guard) =>
      viewOf(guard, player, names.get(guard.place.owner)?.name ?? guard.place.owner),
    );
  }

  async folder(id: string, path: string, player: Player): Promise<DriveFolderView> {
    const guard = await this.entered(id, player);
    const entries = await this.disk.list(guard.place, path);
    return {
      path,
      entries: entries
        .slice(0, MOST_SHOWN)
        .map(({ changedAt, ...entry }) => ({ ...entry, changedAt: changedAt.toISOString() })),
      isCut: entries.length > MOST_SHOWN,
    };
  }

  /** The file of the drive for what lies at a path; made as somebody opens it first. */
  async file(id: string, path: string, player: Player): Promise<DriveFileEntity> {
    const guard = await this.entered(id, player);
    return this.known(guard, path);
  }

  /** Several files in one archive: each is asked about as if it were taken alone, and one refusal refuses all. */
  async take(id: string, paths: readonly string[], player: Player): Promise<Uint8Array> {
    const guard = await this.entered(id, player);
    const wanted = await Promise.all(
      [...new Set(paths)].map(async (path) => ({ path, file: await this.known(guard, path) })),
    );
    if (wanted.reduce((sum, { file }) => sum + file.size, 0) > MOST_TAKEN_BYTES)
      throw new AppError('file-too-large', 'These files are too many for one download. Choose fewer.', {
        details: { limit: MOST_TAKEN_BYTES / 1024 / 1024 },
      });
    const packed: Record<string, Uint8Array> = {};
    for (const { path, file } of wanted) {
      const opened = await this.drive.open(file.id, player);
      if (opened.status === 'closed') throw new AppError('not-permitted', `"${path}": ${opened.text}`);
      const refused = opened.file.refused['make-another'];
      packed[path] = await this.drive.taken(file, player, { refused, byLink: false });
    }
    return new Promise((resolve, reject) => {
      zip(packed, (error, archive) => (error ? reject(error) : resolve(archive)));
    });
  }

  /** Puts a file into a folder of the place; whoever comes in may. */
  async add(
    id: string,
    folder: string,
    { name, bytes, player }: { readonly name: string; readonly bytes: Uint8Array; readonly player: Player },
  ): Promise<DriveFileEntity> {
    const guard = await this.entered(id, player);
    this.demand(guard, 'change', player);
    const path = `${folder}/${basename(name).slice(0, 200)}`.replace(/^\/+/u, '');
    if (await this.disk.look(guard.place, path))
      throw new AppError('name-taken', `"${name}" already exists in this folder. Nothing was uploaded.`, {
        details: { name },
      });
    return this.files.addToPlace(player, guard, { path, bytes });
  }

  /** Another name is no copy: it works wherever somebody may change things. */
  async rename(
    id: string,
    { path, name, player }: { readonly path: string; readonly name: string; readonly player: Player },
  ): Promise<DriveFileEntity> {
    const guard = await this.entered(id, player);
    this.demand(guard, 'change', player);
    const wanted = name.trim();
    if (wanted === '' || /[/\\\0]/u.test(wanted) || wanted.startsWith('.'))
      throw new AppError('invalid-request', `"${name}" cannot be the name of a file. Nothing was renamed.`);
    const file = await this.known(guard, path);
    await this.disk.rename(guard.place, path, wanted);
    await this.files.renamed(file, wanted);
    this.live.publish({ kind: 'thing-changed', agent: 'drive' });
    return this.files.get(file.id);
  }

  /** Somebody inside lets themselves in, where the place allows that. */
  async join(id: string, player: Player): Promise<void> {
    const guard = await this.found(id, player);
    if (player.outside || !guard.opensInside)
      throw new AppError('not-permitted', `Only ${guard.place.owner} can let people in here. Ask them.`);
    await this.setMembers(guard.place, [...guard.place.members, player.address]);
  }

  /** Its owner lets somebody in, or ends it; people outside only where the label lets the place open outside. */
  async letIn(id: string, address: string, player: Player): Promise<void> {
    const { place, label, terms } = await this.owned(id, player);
    const given = address.trim().toLowerCase();
    const outside = (await this.people.outsideTest())(given);
    if (outside && terms.outside === 'nobody')
      throw new AppError(
        'label-forbids',
        `The label "${label?.name ?? ''}" does not let this place open to people outside. Nobody was let in.`,
      );
    if (outside)
      await this.manager.update(
        PlaceEntity,
        { id },
        { sharedOutside: [...new Set([...place.sharedOutside, given])] },
      );
    else {
      const [person] = await this.people.findByAddresses([given]);
      if (!person) throw new AppError('not-found', `The directory has no one at ${given}.`);
      await this.setMembers(place, [...place.members, given]);
    }
    await this.changed(id);
  }

  async letOut(id: string, address: string, player: Player): Promise<void> {
    const { place } = await this.owned(id, player);
    const rest = (all: readonly string[]): string[] => all.filter((each) => each !== address.toLowerCase());
    await this.manager.update(
      PlaceEntity,
      { id },
      { members: rest(place.members), sharedOutside: rest(place.sharedOutside) },
    );
    await this.changed(id);
  }

  private async setMembers({ id }: PlaceEntity, members: readonly string[]): Promise<void> {
    await this.manager.update(PlaceEntity, { id }, { members: [...new Set(members)] });
    await this.changed(id);
  }

  private async changed(id: string): Promise<void> {
    this.live.publish({ kind: 'thing-changed', agent: 'drive' });
    await this.discovered.accessChanged(id);
  }

  /** A file of a place; one that is gone takes what was known of it along. */
  private async known({ place }: PlaceGuard, path: string): Promise<DriveFileEntity> {
    const onDisk = await this.disk.look(place, path);
    if (onDisk) return this.files.inPlace(place, path, onDisk);
    const known = await this.manager.findOneBy(DriveFileEntity, {
      ...onDrive(place, path),
      placeId: place.id,
    });
    if (known) await this.files.forget(known);
    throw new AppError('not-found', `"${path}" is no longer in this place. Somebody moved or deleted it.`);
  }

  private async found(id: string, player: Player): Promise<PlaceGuard> {
    const guard = await this.guards.of(id);
    // Whoever may not know of it learns nothing.
    if (!guard || !finds(guard, player)) throw new AppError('not-found', 'There is no such place.');
    return guard;
  }

  private async owned(id: string, player: Player): Promise<PlaceGuard> {
    const guard = await this.found(id, player);
    if (guard.place.owner !== player.address)
      throw new AppError('not-permitted', `Only ${guard.place.owner} can do this.`);
    return guard;
  }

  private async entered(id: string, player: Player): Promise<PlaceGuard> {
    const guard = await this.found(id, player);
    if (!comesIn(guard, player))
      throw new AppError('not-permitted', `${guard.place.owner} has not let you in here. Ask them.`);
    this.demand(guard, 'read', player);
    return guard;
  }

  private demand(guard: PlaceGuard, effect: 'read' | 'change', player: Player): void {
    const refusal = placeRefusal(guard, effect, player, { kind: 'other' });
    if (refusal) throw new AppError('label-forbids', refusal);
  }
}

function viewOf(guard: PlaceGuard, player: Player, ownerName: string): DrivePlaceView {
  const { place, label } = guard;
  const open = comesIn(guard, player);
  const mine = place.owner === player.address;
  return {
    ...{ id: place.id, name: place.name, about: place.about },
    owner: { name: ownerName, address: place.owner },
    label: label && { id: label.id, name: label.name, colour: label.colour },
    ...{ terms: termsOf(guard, player), open, mine },
    mayJoin: !player.outside && guard.opensInside && !mine && !place.members.includes(player.address),
    members: open && !player.outside ? place.members : [],
    outside: open && !player.outside ? place.sharedOutside : [],
  };
}

function termsOf(guard: PlaceGuard, player: Player): DrivePlaceTerms | null {
  const { label, terms } = guard;
  if (!label || isOpenPlace(terms)) return null;
  const { copies, outside, signIn, strange, network = 'as-any' } = terms;
  return {
    noCopies: copies.kind === 'none',
    copyKinds: copies.kind === 'none' ? copies.kinds : [],
    ...{ outside, signIn, strange, network },
    refusedRead: placeRefusal(guard, 'read', player, { kind: 'other' }),
    refusedCopy: placeRefusal(guard, 'make-another', player, { kind: 'other' }),
  };
}
