import {
  PasskeyAddRequest,
  type PasskeyAddedView,
  PasskeyBeginRequest,
  type PasskeyOptionsView,
  type PasskeysView,
} from '@lantern/contracts/passkeys';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit, SIGNED_IN } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Passkeys } from './passkeys.service.js';

/** One's own passkeys. */
@ApiTags('own account')
@Controller('own-account/passkeys')
export class PasskeysController {
  constructor(private readonly passkeys: Passkeys) {}

  @Get()
  @Permit(SIGNED_IN)
  @Answers('PasskeysView')
  list(@CallerOf() caller: Caller): Promise<PasskeysView> {
    return this.passkeys.list(caller.accountId);
  }

  /** Options for the browser. Asks for the password. */
  @Post('challenge')
  @Permit(SIGNED_IN)
  @HttpCode(200)
  @Answers('PasskeyOptionsView')
  begin(@Body() { password }: PasskeyBeginRequest, @CallerOf() caller: Caller): Promise<PasskeyOptionsView> {
    return this.passkeys.begin(caller, password);
  }

  @Post()
  @Permit(SIGNED_IN)
  @Answers('PasskeyAddedView')
  add(@Body() request: PasskeyAddRequest, @CallerOf() caller: Caller): Promise<PasskeyAddedView> {
    return this.passkeys.add(caller, request);
  }

  @Delete(':id')
  @Permit(SIGNED_IN)
  @Answers('PasskeysView')
  remove(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<PasskeysView> {
    return this.passkeys.remove(caller, id);
  }
}
