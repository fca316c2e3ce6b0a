import { randomUUID } from 'node:crypto';
import type { RoomView } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { isEmail } from 'class-validator';
import { EntityManager } from 'typeorm';
import { MachinesService } from '../../directory/machines/machines.service.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { Way } from './posts.service.js';
import { RoomEntity } from './room.entity.js';

/** Rooms of the chat stand-in, and how a message in one moves: to everybody else who is in it. */
@Injectable()
export class ChatService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
  ) {}

  async rooms(player: Player): Promise<RoomView[]> {
    const rooms = await this.manager.find(RoomEntity, { order: { name: 'ASC' } });
    return Promise.all(
      rooms.filter(({ members }) => members.includes(player.address)).map((room) => this.view(room)),
    );
  }

  /** The room, for somebody who is in it. */
  async room(id: string, player: Player): Promise<RoomEntity> {
    const room = await this.manager.findOneBy(RoomEntity, { id });
    if (!room?.members.includes(player.address))
      throw new AppError('not-found', 'You are not in this room, or it no longer exists.');
    return room;
  }

  async open(name: string, others: readonly string[], player: Player): Promise<RoomView> {
    const members = [...new Set([player.address, ...others.map((each) => each.trim().toLowerCase())])];
    const wrong = members.find((address) => !isEmail(address, { require_tld: false }));
    if (wrong !== undefined)
      throw new AppError('bad-address', `"${wrong.slice(0, 100)}" is not an address. No room was created.`, {
        details: { address: wrong.slice(0, 100) },
      });
    if (player.outside) throw new AppError('not-permitted', 'Guests open no rooms.');
    const room = { id: randomUUID(), name: name.trim(), direct: members.length === 2, members };
    await this.manager.insert(RoomEntity, room);
    return this.view(room);
  }

  /** Takes somebody out of a room, as when content may not reach them. */
  async takeOut(id: string, address: string, player: Player): Promise<RoomView> {
    const room = await this.room(id, player);
    if (player.outside) throw new AppError('not-permitted', 'Guests cannot remove anyone from a room.');
    const members = room.members.filter((member) => member !== address.toLowerCase());
    await this.manager.update(RoomEntity, { id }, { members });
    return this.view({ ...room, members });
  }

  async wayOf(room: RoomEntity, player: Player, activity: Way['activity'] = 'write'): Promise<Way> {
    const to = room.members.filter((member) => member !== player.address);
    const isOutside = await this.people.outsideTest();
    const machine = player.person && (await this.machines.ofPerson(player.address));
    return {
      channel: 'chat',
      activity,
      to,
      guests: to.filter(isOutside),
      connection: 'encrypted',
      ...(machine ? { machine } : {}),
    };
  }

  private async view({ id, name, direct, members }: RoomEntity): Promise<RoomView> {
    const names = await this.people.namesOf(members);
    return {
      id,
      name,
      direct,
      members: members.map((address) => ({
        name: names.get(address)?.name ?? address,
        address,
        guest: names.get(address)?.outside ?? true,
      })),
    };
  }
}
