import { Global, Module } from '@nestjs/common';
import { LanternController } from './lantern.controller.js';
import { LanternService } from './lantern.service.js';

const PROVIDERS = [LanternService];

/** The panel that tries a text or a file. */
@Global()
@Module({ controllers: [LanternController], providers: PROVIDERS, exports: PROVIDERS })
export class LanternModule {}
