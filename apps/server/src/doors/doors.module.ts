import { Global, Module } from '@nestjs/common';
import { AgentsService } from './agents/agents.service.js';
import { AgentsController } from './agents/intake.controller.js';
import { ChannelsController } from './agents/intake.controller.js';
import { IntakeController } from './agents/intake.controller.js';
import { FindingsIntake } from './agents/findings.service.js';
import { IntakeService } from './agents/intake.service.js';
import { EventsController } from './events/events.controller.js';
import { Events } from './events/events.service.js';
import { MailRoutes } from './outgoing/mail-routes.js';
import { OutgoingService } from './outgoing/outgoing.service.js';
import { SystemMailOut } from './outgoing/system-mail.service.js';
import { GatewayServer } from './smtp/gateway.server.js';
import { GatewayService } from './smtp/gateway.service.js';

const PROVIDERS = [
  AgentsService,
  IntakeService,
  FindingsIntake,
  OutgoingService,
  SystemMailOut,
  GatewayService,
  GatewayServer,
  MailRoutes,
  Events,
];

/** Real protocols that hand in movements: SMTP, agents, and mail on its way out. */
@Global()
@Module({
  controllers: [IntakeController, AgentsController, ChannelsController, EventsController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class DoorsModule {}
