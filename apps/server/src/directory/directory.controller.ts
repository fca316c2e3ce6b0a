import {
  ApplyComparisonRequest,
  type DirectoryChangeView,
  type DirectoryComparison,
  ComparisonRequest,
  type DirectoryNames,
  type DirectoryPage,
  type DirectoryPartner,
  type DirectoryPerson,
  DirectoryServerRequest,
  type DirectoryServerView,
  type DirectoryUpload,
  type DirectoryUse,
  GroupRequest,
  type GroupTrial,
  type GroupView,
  OrganisationRequest,
  type OrganisationView,
  PartnerRequest,
  PersonRequest,
  ScimSettingRequest,
  type ScimView,
} from '@lantern/contracts/directory';
import { AUDIENCE_KINDS } from '@lantern/core/directory';
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
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers } from '../platform/openapi.js';
import { DirectoryChanges } from './changes/directory-changes.service.js';
import { DirectoryServer } from './changes/directory-server.service.js';
import { DirectoryReferences } from './directory-references.js';
import { ScimTakeover } from './scim/scim-takeover.service.js';
import { TakesDirectoryFile } from './takes-directory-file.js';
import { PeopleDesk } from './people-desk.service.js';

const MAX_PAGE = 10_000;

/** People, groups, own domains and partners, for those who keep the directory. */
@ApiTags('directory')
@Controller('directory')
export class DirectoryController {
  constructor(
    private readonly desk: PeopleDesk,
    private readonly references: DirectoryReferences,
  ) {}

  @Get('people')
  @Permit('people.manage')
  @Answers('DirectoryPage')
  people(@Query('typed') typed = '', @Query('page') page = '0'): Promise<DirectoryPage> {
    const number = Math.min(MAX_PAGE, Math.max(0, Math.floor(Number(page)) || 0));
    return this.desk.page(String(typed).slice(0, 100), number);
  }

  /** Groups, departments and offices, with how many people each has. */
  @Get('names')
  @Permit('people.manage')
  @Answers('DirectoryNames')
  names(): Promise<DirectoryNames> {
    return this.desk.names();
  }

  /** Policies, rules and offers that name a group, department, office, person or domain. */
  @Get('uses')
  @Permit('people.manage')
  @Answers('DirectoryUse', 'list')
  async uses(@Query('kind') kind = '', @Query('name') name = ''): Promise<DirectoryUse[]> {
    const known = AUDIENCE_KINDS.find((each) => each === kind);
    if (!known) throw new AppError('invalid-request', 'There is no such kind of name.');
    return (await this.references.using(known, String(name))).map(({ of, draft }) => ({ of, draft }));
  }

  @Post('people')
  @Permit('people.manage')
  @Answers('DirectoryPerson')
  add(@Body() request: PersonRequest, @CallerOf() { email }: Caller): Promise<DirectoryPerson> {
    return this.desk.add(request, email);
  }

  @Put('people/:id')
  @Permit('people.manage')
  @Answers('DirectoryPerson')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: PersonRequest,
    @CallerOf() { email }: Caller,
  ): Promise<DirectoryPerson> {
    return this.desk.change(id, request, email);
  }

  @Delete('people/:id')
  @Permit('people.manage')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string, @CallerOf() { email }: Caller): Promise<void> {
    return this.desk.remove(id, email);
  }

  @Get('groups')
  @Permit('people.manage')
  @Answers('GroupView', 'list')
  groups(): Promise<GroupView[]> {
    return this.desk.groups();
  }

  /** Who would be in a group as it is written; nothing is kept. */
  @Post('groups/trials')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('GroupTrial')
  tryGroup(@Body() request: GroupRequest, @Query('of') of?: string): Promise<GroupTrial> {
    return this.desk.tryGroup(request, of ?? null);
  }

  @Post('groups')
  @Permit('people.manage')
  @Answers('GroupView')
  addGroup(@Body() request: GroupRequest): Promise<GroupView> {
    return this.desk.saveGroup(request, null);
  }

  @Put('groups/:id')
  @Permit('people.manage')
  @Answers('GroupView')
  changeGroup(@Param('id', ParseUUIDPipe) id: string, @Body() request: GroupRequest): Promise<GroupView> {
    return this.desk.saveGroup(request, id);
  }

  @Delete('groups/:id')
  @Permit('people.manage')
  @HttpCode(204)
  removeGroup(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.desk.removeGroup(id);
  }

  @Get('organisation')
  @Permit('people.manage')
  @Answers('OrganisationView')
  organisation(): Promise<OrganisationView> {
    return this.desk.organisation();
  }

  @Put('organisation')
  @Permit('people.manage')
  @Answers('OrganisationView')
  setOrganisation(@Body() request: OrganisationRequest): Promise<OrganisationView> {
    return this.desk.setOrganisation(request);
  }

  @Get('partners')
  @Permit('people.manage')
  @Answers('DirectoryPartner', 'list')
  partners(): Promise<DirectoryPartner[]> {
    return this.desk.partners();
  }

  @Put('partners')
  @Permit('people.manage')
  @Answers('DirectoryPartner')
  savePartner(@Body() request: PartnerRequest): Promise<DirectoryPartner> {
    return this.desk.savePartner(request);
  }

  @Delete('partners/:address')
  @Permit('people.manage')
  @HttpCode(204)
  removePartner(@Param('address') address: string): Promise<void> {
    return this.desk.removePartner(address);
  }
}

