import {
  type DriveFileDetail,
  type DriveFileSummary,
  DriveLoweringRequest,
  DriveTextRequest,
  DriveUploadRequest,
  LabelWishRequest,
  type OpenedView,
  OverrideRequest,
  ReplyRequest,
  ReportRequest,
  ShareRequest,
} from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  StreamableFile,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { fileName } from '../../platform/uploads.js';
import { DriveActs } from './drive-acts.service.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveShares } from './drive-shares.service.js';
import { DriveService } from './drive.service.js';

const oneFile = () => FileInterceptor('file', { limits: { fileSize: MAX_FILE_BYTES, files: 1 } });

/** The drive of the house, as a person of it or somebody outside uses it. */
@ApiTags('stand-ins')
@Controller('stand-ins/drive/:player')
@Permit('stand-ins.use')
export class DriveController {
  constructor(
    private readonly drive: DriveService,
    private readonly files: DriveFiles,
    private readonly shares: DriveShares,
    private readonly acts: DriveActs,
    private readonly people: PeopleService,
  ) {}

  @Get('files')
  @Answers('DriveFileSummary', 'list')
  async list(@Param('player') player: string): Promise<DriveFileSummary[]> {
    return this.drive.list(await this.people.player(player));
  }

  @Post('files')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(oneFile())
  @Answers('DriveFileDetail')
  async add(
    @Param('player') id: string,
    @Body() { folder }: DriveUploadRequest,
    @UploadedFile() file?: Express.Multer.File,
  ): Promise<DriveFileDetail> {
    const player = await this.people.player(id);
    if (!file) throw new AppError('invalid-request', 'No file came along.');
    const added = await this.files.add(player, { folder, name: fileName(file), bytes: file.buffer });
    return this.drive.detail(added, player);
  }

  @Get('files/:id')
  @Answers('OpenedView')
  async open(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<OpenedView> {
    return this.drive.open(id, await this.people.player(player));
  }

  @Get('links/:token')
  @Answers('OpenedView')
  async openLink(@Param('player') player: string, @Param('token') token: string): Promise<OpenedView> {
    return this.drive.openLink(token.slice(0, 100), await this.people.player(player));
  }

  @Get('files/:id/content')
  async content(
    @Param('player') id: string,
    @Param('id', ParseUUIDPipe) file: string,
  ): Promise<StreamableFile> {
    const player = await this.people.player(id);
    return this.stream(await this.drive.open(file, player), player);
  }

  @Get('links/:token/content')
  async linkContent(@Param('player') id: string, @Param('token') token: string): Promise<StreamableFile> {
    const player = await this.people.player(id);
    return this.stream(await this.drive.openLink(token.slice(0, 100), player), player);
  }

  /** New content for a file; what it was opened for follows. */
  @Put('files/:id/content')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(oneFile())
  @Answers('DriveFileDetail')
  async replace(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @UploadedFile() file?: Express.Multer.File,
  ): Promise<DriveFileDetail> {
    if (!file) throw new AppError('invalid-request', 'No file came along.');
    return this.changed(await this.people.player(player), id, file.buffer);
  }

  @Put('files/:id/text')
  @Answers('DriveFileDetail')
  async write(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text, version }: DriveTextRequest,
  ): Promise<DriveFileDetail> {
    return this.changed(await this.people.player(player), id, Buffer.from(text, 'utf8'), version);
  }

  /** Gives it another label; going down may cost a reason, or a second person's yes. */
  @Put('files/:id/label')
  @Answers('DriveFileDetail')
  async label(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() wish: LabelWishRequest,
  ): Promise<DriveFileDetail> {
    const person = await this.people.player(player);
    return this.drive.detail(await this.acts.label(id, person, wish), person);
  }

  /** A second person agrees to a lower label, or does not. */
  @Post('files/:id/lowering')
  @HttpCode(200)
  @Answers('OpenedView')
  async decideLowering(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { agrees }: DriveLoweringRequest,
  ): Promise<OpenedView> {
    const person = await this.people.player(player);
    const opened = await this.drive.open(id, person);
    if (opened.status === 'closed') throw new AppError('not-permitted', opened.text);
    await this.acts.decideLowering(id, person, agrees);
    return this.drive.open(id, person);
  }

  /** Takes out the values that would stop it outside. */
  @Post('files/:id/without-values')
  @HttpCode(200)
  @Answers('DriveFileDetail')
  async withoutValues(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<DriveFileDetail> {
    const person = await this.people.player(player);
    const { text, takenOut } = await this.files.cleaned(await this.files.mine(id, person));
    if (takenOut === 0)
      throw new AppError(
        'act-refused',
        'Values can be removed only from text files. Change the file in its own program and replace it here.',
      );
    return this.changed(person, id, Buffer.from(text, 'utf8'));
  }

  @Delete('files/:id')
  @HttpCode(204)
  async remove(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.files.remove(await this.files.mine(id, await this.people.player(player)));
  }

  /** Opens a file for one person or by a link. A refusal is an answer: the share comes back with its notice. */
  @Post('files/:id/shares')
  @Answers('DriveFileDetail')
  async share(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ShareRequest,
  ): Promise<DriveFileDetail> {
    const person = await this.people.player(player);
    const file = await this.files.mine(id, person);
    await this.shares.share(file, request, person);
    // It may carry another label since.
    return this.drive.detail(await this.files.get(id), person);
  }

  @Delete('shares/:share')
  @HttpCode(204)
  async end(@Param('player') player: string, @Param('share', ParseUUIDPipe) share: string): Promise<void> {
    await this.acts.end(share, await this.people.player(player));
  }

  @Post('shares/:share/reply')
  @HttpCode(204)
  async reply(
    @Param('player') player: string,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() request: ReplyRequest,
  ): Promise<void> {
    await this.acts.reply(share, await this.people.player(player), request);
  }

  @Post('shares/:share/override')
  @HttpCode(204)
  async override(
    @Param('player') player: string,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.acts.askOverride(share, await this.people.player(player), words);
  }

  @Post('shares/:share/report')
  @HttpCode(204)
  async report(
    @Param('player') player: string,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.acts.report(share, await this.people.player(player), words);
  }

  private async changed(
    player: Player,
    id: string,
    bytes: Uint8Array,
    version?: number,
  ): Promise<DriveFileDetail> {
    const file = await this.files.replace(await this.files.mine(id, player), bytes, version);
    await this.shares.follow(file);
    return this.drive.detail(file, player);
  }

  private async stream(opened: OpenedView, player: Player): Promise<StreamableFile> {
    if (opened.status === 'closed') throw new AppError('not-permitted', opened.text);
    const file = await this.files.get(opened.file.id);
    const bytes = await this.drive.taken(file, player, opened.file.refused['make-another']);
    return new StreamableFile(bytes, {
      type: 'application/octet-stream',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
    });
  }
}
