import type { Activity, TargetView } from '@lantern/contracts';
import type { Spot } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PersonEntity } from '../../directory/person.entity.js';
import { MachinesService } from '../../directory/machines/machines.service.js';
import type { Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { Way } from './posts.service.js';
import { deskRecords } from './records.js';
import { DESKTOP, SITES, spotOf } from './targets.js';

export type DeskAgent = 'browser' | 'endpoint';

/** What the browser and the desktop of a person hold, and how something moves out of one place into another. */
@Injectable()
export class DeskService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly machines: MachinesService,
  ) {}

  async targets(agent: DeskAgent): Promise<TargetView[]> {
    if (agent === 'browser') return [...SITES];
    const some = await this.manager.find(PersonEntity, { order: { address: 'ASC' }, take: 8 });
    const records = deskRecords(some.map(({ name }) => name));
    return DESKTOP.map((target) => (target.id === 'booking' ? { ...target, records } : target));
  }

  target(agent: DeskAgent, id: string): TargetView {
    const found = (agent === 'browser' ? SITES : DESKTOP).find((target) => target.id === id);
    if (!found) throw new AppError('not-found', 'This target does not exist.');
    return found;
  }

  async wayOf(
    target: TargetView,
    player: Player,
    { agent, activity, takenFrom }: { agent: DeskAgent; activity: Activity; takenFrom: string },
  ): Promise<Way> {
    const machine = await this.machines.ofPerson(player.address);
    const browser = agent === 'browser';
    return {
      channel: agent,
      activity,
      to: [],
      from: takenFrom === '' ? [] : [sourceOf(takenFrom)],
      into: [spotOf(target)],
      window: browser ? `${target.name} - Browser` : target.name,
      ...(browser ? { connection: target.encrypted ? 'encrypted' : 'readable' } : {}),
      ...(machine ? { machine } : {}),
      network: machine?.state === 'strange' ? 'foreign' : 'trusted',
    };
  }
}

/** A program or a device of the desktop by its name; a name nobody knows is a program of the person's own. */
function sourceOf(name: string): Spot {
  const known = DESKTOP.find((target) => target.name === name);
  return known ? spotOf(known) : { kind: 'application', name };
}