/** Taking people over from a file or a directory server: compared first, then taken over whole or not at all. */
@ApiTags('directory')
@Controller('directory')
export class DirectoryChangesController {
  constructor(
    private readonly changes: DirectoryChanges,
    private readonly server: DirectoryServer,
    private readonly scim: ScimTakeover,
  ) {}

  /** Takes a table (CSV) or an LDIF file (RFC 2849) and says what it holds. It is kept for an hour. */
  @Post('uploads')
  @Permit('people.manage')
  @HttpCode(200)
  @TakesDirectoryFile()
  @Answers('DirectoryUpload')
  upload(@UploadedFile() file?: Express.Multer.File): Promise<DirectoryUpload> {
    if (!file) throw new AppError('invalid-request', 'The request contains no file.');
    return this.changes.upload(file.path);
  }

  /** Compares an uploaded file, or what the directory server tells now, with the directory. Nothing is changed. */
  @Post('comparisons')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('DirectoryComparison')
  compare(@Body() request: ComparisonRequest): Promise<DirectoryComparison> {
    return request.upload === undefined ? this.server.compare() : this.changes.compareFile(request);
  }

  @Get('comparisons/:id')
  @Permit('people.manage')
  @Answers('DirectoryComparison')
  comparison(@Param('id', ParseUUIDPipe) id: string): DirectoryComparison {
    return this.changes.comparison(id);
  }

  @Post('comparisons/:id/apply')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('DirectoryChangeView')
  apply(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ApplyComparisonRequest,
    @CallerOf() { email }: Caller,
  ): Promise<DirectoryChangeView> {
    return this.changes.apply(id, request, email);
  }

  @Delete('comparisons/:id')
  @Permit('people.manage')
  @HttpCode(204)
  drop(@Param('id', ParseUUIDPipe) id: string): void {
    this.changes.drop(id);
  }

  @Get('changes')
  @Permit('people.manage')
  @Answers('DirectoryChangeView', 'list')
  history(): Promise<DirectoryChangeView[]> {
    return this.changes.history();
  }

  /** The directory server, without its password; nothing where none is entered. */
  @Get('server')
  @Permit('people.manage')
  @Answers('DirectoryServerView', 'list')
  async getServer(): Promise<DirectoryServerView[]> {
    const server = await this.server.get();
    return server ? [server] : [];
  }

  @Put('server')
  @Permit('people.manage')
  @Answers('DirectoryServerView')
  setServer(@Body() request: DirectoryServerRequest): Promise<DirectoryServerView> {
    return this.server.set(request);
  }

  @Delete('server')
  @Permit('people.manage')
  @HttpCode(204)
  removeServer(): Promise<void> {
    return this.server.remove();
  }

  /** What SCIM clients told of, and what came of it. */
  @Get('scim')
  @Permit('people.manage')
  @Answers('ScimView')
  getScim(): Promise<ScimView> {
    return this.scim.view();
  }

  /** Compares what SCIM clients told with the directory. Nothing is changed. */
  @Post('scim/comparisons')
  @Permit('people.manage')
  @HttpCode(200)
  @Answers('DirectoryComparison')
  compareScim(): Promise<DirectoryComparison> {
    return this.scim.compare();
  }

  @Put('scim')
  @Permit('people.manage')
  @Answers('ScimView')
  setScim(@Body() { reviewed }: ScimSettingRequest): Promise<ScimView> {
    return this.scim.set(reviewed);
  }
}
