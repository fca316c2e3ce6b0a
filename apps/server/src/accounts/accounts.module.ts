import { Global, Module } from '@nestjs/common';
import { AccountsService } from './accounts.service.js';
import { SessionController } from './session.controller.js';
import { SessionService } from './session.service.js';

const PROVIDERS = [AccountsService, SessionService];

/** Accounts, sessions and signing in. */
@Global()
@Module({ controllers: [SessionController], providers: PROVIDERS, exports: PROVIDERS })
export class AccountsModule {}
