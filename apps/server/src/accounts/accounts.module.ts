import { Global, Module } from '@nestjs/common';
import { AccountsService } from './accounts.service.js';
import { AccountsController } from './accounts.controller.js';
import { FactorDemand } from './factor-demand.service.js';
import { FactorService } from './factor.service.js';
import { OwnAccountController } from './own-account.controller.js';
import { SessionController } from './session.controller.js';
import { SessionService } from './session.service.js';
import { WelcomeController } from './welcome.controller.js';

const PROVIDERS = [FactorDemand, FactorService, AccountsService, SessionService];

/** Accounts, sessions and signing in. */
@Global()
@Module({
  controllers: [SessionController, AccountsController, OwnAccountController, WelcomeController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class AccountsModule {}
