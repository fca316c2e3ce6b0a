import {
  type SignOnOffer,
  SignOnRequest,
  type SignOnStep,
  type SignOnTrial,
  type SignOnView,
} from '@lantern/contracts/sign-on';
import { Body, Controller, Get, HttpCode, Inject, Post, Put, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { CookieOptions, Request, Response } from 'express';
import { type Caller, CallerOf, OPEN, Permit, SIGNED_IN } from '../../platform/auth/permit.js';
import { isBehindTls, sessionCookie } from '../../platform/auth/session-cookie.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { SignOnFailure } from './failure.js';
import { fromOf } from '../session.controller.js';
import { SESSION_HOURS } from '../session.service.js';
import { SignOn, UNDERWAY_MS } from './sign-on.service.js';
import { SignOnSetting } from './sign-on-setting.service.js';

const UNDERWAY = 'lantern_sign_on';

/** Signing in through the organisation's identity provider. */
@ApiTags('session')
@Controller()
export class SignOnController {
  private readonly cookie;
  private readonly underway: CookieOptions;

  constructor(
    private readonly signOn: SignOn,
    private readonly setting: SignOnSetting,
    @Inject(CONFIG) config: Config,
  ) {
    this.cookie = sessionCookie(config);
    // It has to come along when the provider sends the browser back.
    this.underway = {
      ...{ httpOnly: true, sameSite: 'lax', path: '/api/session/sign-on', secure: isBehindTls(config) },
    };
  }

  /** Whether the sign-in page offers it. */
  @Get('session/sign-on')
  @Permit(OPEN)
  @Answers('SignOnOffer')
  offer(): Promise<SignOnOffer> {
    return this.setting.offer();
  }

  /** Answers where the browser goes to sign in. */
  @Post('session/sign-on')
  @Permit(OPEN)
  @HttpCode(200)
  @Answers('SignOnStep')
  async begin(@Res({ passthrough: true }) response: Response): Promise<SignOnStep> {
    const { url, underway } = await this.signOn.begin();
    response.cookie(UNDERWAY, underway, { ...this.underway, maxAge: UNDERWAY_MS });
    return { url };
  }

  /** Where the provider sends the browser back to. Always leads to a page, with a sentence where it failed. */
  @Get('session/sign-on/answer')
  @Permit(OPEN)
  async answer(@Req() request: Request, @Res() response: Response): Promise<void> {
    const kept: unknown = request.cookies?.[UNDERWAY];
    response.clearCookie(UNDERWAY, this.underway);
    try {
      const query = request.originalUrl.split('?')[1] ?? '';
      const answered = await this.signOn.answer(
        query,
        typeof kept === 'string' ? kept : undefined,
        fromOf(request),
      );
      const { name, options } = this.cookie;
      response.cookie(name, answered.token, { ...options, maxAge: SESSION_HOURS * 3_600_000 });
      response.redirect(303, '/');
    } catch (error) {
      const why = error instanceof SignOnFailure ? error.why : 'not-accepted';
      response.redirect(303, `/?sign-on=${why}`);
    }
  }

  /** Where the browser signs out at the provider, for a session that came from there. */
  @Get('session/sign-on/end')
  @Permit(SIGNED_IN)
  @Answers('SignOnStep')
  async end(@CallerOf() caller: Caller): Promise<SignOnStep> {
    return { url: await this.signOn.end(caller) };
  }

  /** The provider tells that somebody signed out there (OpenID Connect Back-Channel Logout 1.0). */
  @Post('session/sign-on/back-channel')
  @Permit(OPEN)
  @HttpCode(200)
  async backChannel(@Body() body: { readonly logout_token?: unknown }): Promise<void> {
    const { logout_token: token } = body;
    if (typeof token !== 'string') throw new AppError('invalid-request', 'There is no logout token.');
    await this.signOn.signedOut(token);
  }

  @Get('single-sign-on')
  @Permit('accounts.manage')
  @Answers('SignOnView')
  view(): Promise<SignOnView> {
    return this.setting.view();
  }

  @Put('single-sign-on')
  @Permit('accounts.manage')
  @Answers('SignOnView')
  set(@Body() request: SignOnRequest, @CallerOf() caller: Caller): Promise<SignOnView> {
    return this.setting.set(request, caller);
  }

  /** Asks the provider who it is; nothing is kept. */
  @Post('single-sign-on/trials')
  @Permit('accounts.manage')
  @HttpCode(200)
  @Answers('SignOnTrial')
  trial(@Body() request: SignOnRequest): Promise<SignOnTrial> {
    return this.signOn.trial(request);
  }
}
