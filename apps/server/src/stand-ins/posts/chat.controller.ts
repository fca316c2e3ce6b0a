import { RoomRequest, type RoomView, ThingRequest, type ThingView } from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  Param,
  ParseUUIDPipe,
  Post,
  UploadedFiles,
  UseInterceptors,
} from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { formFiles, namedFiles } from '../../platform/uploads.js';
import { PostsService } from './posts.service.js';
import { ChatService } from './chat.service.js';

/** The chat window of a person of the demo, or of a guest. */
@ApiTags('stand-ins')
@Controller('stand-ins/chat/:player/rooms')
@Permit('stand-ins.use')
export class ChatController {
  constructor(
    private readonly chat: ChatService,
    private readonly things: PostsService,
    private readonly people: PeopleService,
  ) {}

  @Get()
  @Answers('RoomView', 'list')
  async rooms(@Param('player') player: string): Promise<RoomView[]> {
    return this.chat.rooms(await this.people.player(player));
  }

  @Post()
  @Answers('RoomView')
  async open(@Param('player') player: string, @Body() { name, members }: RoomRequest): Promise<RoomView> {
    return this.chat.open(name, members, await this.people.player(player));
  }

  /** Takes somebody out of a room. */
  @Delete(':room/members/:address')
  @Answers('RoomView')
  async takeOut(
    @Param('player') player: string,
    @Param('room', ParseUUIDPipe) room: string,
    @Param('address') address: string,
  ): Promise<RoomView> {
    return this.chat.takeOut(room, address, await this.people.player(player));
  }

  @Get(':room/things')
  @Answers('ThingView', 'list')
  async list(@Param('player') id: string, @Param('room', ParseUUIDPipe) room: string): Promise<ThingView[]> {
    const player = await this.people.player(id);
    await this.chat.room(room, player);
    return this.things.list('chat', room, player);
  }

  /** Writes into a room. What is withheld comes back to its author alone. */
  @Post(':room/things')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(formFiles())
  @Answers('ThingView')
  async write(
    @Param('player') id: string,
    @Param('room', ParseUUIDPipe) roomId: string,
    @Body() { text, label }: ThingRequest,
    @UploadedFiles() files: Express.Multer.File[] = [],
  ): Promise<ThingView> {
    const player = await this.people.player(id);
    const room = await this.chat.room(roomId, player);
    return this.things.put({
      window: 'chat',
      place: room.id,
      player,
      way: await this.chat.wayOf(room, player),
      activity: 'write',
      takenFrom: '',
      ...(label === undefined ? {} : { label: label === '' ? null : label }),
      text,
      files: namedFiles(files),
    });
  }
}
