import { Global, Module } from '@nestjs/common';
import { Changes } from './figures/changes.service.js';
import { InsightController } from './insight.controller.js';
import { Most } from './figures/most.service.js';
import { Reading } from './figures/reading.service.js';
import { RuleCosts } from './figures/rule-costs.service.js';
import { Tally } from './figures/tally.service.js';
import { Why } from './figures/why.service.js';
import { Guard } from './guard/guard.service.js';
import { Improvements } from './improve/improvements.service.js';
import { FurtherFacts } from './improve/further-facts.js';
import { StateReader } from './improve/state-facts.service.js';
import { PreventController } from './prevent/prevent.controller.js';
import { Prevent } from './prevent/prevent.service.js';
import { Preventions } from './prevent/preventions.service.js';
import { Targets } from './prevent/targets.service.js';
import { ReportLines } from './reports/report-lines.service.js';
import { ReportRunner } from './reports/report-runner.service.js';
import { ReportsController } from './reports/reports.controller.js';
import { Reports } from './reports/reports.service.js';
import { WeightsFromDecisions } from './weights/learned-weights.service.js';
import { WeightsController } from './weights/weights.controller.js';
/** What changed, what rules cost, who and where most of it is, what to improve; and reports about all of it. */
@Global()
@Module({
  controllers: [InsightController, PreventController, ReportsController, WeightsController],
  exports: [FurtherFacts, Improvements, Reports, ReportRunner],
  providers: [
    Tally,
    Reading,
    Changes,
    Why,
    RuleCosts,
    Most,
    Targets,
    Prevent,
    Preventions,
    StateReader,
    FurtherFacts,
    Guard,
    Improvements,
    ReportLines,
    Reports,
    ReportRunner,
    WeightsFromDecisions,
  ],
})
export class InsightModule {}
