import { mkdir, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { PlaceView } from '@lantern/contracts';
import { COMPANION_ENDING } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { PlaceEntity } from '../../directory/place.entity.js';

/** Files of one place that are listed at most. */
const MOST_FILES = 200_000;

export interface PlaceFile {
  readonly path: string;
  readonly bytes: number;
}

/** Places whose files lie on this machine. */
@Injectable()
export class PlacesService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async list(): Promise<PlaceView[]> {
    const places = await this.manager.find(PlaceEntity, { order: { name: 'ASC' } });
    return Promise.all(
      places.map(async (place) => {
        const files = await this.filesOf(place);
        const { id, name, about, owner, sharedOutside } = place;
        return {
          id,
          name,
          about,
          owner,
          sharedOutside,
          files: files.length,
          bytes: files.reduce((sum, { bytes }) => sum + bytes, 0),
        };
      }),
    );
  }

  /** Places of some ids, or all of them; an id nobody knows is left out. */
  find(ids: readonly string[]): Promise<PlaceEntity[]> {
    return this.manager.find(PlaceEntity, {
      ...(ids.length > 0 ? { where: { id: In([...ids]) } } : {}),
      order: { name: 'ASC' },
    });
  }

  folderOf(place: Pick<PlaceEntity, 'folder'>): string {
    return join(this.config.places, place.folder);
  }

  /** Every file of a place in a stable order; companions of labels are none. */
  async filesOf(place: Pick<PlaceEntity, 'folder'>): Promise<PlaceFile[]> {
    const root = this.folderOf(place);
    await mkdir(root, { recursive: true });
    const found: PlaceFile[] = [];
    const walk = async (below: string): Promise<void> => {
      const entries = await readdir(join(root, below), { withFileTypes: true });
      for (const entry of entries.sort((left, right) => (left.name < right.name ? -1 : 1))) {
        if (found.length >= MOST_FILES) return;
        const path = below === '' ? entry.name : `${below}/${entry.name}`;
        if (entry.isDirectory()) await walk(path);
        else if (entry.isFile() && !entry.name.endsWith(COMPANION_ENDING) && !entry.name.startsWith('.')) {
          const { size } = await stat(join(root, path));
          found.push({ path, bytes: size });
        }
      }
    };
    await walk('');
    return found;
  }
}
