import { Module } from '@nestjs/common';
import { Changes } from './changes.service.js';
import { InsightController } from './insight.controller.js';
import { Most } from './most.service.js';
import { Reading } from './reading.service.js';
import { RuleCosts } from './rule-costs.service.js';
import { Tally } from './tally.service.js';
import { Why } from './why.service.js';

/** What changed, what rules cost, and where most of it is. */
@Module({
  controllers: [InsightController],
  providers: [Tally, Reading, Changes, Why, RuleCosts, Most],
})
export class InsightModule {}
