import { Global, Module } from '@nestjs/common';
import { AccountsService } from './accounts.service.js';
import { AccessController } from './access/access.controller.js';
import { Access } from './access/access.service.js';
import { Deputies } from './access/deputies.service.js';
import { OwnRoles } from './access/roles.service.js';
import { TwoPeople } from './access/two-people.service.js';
import { ServiceAccounts } from './access/service-accounts.service.js';
import { AccountsController } from './accounts.controller.js';
import { FactorDemand } from './factor-demand.service.js';
import { FactorService } from './factor.service.js';
import { OwnAccountController } from './own-account.controller.js';
import { Passkeys } from './passkeys/passkeys.service.js';
import { PasskeysController } from './passkeys/passkeys.controller.js';
import { IdentityProvider } from './sign-on/provider.service.js';
import { SignOn } from './sign-on/sign-on.service.js';
import { SignOnController } from './sign-on/sign-on.controller.js';
import { SignOnSetting } from './sign-on/sign-on-setting.service.js';
import { SessionController } from './session.controller.js';
import { SessionService } from './session.service.js';
import { WelcomeController } from './welcome.controller.js';

const PROVIDERS = [
  ...[Access, FactorDemand, FactorService, Passkeys, SignOnSetting, SessionService, AccountsService],
  ...[TwoPeople, OwnRoles, Deputies, ServiceAccounts, IdentityProvider, SignOn],
];

/** Accounts, sessions and signing in. */
@Global()
@Module({
  controllers: [
    SessionController,
    AccountsController,
    OwnAccountController,
    WelcomeController,
    AccessController,
    PasskeysController,
    SignOnController,
  ],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class AccountsModule {}
