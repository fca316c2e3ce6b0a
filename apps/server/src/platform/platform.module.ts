import { Global, Module } from '@nestjs/common';
import { InsideMail } from './inside-mail.js';
import { TrailForwarder } from './trail/trail-forwarder.service.js';
import { Trail } from './trail/trail.service.js';
import { TrailController } from './trail/trail.controller.js';
import { KeyRotation } from './keys/key-rotation.service.js';
import { PasskeyCeremony } from './passkeys/passkey-ceremony.service.js';
import { LiveEvents } from './live/live-events.js';

const PROVIDERS = [InsideMail, KeyRotation, LiveEvents, PasskeyCeremony, Trail, TrailForwarder];

/** What all domains stand on. */
@Global()
@Module({ controllers: [TrailController], providers: PROVIDERS, exports: PROVIDERS })
export class PlatformModule {}
