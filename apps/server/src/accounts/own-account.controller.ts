import {
  FactorCodeRequest,
  type NewFactorView,
  type OwnSessionView,
  PasswordRequest,
  type RecoveryCodesView,
} from '@lantern/contracts';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit, SIGNED_IN } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { AppError } from '../platform/errors/app-error.js';
import { FactorDemand } from './factor-demand.service.js';
import { FactorService } from './factor.service.js';
import { AccountsService } from './accounts.service.js';
import { Passkeys } from './passkeys/passkeys.service.js';
import { SessionService } from './session.service.js';

/** What every account may do with itself. */
@ApiTags('own account')
@Controller('own-account')
export class OwnAccountController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly sessions: SessionService,
    private readonly factors: FactorService,
    private readonly demand: FactorDemand,
    private readonly passkeys: Passkeys,
  ) {}

  @Put('password')
  @Permit(SIGNED_IN)
  @HttpCode(204)
  password(@Body() { current, next }: PasswordRequest, @CallerOf() caller: Caller): Promise<void> {
    return this.accounts.changePassword(caller, current, next);
  }

  @Post('factor')
  @Permit(SIGNED_IN)
  @Answers('NewFactorView')
  beginFactor(@CallerOf() caller: Caller): Promise<NewFactorView> {
    return this.factors.begin(caller);
  }

  @Put('factor')
  @Permit(SIGNED_IN)
  @Answers('RecoveryCodesView')
  confirmFactor(@Body() { code }: FactorCodeRequest, @CallerOf() caller: Caller): Promise<RecoveryCodesView> {
    return this.factors.confirm(caller, code);
  }

  @Post('factor/removal')
  @Permit(SIGNED_IN)
  @HttpCode(204)
  async removeFactor(@Body() { code }: FactorCodeRequest, @CallerOf() caller: Caller): Promise<void> {
    const { passkeys } = await this.passkeys.list(caller.accountId);
    if (passkeys.length === 0 && (await this.demand.concerns(await this.accounts.rolesOf(caller.accountId))))
      throw new AppError('act-refused', 'Your role needs a second factor.');
    return this.factors.remove(caller, code);
  }

  @Get('sessions')
  @Permit(SIGNED_IN)
  @Answers('OwnSessionView', 'list')
  async list(@CallerOf() caller: Caller): Promise<OwnSessionView[]> {
    const sessions = await this.sessions.list(caller.accountId);
    return sessions.map(({ id, agent, address, createdAt, lastSeen, tokenHash }) => ({
      id,
      agent,
      address,
      signedInAt: createdAt.toISOString(),
      lastSeen: lastSeen.toISOString(),
      isThis: tokenHash === caller.sessionId,
    }));
  }

  /** All but the one that asks. */
  @Delete('sessions')
  @Permit(SIGNED_IN)
  @HttpCode(204)
  endOthers(@CallerOf() caller: Caller): Promise<void> {
    return this.sessions.end(caller.accountId, { but: caller.sessionId });
  }

  @Delete('sessions/:id')
  @Permit(SIGNED_IN)
  @HttpCode(204)
  endOne(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<void> {
    return this.sessions.end(caller.accountId, { id });
  }
}
