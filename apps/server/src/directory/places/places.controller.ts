import type { PlaceComparison, PlaceListView } from '@lantern/contracts/machines';
import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, UploadedFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { TakesDirectoryFile } from '../takes-directory-file.js';
import { PlacesDesk } from './places-desk.service.js';

/** Places of the directory, and the lists they come from. */
@ApiTags('directory')
@Controller('directory/places')
export class PlacesController {
  constructor(private readonly desk: PlacesDesk) {}

  @Get()
  @Permit('people.manage')
  @Answers('PlaceListView', 'list')
  places(): Promise<PlaceListView[]> {
    return this.desk.list();
  }

  /** Compares a list of places (CSV, or LDIF of RFC 2849) with those that there are. Nothing is changed. */
  @Post('comparisons')
  @Permit('people.manage')
  @HttpCode(200)
  @TakesDirectoryFile()
  @Answers('PlaceComparison')
  compare(@UploadedFile() file?: Express.Multer.File): Promise<PlaceComparison> {
    if (!file) throw new AppError('invalid-request', 'The request contains no file.');
    return this.desk.compare(file.path);
  }

  @Post('comparisons/:id/apply')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('PlaceListView', 'list')
  apply(@Param('id', ParseUUIDPipe) id: string): Promise<PlaceListView[]> {
    return this.desk.apply(id);
  }
}
