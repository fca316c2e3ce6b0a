import { moves, ROOMS } from '@lantern/demo';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { ChatService } from '../channels/chat/chat.service.js';
import { RoomEntity } from '../channels/chat/room.entity.js';
import { DeskService } from '../channels/desk/desk.service.js';
import { ThingsService, type Way } from '../channels/things/things.service.js';
import { PeopleService, type Player } from '../people/people.service.js';

const HOUR_MS = 3_600_000;

/** The past of chats, browsers and machines, through the same door as everybody's. */
@Injectable()
export class DemoMoves {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly chat: ChatService,
    private readonly desk: DeskService,
    private readonly things: ThingsService,
  ) {}

  async load(say: (text: string) => void): Promise<void> {
    for (const room of ROOMS) await this.manager.insert(RoomEntity, { ...room, members: [...room.members] });
    const past = moves();
    say(`Loading the demo: ${past.length} messages, pastes, copies and prints …`);
    const people = new Map((await this.people.all()).map((person) => [person.address, person]));
    const now = Date.now();
    for (const move of past) {
      const person = people.get(move.person);
      if (!person) throw new Error('The demo moves something for somebody who is not in its directory');
      const player: Player = { person, name: person.name, address: person.address, outside: false };
      const { agent, place, activity, takenFrom, text } = move;
      await this.things.put({
        agent,
        place,
        player,
        way: await this.wayOf(move, player),
        activity,
        takenFrom,
        text,
        files: [],
        at: new Date(now - move.hoursAgo * HOUR_MS),
      });
    }
  }

  private async wayOf(move: ReturnType<typeof moves>[number], player: Player): Promise<Way> {
    const { agent, place, activity, takenFrom } = move;
    if (agent === 'chat') return this.chat.wayOf(await this.chat.room(place, player), player);
    return this.desk.wayOf(this.desk.target(agent, place), player, { agent, activity, takenFrom });
  }
}
