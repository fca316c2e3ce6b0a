import { Global, Module } from '@nestjs/common';
import { InsideMail } from './inside-mail.js';
import { LiveEvents } from './live/live-events.js';

const PROVIDERS = [InsideMail, LiveEvents];

/** What all domains stand on. */
@Global()
@Module({ providers: PROVIDERS, exports: PROVIDERS })
export class PlatformModule {}
