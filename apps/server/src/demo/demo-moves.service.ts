import { driveFiles, moves, ROOMS } from '@lantern/demo';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { ChatService } from '../stand-ins/posts/chat.service.js';
import { RoomEntity } from '../stand-ins/posts/room.entity.js';
import { DeskService } from '../stand-ins/posts/desk.service.js';
import { LabelsAtWork } from '../labels/labels-at-work.service.js';
import { DriveActs } from '../stand-ins/drive/drive-acts.service.js';
import { DriveFiles } from '../stand-ins/drive/drive-files.service.js';
import { DriveShares } from '../stand-ins/drive/drive-shares.service.js';
import { PostsService, type Way } from '../stand-ins/posts/posts.service.js';
import { CONFIG, type Config } from '../platform/config.js';
import { seal } from '../platform/sealing.js';
import { ownCertificate } from '@lantern/files';
import { PartnerEntity } from '../directory/person.entity.js';
import { PeopleService, type Player } from '../directory/people.service.js';

const ENCRYPTED_FOR = 'declarations@customs-broker.example';
const HOUR_MS = 3_600_000;

/** The past of chats, browsers and machines, through the same door as everybody's. */
@Injectable()
export class DemoMoves {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly chat: ChatService,
    private readonly desk: DeskService,
    private readonly things: PostsService,
    private readonly drive: DriveFiles,
    private readonly shares: DriveShares,
    private readonly driveActs: DriveActs,
    private readonly labels: LabelsAtWork,
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
        window: agent,
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

  /** Files of the drive, opened for people through the same door. */
  async loadDrive(): Promise<void> {
    const people = new Map((await this.people.all()).map((person) => [person.address, person]));
    for (const { folder, name, owner, text, label, openFor } of driveFiles()) {
      const person = people.get(owner);
      if (!person)
        throw new Error('The demo puts a file on the drive for somebody who is not in its directory');
      const player: Player = { person, name: person.name, address: person.address, outside: false };
      const added = await this.drive.add(player, { folder, name, bytes: Buffer.from(text, 'utf8') });
      const file = await this.driveActs.label(added.id, player, { label: this.labelCalled(label) });
      for (const address of openFor) await this.shares.share(file, { address }, player);
    }
  }

  /** One partner whose certificate is known, so that mail can be encrypted for it and read by whoever plays it. */
  async loadCertificates(): Promise<void> {
    const { certificate, privateKey } = ownCertificate(ENCRYPTED_FOR, new Date());
    await this.manager.update(
      PartnerEntity,
      { address: ENCRYPTED_FOR },
      {
        certificate,
        standInKey: await seal(
          this.config.keys.installation,
          `key of ${ENCRYPTED_FOR}`,
          Buffer.from(privateKey),
        ),
      },
    );
  }

  private labelCalled(name: string): string {
    const found = this.labels.set.labels.find((label) => label.name === name);
    if (!found) throw new Error('The demo names a label that it does not have');
    return found.id;
  }

  private async wayOf(move: ReturnType<typeof moves>[number], player: Player): Promise<Way> {
    const { agent, place, activity, takenFrom } = move;
    if (agent === 'chat') return this.chat.wayOf(await this.chat.room(place, player), player);
    return this.desk.wayOf(this.desk.target(agent, place), player, { agent, activity, takenFrom });
  }
}
