import { WelcomeRequest, type WelcomeView } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { OPEN, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { AccountsService } from './accounts.service.js';

/** Links of invitations: their holders have no session yet. */
@ApiTags('welcome')
@Controller('welcome')
export class WelcomeController {
  constructor(private readonly accounts: AccountsService) {}

  @Get(':token')
  @Permit(OPEN)
  @Answers('WelcomeView')
  look(@Param('token') token: string): Promise<WelcomeView> {
    return this.accounts.welcome(token);
  }

  /** Chooses the password; signing in follows as usual. */
  @Post(':token')
  @Permit(OPEN)
  @HttpCode(204)
  async accept(@Param('token') token: string, @Body() { password }: WelcomeRequest): Promise<void> {
    await this.accounts.accept(token, password);
  }
}
