import { type SessionView, SignInRequest } from '@lantern/contracts';
import { PasskeyAnswer, type PasskeyOptionsView } from '@lantern/contracts/passkeys';
import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { sessionCookie } from '../platform/auth/session-cookie.js';
import { sightWith } from '../platform/auth/sight.js';
import { CONFIG, type Config } from '../platform/config.js';
import { type Caller, CallerOf, OPEN, Permit, SIGNED_IN } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { Passkeys } from './passkeys/passkeys.service.js';
import { SESSION_HOURS, SessionService, type SignInFrom } from './session.service.js';

@ApiTags('session')
@Controller('session')
export class SessionController {
  private readonly cookie;

  constructor(
    private readonly sessions: SessionService,
    private readonly passkeys: Passkeys,
    @Inject(CONFIG) config: Config,
  ) {
    this.cookie = sessionCookie(config);
  }

  @Post()
  @Permit(OPEN)
  @HttpCode(200)
  @Answers('SessionView')
  async signIn(
    @Body() request: SignInRequest,
    @Req() from: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    return this.opened(await this.sessions.signIn(request, fromOf(from)), response);
  }

  /** Options for the browser to sign in with a passkey; the same for everybody. */
  @Post('passkey/challenge')
  @Permit(OPEN)
  @HttpCode(200)
  @Answers('PasskeyOptionsView')
  challenge(): Promise<PasskeyOptionsView> {
    return this.passkeys.challenge();
  }

  @Post('passkey')
  @Permit(OPEN)
  @HttpCode(200)
  @Answers('SessionView')
  async signInByPasskey(
    @Body() answer: PasskeyAnswer,
    @Req() from: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    return this.opened(await this.sessions.signInByPasskey(answer, fromOf(from)), response);
  }

  private opened(
    { token, caller }: { readonly token: string; readonly caller: Caller },
    response: Response,
  ): SessionView {
    const { name, options } = this.cookie;
    response.cookie(name, token, { ...options, maxAge: SESSION_HOURS * 3_600_000 });
    return toView(caller);
  }

  @Get()
  @Permit(SIGNED_IN)
  @Answers('SessionView')
  current(@CallerOf() caller: Caller): SessionView {
    return toView(caller);
  }

  @Delete()
  @Permit(SIGNED_IN)
  @HttpCode(204)
  async signOut(@CallerOf() caller: Caller, @Res({ passthrough: true }) response: Response): Promise<void> {
    await this.sessions.signOut(caller);
    response.clearCookie(this.cookie.name, this.cookie.options);
  }
}

/** From where a request comes, as far as it says. */
export const fromOf = (request: Request): SignInFrom => ({
  agent: request.header('user-agent') ?? '',
  address: request.ip ?? '',
});

function toView(caller: Caller): SessionView {
  return {
    account: {
      id: caller.accountId,
      name: caller.name,
      email: caller.email,
      permissions: caller.permissions,
      secondFactor: caller.secondFactor,
      codes: caller.codes ?? false,
      limited:
        sightWith(caller, 'incidents.read').limits !== null && caller.permissions.includes('incidents.read'),
      factorDemanded: caller.factorDemanded ?? false,
    },
    csrfToken: caller.csrfToken,
  };
}
