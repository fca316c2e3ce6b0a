import {
  EditThingRequest,
  OverrideRequest,
  PageRequest,
  ReplyRequest,
  ReportRequest,
  type ThingView,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Put,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { PostActs } from './post-acts.service.js';
import { PostsService } from './posts.service.js';

/** What a person can do about something they put somewhere. */
@ApiTags('stand-ins')
@Controller('stand-ins/things')
@Permit('stand-ins.use')
export class PostsController {
  constructor(
    private readonly things: PostsService,
    private readonly acts: PostActs,
    private readonly people: PeopleService,
  ) {}

  /** Writes it anew; it is judged as it then is. */
  @Put(':player/:id')
  @Answers('ThingView')
  async edit(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() change: EditThingRequest,
  ): Promise<ThingView> {
    return this.acts.edit(id, await this.people.player(player), change);
  }

  /** Takes out the values that were found, and tries again. */
  @Post(':player/:id/without-values')
  @HttpCode(200)
  @Answers('ThingView')
  async withoutValues(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<ThingView> {
    return this.acts.takeOutValues(id, await this.people.player(player));
  }

  @Post(':player/:id/reply')
  @HttpCode(204)
  async reply(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ReplyRequest,
  ): Promise<void> {
    await this.acts.reply(id, await this.people.player(player), request);
  }

  /** The page that asks is open still, or closes: some questions end with their page. */
  @Post(':player/:id/page')
  @HttpCode(204)
  async page(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { open }: PageRequest,
  ): Promise<void> {
    await this.acts.page(id, await this.people.player(player), open);
  }

  @Post(':player/:id/override')
  @HttpCode(204)
  async override(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.acts.askOverride(id, await this.people.player(player), words);
  }

  /** Says that what was found is none; the incident is marked so. */
  @Post(':player/:id/report')
  @HttpCode(204)
  async report(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.acts.report(id, await this.people.player(player), words);
  }

  @Delete(':player/:id')
  @HttpCode(204)
  async remove(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.things.remove(id, await this.people.player(player));
  }

  @Get(':player/:id/files/:index')
  async file(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('index', ParseIntPipe) index: number,
  ): Promise<StreamableFile> {
    const reader: Player = await this.people.player(player);
    const { name, bytes } = await this.things.file(id, index, reader);
    return new StreamableFile(bytes, {
      type: 'application/octet-stream',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    });
  }
}
