import {
  type DriveFileDetail,
  DriveFolderQuery,
  type DriveFolderView,
  DriveMemberRequest,
  DrivePathRequest,
  type DrivePlaceView,
  DriveRenameRequest,
  DriveTakeRequest,
  DriveUploadRequest,
  type OpenedView,
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
  Query,
  StreamableFile,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiProduces, ApiTags } from '@nestjs/swagger';
import { Permit } from '../../../platform/auth/permit.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { Answers, Asks } from '../../../platform/openapi.js';
import { fileName } from '../../../platform/uploads.js';
import { DriveService } from '../drive.service.js';
import { PlayedBy, Players, type Played } from '../players.service.js';
import { DrivePlaces } from './drive-places.service.js';

const Id = () => Param('id', ParseUUIDPipe);

/** Places of the organisation on the drive, as a person of it or somebody outside uses them. */
@ApiTags('stand-ins')
@Controller('stand-ins/drive/:player/places')
@Permit('stand-ins.use')
export class DrivePlacesController {
  constructor(
    private readonly places: DrivePlaces,
    private readonly drive: DriveService,
    private readonly players: Players,
  ) {}

  @Get()
  @Answers('DrivePlaceView', 'list')
  async list(@PlayedBy() played: Played): Promise<DrivePlaceView[]> {
    return this.places.list(await this.players.of(played));
  }

  @Get(':id/folder')
  @Asks('DriveFolderQuery')
  @Answers('DriveFolderView')
  async folder(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Query() { path = '' }: DriveFolderQuery,
  ): Promise<DriveFolderView> {
    return this.places.folder(id, path, await this.players.of(played));
  }

  /** Opens a file of the place; from then on it has an id on the drive, by which it can be shared. */
  @Post(':id/open')
  @HttpCode(200)
  @Answers('OpenedView')
  async open(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Body() { path }: DrivePathRequest,
  ): Promise<OpenedView> {
    const player = await this.players.of(played);
    const file = await this.places.file(id, path, player);
    return this.drive.open(file.id, player);
  }

  /** Several files as one archive. */
  @Post(':id/take')
  @HttpCode(200)
  @ApiProduces('application/zip')
  async take(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Body() { paths }: DriveTakeRequest,
  ): Promise<StreamableFile> {
    const archive = await this.places.take(id, paths, await this.players.of(played));
    return new StreamableFile(archive, {
      type: 'application/zip',
      disposition: 'attachment; filename="files.zip"',
    });
  }

  @Post(':id/files')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(FileInterceptor('file', { limits: { fileSize: MAX_FILE_BYTES, files: 1 } }))
  @Answers('DriveFileDetail')
  async add(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Body() { folder }: DriveUploadRequest,
    @UploadedFile() file?: Express.Multer.File,
  ): Promise<DriveFileDetail> {
    if (!file) throw new AppError('invalid-request', 'No file came along.');
    const player = await this.players.of(played);
    const given = { name: fileName(file), bytes: file.buffer, player };
    return this.drive.detail(await this.places.add(id, folder, given), player);
  }

  @Post(':id/rename')
  @HttpCode(200)
  @Answers('DriveFileDetail')
  async rename(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Body() request: DriveRenameRequest,
  ): Promise<DriveFileDetail> {
    const player = await this.players.of(played);
    return this.drive.detail(await this.places.rename(id, { ...request, player }), player);
  }

  /** Somebody inside comes in by themselves. */
  @Post(':id/join')
  @HttpCode(204)
  async join(@PlayedBy() played: Played, @Id() id: string): Promise<void> {
    await this.places.join(id, await this.players.of(played));
  }

  @Post(':id/people')
  @HttpCode(204)
  async letIn(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Body() { address }: DriveMemberRequest,
  ): Promise<void> {
    await this.places.letIn(id, address, await this.players.of(played));
  }

  @Delete(':id/people/:address')
  @HttpCode(204)
  async letOut(
    @PlayedBy() played: Played,
    @Id() id: string,
    @Param('address') address: string,
  ): Promise<void> {
    await this.places.letOut(id, address, await this.players.of(played));
  }
}
