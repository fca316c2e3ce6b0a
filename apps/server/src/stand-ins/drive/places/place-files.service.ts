import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PlaceEntity } from '../../../directory/place.entity.js';
import { AppError } from '../../../platform/errors/app-error.js';
import type { DriveFileEntity } from '../drive.entity.js';
import { PlaceDisk } from './place-disk.service.js';

/** A file of the drive that lies in a place. */
export type FileInPlace = Pick<DriveFileEntity, 'folder' | 'name' | 'placeId' | 'changedAt'>;

/** Contents of files of the drive that lie in places. */
@Injectable()
export class PlaceFiles {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly disk: PlaceDisk,
  ) {}

  async read(file: FileInPlace): Promise<Buffer> {
    const place = await this.placeOf(file);
    return this.disk.read(place, pathIn(place, file));
  }

  async write(file: FileInPlace, bytes: Uint8Array): Promise<void> {
    const place = await this.placeOf(file);
    await this.disk.write(place, pathIn(place, file), bytes, file.changedAt);
  }

  async remove(file: FileInPlace): Promise<void> {
    const place = await this.placeOf(file);
    await this.disk.remove(place, pathIn(place, file));
  }

  private async placeOf({ placeId }: FileInPlace): Promise<PlaceEntity> {
    const place = await this.manager.findOneBy(PlaceEntity, { id: placeId ?? '' });
    if (!place) throw new AppError('not-found', 'The place of this file no longer exists.');
    return place;
  }
}

/** Folder and name on the drive of a path in a place. */
export function onDrive(
  { name }: Pick<PlaceEntity, 'name'>,
  path: string,
): { readonly folder: string; readonly name: string } {
  const steps = path.split('/').filter((step) => step !== '');
  return { folder: ['', name, ...steps.slice(0, -1)].join('/'), name: steps.at(-1) ?? '' };
}

/** Path in its place of a file of the drive. */
export function pathIn(
  { name }: Pick<PlaceEntity, 'name'>,
  file: Pick<FileInPlace, 'folder' | 'name'>,
): string {
  return `${file.folder.slice(name.length + 2)}/${file.name}`.replace(/^\//u, '');
}
