import type { ThingView } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Player } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { WaitingService } from '../../waiting/waiting.service.js';
import { ChatService } from '../chat/chat.service.js';
import { DeskService } from '../desk/desk.service.js';
import { AttemptsService } from '../intake/attempts.service.js';
import { Reports } from '../reports.service.js';
import type { LabelWish } from '../../labels/label-step.js';
import type { ThingEntity } from './thing.entity.js';
import { ThingsService, type Way } from './things.service.js';

/** What a person does about something of theirs that was stopped or asked about. */
@Injectable()
export class ThingActs {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly things: ThingsService,
    private readonly chat: ChatService,
    private readonly desk: DeskService,
    private readonly attempts: AttemptsService,
    private readonly waiting: WaitingService,
    private readonly reports: Reports,
  ) {}

  async edit(id: string, player: Player, change: { readonly text: string } & LabelWish): Promise<ThingView> {
    const thing = await this.things.own(id, player);
    if (thing.state === 'waiting')
      throw new AppError('act-refused', 'It waits for an answer; answer first, or take it back.');
    return this.things.edit(id, player, { ...change, way: await this.wayOf(thing, player) });
  }

  async takeOutValues(id: string, player: Player): Promise<ThingView> {
    const thing = await this.things.own(id, player);
    const { text, takenOut } = await this.things.cleaned(id, player, await this.wayOf(thing, player));
    if (takenOut === 0)
      throw new AppError(
        'act-refused',
        'Nothing in the text itself can be taken out: what was found stands in a file. Change the file and try again.',
      );
    return this.edit(id, player, { text });
  }

  async reply(
    id: string,
    player: Player,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    const thing = await this.things.own(id, player);
    await this.waiting.reply(thing.attemptId, player, reply);
  }

  /** The page that asks about it is open, or closes. */
  async page(id: string, player: Player, isOpen: boolean): Promise<void> {
    const { attemptId } = await this.things.own(id, player);
    await this.waiting.page(attemptId, isOpen, new Date());
  }

  async askOverride(id: string, player: Player, words: string): Promise<void> {
    const { agent, attemptId } = await this.things.own(id, player);
    await this.attempts.askOverride(ofTheHouse(player), { agent, id: attemptId }, words);
  }

  async report(id: string, player: Player, words: string): Promise<void> {
    const { agent, attemptId } = await this.things.own(id, player);
    const { incident } = await this.attempts.find(agent, attemptId);
    if (incident === null) throw new AppError('act-refused', 'Nothing was found here that could be wrong.');
    await this.manager.transaction(async (manager) => {
      await this.things.markReported(manager, id);
      await this.reports.record(manager, { incident, by: player.name, words });
    });
    this.reports.announce(incident);
  }

  /** How it moves now: a room may have lost its guests since. */
  private async wayOf(thing: ThingEntity, player: Player): Promise<Way> {
    if (thing.agent === 'chat')
      return this.chat.wayOf(await this.chat.room(thing.place, player), player, 'write');
    const { agent, activity, takenFrom } = thing;
    return this.desk.wayOf(this.desk.target(agent, thing.place), player, { agent, activity, takenFrom });
  }
}

function ofTheHouse({ person }: Player): PersonEntity {
  if (!person) throw new AppError('not-permitted', 'People outside ask nobody here to let something go.');
  return person;
}
