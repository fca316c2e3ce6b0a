import { Module } from '@nestjs/common';
import { Changes } from './figures/changes.service.js';
import { InsightController } from './insight.controller.js';
import { Most } from './figures/most.service.js';
import { Reading } from './figures/reading.service.js';
import { RuleCosts } from './figures/rule-costs.service.js';
import { Tally } from './figures/tally.service.js';
import { Why } from './figures/why.service.js';
import { PreventController } from './prevent/prevent.controller.js';
import { Prevent } from './prevent/prevent.service.js';
import { Preventions } from './prevent/preventions.service.js';
import { Targets } from './prevent/targets.service.js';

/** What changed, what rules cost, and where most of it is. */
@Module({
  controllers: [InsightController, PreventController],
  providers: [Tally, Reading, Changes, Why, RuleCosts, Most, Targets, Prevent, Preventions],
})
export class InsightModule {}
