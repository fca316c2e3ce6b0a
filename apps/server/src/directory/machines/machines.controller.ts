import { ApplyComparisonRequest } from '@lantern/contracts/directory';
import {
  type MachineComparison,
  MachineGroupRequest,
  type MachineGroupTrial,
  type MachineGroupView,
  type MachineListPage,
} from '@lantern/contracts/machines';
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
  Query,
  UploadedFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { TakesDirectoryFile } from '../takes-directory-file.js';
import { MachinesDesk } from './machines-desk.service.js';

/** Machines of the directory, where they come from, and groups of them. */
@ApiTags('directory')
@Controller('directory')
export class MachinesController {
  constructor(private readonly desk: MachinesDesk) {}

  @Get('machines')
  @Permit('people.manage')
  @Answers('MachineListPage')
  machines(@Query('typed') typed = ''): Promise<MachineListPage> {
    return this.desk.page(String(typed).slice(0, 100));
  }

  /** Compares an inventory (CSV, or LDIF of RFC 2849) with the machines. Nothing is changed. */
  @Post('machines/comparisons')
  @Permit('people.manage')
  @HttpCode(200)
  @TakesDirectoryFile()
  @Answers('MachineComparison')
  compare(
    @UploadedFile() file?: Express.Multer.File,
    @Query('whole') whole?: string,
  ): Promise<MachineComparison> {
    if (!file) throw new AppError('invalid-request', 'The request contains no file.');
    return this.desk.compare(file.path, whole === 'true');
  }

  @Post('machines/comparisons/:id/apply')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('MachineListPage')
  apply(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { leavingPercent }: ApplyComparisonRequest,
  ): Promise<MachineListPage> {
    return this.desk.apply(id, leavingPercent);
  }

  @Get('machine-groups')
  @Permit('people.manage')
  @Answers('MachineGroupView', 'list')
  groups(): Promise<MachineGroupView[]> {
    return this.desk.groups();
  }

  /** Which machines a condition means now; nothing is saved. */
  @Post('machine-groups/trials')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('MachineGroupTrial')
  try(@Body() request: MachineGroupRequest, @Query('of') of?: string): Promise<MachineGroupTrial> {
    return this.desk.try(request, of ?? null);
  }

  @Post('machine-groups')
  @Permit('people.manage')
  @Answers('MachineGroupView', 'list')
  add(@Body() request: MachineGroupRequest): Promise<MachineGroupView[]> {
    return this.desk.save(null, request);
  }

  @Put('machine-groups/:id')
  @Permit('people.manage')
  @Answers('MachineGroupView', 'list')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: MachineGroupRequest,
  ): Promise<MachineGroupView[]> {
    return this.desk.save(id, request);
  }

  @Delete('machine-groups/:id')
  @Permit('people.manage')
  @Answers('MachineGroupView', 'list')
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<MachineGroupView[]> {
    return this.desk.remove(id);
  }
}
