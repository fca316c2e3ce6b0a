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
import type { Player } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { fileName } from '../../platform/uploads.js';
import { DriveActs } from './drive-acts.service.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveShares } from './drive-shares.service.js';
import { PlayedBy, type Played, Players } from './players.service.js';
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
    private readonly players: Players,
  ) {}

  @Get('files')
  @Answers('DriveFileSummary', 'list')
  async list(@PlayedBy() player: Played): Promise<DriveFileSummary[]> {
    return this.drive.list(await this.players.of(player));
  }

  @Post('files')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(oneFile())
  @Answers('DriveFileDetail')
  async add(
    @PlayedBy() id: Played,
    @Body() { folder }: DriveUploadRequest,
    @UploadedFile() file?: Express.Multer.File,
  ): Promise<DriveFileDetail> {
    const player = await this.players.of(id);
    if (!file) throw new AppError('invalid-request', 'No file came along.');
    const added = await this.files.add(player, { folder, name: fileName(file), bytes: file.buffer });
    return this.drive.detail(added, player);
  }

  @Get('files/:id')
  @Answers('OpenedView')
  async open(@PlayedBy() player: Played, @Param('id', ParseUUIDPipe) id: string): Promise<OpenedView> {
    return this.drive.open(id, await this.players.of(player));
  }

  @Get('links/:token')
  @Answers('OpenedView')
  async openLink(@PlayedBy() player: Played, @Param('token') token: string): Promise<OpenedView> {
    return this.drive.openLink(token.slice(0, 100), await this.players.of(player));
  }

  @Get('files/:id/content')
  async content(@PlayedBy() id: Played, @Param('id', ParseUUIDPipe) file: string): Promise<StreamableFile> {
    const player = await this.players.of(id);
    return this.stream(await this.drive.open(file, player), player, false);
  }

  @Get('links/:token/content')
  async linkContent(@PlayedBy() id: Played, @Param('token') token: string): Promise<StreamableFile> {
    const player = await this.players.of(id);
    return this.stream(await this.drive.openLink(token.slice(0, 100), player), player, true);
  }

  /** New content for a file; what it was opened for follows. */
  @Put('files/:id/content')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(oneFile())
  @Answers('DriveFileDetail')
  async replace(
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
    @UploadedFile() file?: Express.Multer.File,
  ): Promise<DriveFileDetail> {
    if (!file) throw new AppError('invalid-request', 'No file came along.');
    return this.changed(await this.players.of(player), id, file.buffer);
  }

  @Put('files/:id/text')
  @Answers('DriveFileDetail')
  async write(
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { text, version }: DriveTextRequest,
  ): Promise<DriveFileDetail> {
    return this.changed(await this.players.of(player), id, Buffer.from(text, 'utf8'), version);
  }

  /** Gives it another label; going down may cost a reason, or a second person's yes. */
  @Put('files/:id/label')
  @Answers('DriveFileDetail')
  async label(
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() wish: LabelWishRequest,
  ): Promise<DriveFileDetail> {
    const person = await this.players.of(player);
    await this.drive.toChange(id, person);
    return this.drive.detail(await this.acts.label(id, person, wish), person);
  }

  /** A second person agrees to a lower label, or does not. */
  @Post('files/:id/lowering')
  @HttpCode(200)
  @Answers('OpenedView')
  async decideLowering(
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { agrees }: DriveLoweringRequest,
  ): Promise<OpenedView> {
    const person = await this.players.of(player);
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
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<DriveFileDetail> {
    const person = await this.players.of(player);
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
  async remove(@PlayedBy() player: Played, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.files.remove(await this.drive.toChange(id, await this.players.of(player)));
  }

  /** Opens a file for one person or by a link. A refusal is an answer: the share comes back with its notice. */
  @Post('files/:id/shares')
  @Answers('DriveFileDetail')
  async share(
    @PlayedBy() player: Played,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ShareRequest,
  ): Promise<DriveFileDetail> {
    const person = await this.players.of(player);
    const file = await this.files.mine(id, person);
    await this.shares.share(file, request, person);
    // It may carry another label since.
    return this.drive.detail(await this.files.get(id), person);
  }

  @Delete('shares/:share')
  @HttpCode(204)
  async end(@PlayedBy() player: Played, @Param('share', ParseUUIDPipe) share: string): Promise<void> {
    await this.acts.end(share, await this.players.of(player));
  }

  @Post('shares/:share/reply')
  @HttpCode(204)
  async reply(
    @PlayedBy() player: Played,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() request: ReplyRequest,
  ): Promise<void> {
    await this.acts.reply(share, await this.players.of(player), request);
  }

  @Post('shares/:share/override')
  @HttpCode(204)
  async override(
    @PlayedBy() player: Played,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.acts.askOverride(share, await this.players.of(player), words);
  }

  @Post('shares/:share/report')
  @HttpCode(204)
  async report(
    @PlayedBy() player: Played,
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.acts.report(share, await this.players.of(player), words);
  }

  private async changed(
    player: Player,
    id: string,
    bytes: Uint8Array,
    version?: number,
  ): Promise<DriveFileDetail> {
    const file = await this.files.replace(await this.drive.toChange(id, player), bytes, version);
    await this.shares.follow(file);
    return this.drive.detail(file, player);
  }

  private async stream(opened: OpenedView, player: Player, byLink: boolean): Promise<StreamableFile> {
    if (opened.status === 'closed') throw new AppError('not-permitted', opened.text);
    const file = await this.files.get(opened.file.id);
    const bytes = await this.drive.taken(file, player, {
      refused: opened.file.refused['make-another'],
      byLink,
    });
    return new StreamableFile(bytes, {
      type: 'application/octet-stream',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
    });
  }
}
