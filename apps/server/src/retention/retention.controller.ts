import {
  DeletePersonDataRequest,
  EndHoldRequest,
  HoldRequest,
  type HoldView,
  KEPT_KINDS,
  KeptForRequest,
  type KeptKind,
  type KeptTrial,
  type KeptView,
  type KeysView,
  type PersonData,
} from '@lantern/contracts/retention';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { KeyRotation } from '../platform/keys/key-rotation.service.js';
import { Trail } from '../platform/trail/trail.service.js';
import { LegalHolds } from './legal-holds.service.js';
import { PersonDataService } from './person-data.service.js';
import { Retention } from './retention.service.js';

const asKind = new ParseEnumPipe(Object.fromEntries(KEPT_KINDS.map((kind) => [kind, kind])));

/** How long things are kept, what is kept in any case, and what is kept about one person. */
@ApiTags('retention')
@Controller('retention')
export class RetentionController {
  constructor(
    private readonly retention: Retention,
    private readonly holds: LegalHolds,
    private readonly data: PersonDataService,
    private readonly trail: Trail,
    private readonly rotation: KeyRotation,
  ) {}

  @Get('kinds')
  @Permit('journal.set')
  @Answers('KeptView', 'list')
  kinds(): Promise<KeptView[]> {
    return this.retention.list();
  }

  /** What so many days would delete now; nothing is changed. */
  @Post('kinds/:kind/trials')
  @Permit('journal.set')
  @HttpCode(200)
  @Answers('KeptTrial')
  try(@Param('kind', asKind) kind: KeptKind, @Body() request: KeptForRequest): Promise<KeptTrial> {
    return this.retention.try(kind, request, new Date());
  }

  @Put('kinds/:kind')
  @Permit('journal.set')
  @Answers('KeptView', 'list')
  set(@Param('kind', asKind) kind: KeptKind, @Body() request: KeptForRequest): Promise<KeptView[]> {
    return this.retention.set(kind, request);
  }

  @Get('holds')
  @Permit('journal.set')
  @Answers('HoldView', 'list')
  list(): Promise<HoldView[]> {
    return this.holds.list();
  }

  @Post('holds')
  @Permit('journal.set')
  @Answers('HoldView')
  add(@Body() request: HoldRequest, @CallerOf() { email }: Caller): Promise<HoldView> {
    return this.holds.add(request, email);
  }

  @Post('holds/:id/end')
  @Permit('journal.set')
  @HttpCode(200)
  @Answers('HoldView')
  end(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: EndHoldRequest,
    @CallerOf() { email }: Caller,
  ): Promise<HoldView> {
    return this.holds.end(id, request, email);
  }

  /** The keys that kept content is encrypted with, and how far a change of the master key is. */
  @Get('keys')
  @Permit('journal.set')
  @Answers('KeysView')
  keys(): Promise<KeysView> {
    return this.rotation.view();
  }

  /** Changes the master key. It runs on behind the answer; backups made before need the earlier key. */
  @Post('keys/changes')
  @Permit('journal.set')
  @HttpCode(202)
  @Answers('KeysView')
  changeMaster(): Promise<KeysView> {
    return this.rotation.change();
  }

  /** What is kept about one person. */
  @Get('people')
  @Permit('journal.set')
  @Answers('PersonData')
  async person(@Query('address') address = '', @CallerOf() { email }: Caller): Promise<PersonData> {
    const data = await this.data.look(String(address).slice(0, 254));
    await this.trail.add({ actor: email, action: 'person-data-shown', target: data.address });
    return data;
  }

  /** Deletes what is kept about one person, and says what stays. It cannot be undone. */
  @Post('people/deletion')
  @Permit('journal.set')
  @HttpCode(200)
  @Answers('PersonData')
  async remove(
    @Body() { address, reason }: DeletePersonDataRequest,
    @CallerOf() { email }: Caller,
  ): Promise<PersonData> {
    // Said before it is done: what is cut off in the middle must not be without a trace.
    const act = { actor: email, action: 'person-data-deleted', target: address.toLowerCase() };
    await this.trail.add({ ...act, facts: { reason } });
    return this.data.remove(address);
  }
}
