import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { WatchedFolder } from '@lantern/contracts/discovery';
import { PLACES } from '@lantern/demo';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { Jobs } from '../discovery/jobs/jobs.service.js';
import { DiscoveryPlaceEntity } from '../discovery/places/discovery-place.entity.js';
import { DiscoveryPlaces } from '../discovery/places/places.service.js';
import { Readers } from '../discovery/readers/readers.service.js';
import { WatchDrafts } from '../discovery/watching/watch-drafts.service.js';
import { PlacesService } from '../labels/runs/places.service.js';
import { PublishedRevision } from '../published/published-revision.js';
import { labelsOf } from '../published/published-labels.js';

/** Readers of the demo: the start command enrols one on this machine. */
export const DEMO_GROUP = 'Head office';
/** Machines of the office that run on battery do not go through places once it is low. */
const READING_COST = { processor: null, bytesPerSecond: null, itemsPerSecond: null, batteryAbove: 40 };
/** What may lie where, by the label of the place; the others carry none. */
const PLACE_LABELS: Readonly<Record<string, string>> = {
  'Passenger desk': 'Passenger care',
  Manifests: 'Passenger care',
  Timetables: 'Open water',
};
/** Whoever works at the demo's machine. */
const WATCHED = 'bea.lindqvist@merrowstrait.example';
/** Places that machines nobody manages may open. */
const UNMANAGED = new Set(['Fleet', 'Timetables']);

/** The shares of the demo, a job over them, and its first run, which waits for a reader. */
@Injectable()
export class DemoDiscovery {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly folders: PlacesService,
    private readonly places: DiscoveryPlaces,
    private readonly jobs: Jobs,
    private readonly readers: Readers,
    private readonly published: PublishedRevision,
    private readonly watching: WatchDrafts,
  ) {}

  /** A folder beside the places that plays something plugged in. */
  private stick(): WatchedFolder {
    const path = join(dirname(this.folders.folderOf({ folder: '' })), 'stick');
    return { path, as: 'device', name: 'Stick of a visitor', trusted: false };
  }

  /** Gives the code by which the first reader enrols. */
  async load(by: string): Promise<string> {
    const { labels } = labelsOf(this.published.current?.document);
    const ids: string[] = [];
    for (const place of PLACES) {
      await mkdir(this.folders.folderOf(place), { recursive: true });
      const { id } = await this.places.save(null, {
        ...{
          name: place.name,
          store: 'folder',
          address: { at: this.folders.folderOf(place) },
          group: DEMO_GROUP,
        },
        ...{ owner: place.owner, reach: 'organisation', unmanaged: UNMANAGED.has(place.name) },
        label: labels.find(({ name }) => name === PLACE_LABELS[place.name])?.id ?? null,
        unwanted: ['exe', 'pst'],
      });
      await this.manager.update(DiscoveryPlaceEntity, { id }, { directoryPlaceId: place.id });
      ids.push(id);
    }
    const job = await this.jobs.save(null, {
      ...{ name: 'All shares', places: ids, step: 'find', everything: false, active: true },
      scope: { only: [], leaveOut: ['~$*', '*.tmp'], endings: [], mostBytes: null, changedWithinDays: null },
      schedule: { rule: 'FREQ=WEEKLY;BYDAY=SU', time: '02:00', zone: 'Europe/London' },
    });
    await this.jobs.start(job.id, by);
    const settings = { folders: [this.stick()], person: WATCHED, cost: READING_COST };
    const { id } = await this.watching.save(DEMO_GROUP, settings, by);
    await this.watching.use(DEMO_GROUP, id, { accountId: '', name: by, email: '' });
    return (await this.readers.createCode(DEMO_GROUP, by)).code;
  }
}
