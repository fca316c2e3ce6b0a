import type { Effect } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { MachinesService } from '../../directory/machines/machines.service.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import type { Submission } from '../../movements/submission.js';
import type { DriveFileEntity } from './drive.entity.js';
import { DriveLabels } from './drive-labels.service.js';
import { handledPlaces, PlaceGuards } from './places/place-guards.service.js';

/** What is done with files of the drive, as the pipeline takes it. */
@Injectable()
export class DriveMovements {
  constructor(
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly labels: DriveLabels,
    private readonly guards: PlaceGuards,
  ) {}

  /** How a file moves when its owner opens it for somebody. */
  async submissionOf(
    file: DriveFileEntity,
    bytes: Uint8Array,
    opened: { readonly to: readonly string[]; readonly link?: Submission['link'] },
    player?: Player,
  ): Promise<Submission> {
    const [owner] = await this.people.findByAddresses([file.owner]);
    const machine = player?.machine ?? (await this.machines.ofPerson(file.owner));
    const guard = await this.guards.of(file.placeId);
    const by = player ?? { person: owner ?? null, name: '', address: file.owner, outside: false };
    return {
      places: handledPlaces(guard, file.name, by, {
        kind: file.kind,
        byLink: opened.link === 'whoever-holds-it',
        reachesOutside: opened.link === 'whoever-holds-it' || (await this.isAnyOutside(opened.to)),
      }),
      ...this.movedBy(file, bytes),
      person: owner ?? { address: file.owner },
      to: opened.to,
      ...(opened.link ? { link: opened.link } : {}),
      ...(machine ? { machine } : {}),
    };
  }

  private async isAnyOutside(addresses: readonly string[]): Promise<boolean> {
    const isOutside = await this.people.outsideTest();
    return addresses.some(isOutside);
  }

  /** How somebody whom it was opened for does something with it. */
  async handledBy(
    file: DriveFileEntity,
    bytes: Uint8Array,
    {
      player,
      effect,
      byLink,
    }: { readonly player: Player; readonly effect: Effect; readonly byLink: boolean },
  ): Promise<Submission> {
    const guard = await this.guards.of(file.placeId);
    return {
      places: handledPlaces(guard, file.name, player, { kind: file.kind, byLink }),
      ...(player.machine ? { machine: player.machine } : {}),
      ...(player.network ? { network: player.network } : {}),
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
}
