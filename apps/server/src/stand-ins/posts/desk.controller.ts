import { type TargetView, ThingRequest, type ThingView } from '@lantern/contracts';
import {
  Body,
  Controller,
  Get,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  UploadedFiles,
  UseInterceptors,
} from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { KeptCopies } from '../../incidents/kept/kept-copies.service.js';
import { PeopleService } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { AppError } from '../../platform/errors/app-error.js';
import { formFiles, namedFiles } from '../../platform/uploads.js';
import { PostsService } from './posts.service.js';
import { type DeskAgent, DeskService } from './desk.service.js';

const AGENTS = { browser: 'browser', endpoint: 'endpoint' } as const;
const asAgent = new ParseEnumPipe(AGENTS);

/** The browser and the desktop of a person of the demo. */
@ApiTags('stand-ins')
@Controller('stand-ins/desk/:agent/:person')
@Permit('stand-ins.use')
export class DeskController {
  constructor(
    private readonly desk: DeskService,
    private readonly things: PostsService,
    private readonly people: PeopleService,
    private readonly copies: KeptCopies,
  ) {}

  @Get('targets')
  @Answers('TargetView', 'list')
  targets(@Param('agent', asAgent) agent: DeskAgent): Promise<TargetView[]> {
    return this.desk.targets(agent);
  }

  @Get('targets/:target/things')
  @Answers('ThingView', 'list')
  async list(
    @Param('agent', asAgent) agent: DeskAgent,
    @Param('person', ParseUUIDPipe) person: string,
    @Param('target') target: string,
  ): Promise<ThingView[]> {
    const player = await this.people.player(person);
    const all = await this.things.list(agent, this.desk.target(agent, target).id, player);
    return all.filter(({ author }) => author.address === player.address);
  }

  /** Puts text or files into a site, a program or a device. */
  @Post('targets/:target/things')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(formFiles())
  @Answers('ThingView')
  async put(
    @Param('agent', asAgent) agent: DeskAgent,
    @Param('person', ParseUUIDPipe) person: string,
    @Param('target') target: string,
    @Body() { text, takenFrom = '', activity = 'paste', pictures = [] }: ThingRequest,
    @UploadedFiles() files: Express.Multer.File[] = [],
  ): Promise<ThingView> {
    if (text === '' && files.length === 0)
      throw new AppError('empty-movement', 'There is nothing to submit yet.');
    const player = await this.people.player(person);
    const found = this.desk.target(agent, target);
    return this.things.put({
      window: agent,
      place: found.id,
      player,
      way: {
        ...(await this.desk.wayOf(found, player, { agent, activity, takenFrom })),
        pictures: this.picturesOf(agent, pictures),
      },
      activity,
      takenFrom,
      text,
      files: namedFiles(files),
      // Nothing that runs on a machine sees what is typed into such a program: that is why it is named. A file is never typed.
      unwatched: found.unwatched !== '' && activity === 'type' && files.length === 0,
    });
  }

  /** An agent of ours does not take pictures where they are not kept. */
  private picturesOf(agent: DeskAgent, given: readonly string[]): ReturnType<KeptCopies['readPictures']> {
    if (!this.copies.keeps(agent)) return [];
    const pictures = given.map((each) => {
      const [at = '', base64 = ''] = each.split(' ', 2);
      return { at, base64 };
    });
    return this.copies.readPictures(agent, pictures, new Date());
  }
}
