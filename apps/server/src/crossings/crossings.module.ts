import { Global, Module } from '@nestjs/common';
import { Automations } from './automations.service.js';
import { AutomationTelling } from './automation-telling.service.js';
import { BreachesExport } from './breaches-export.service.js';
import { OwnerTelling } from './owner-telling.service.js';
import { CrossingDrafts } from './crossing-drafts.service.js';
import { AutomationDoor, AutomationsController, CrossingsController } from './crossings.controller.js';

/** What may cross between services, and the flows and assistants that do. */
@Global()
@Module({
  controllers: [CrossingsController, AutomationsController, AutomationDoor],
  providers: [CrossingDrafts, Automations, BreachesExport, OwnerTelling, AutomationTelling],
  exports: [CrossingDrafts, Automations, BreachesExport, AutomationTelling],
})
export class CrossingsModule {}
