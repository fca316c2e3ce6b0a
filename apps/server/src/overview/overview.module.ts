import { Global, Module } from '@nestjs/common';
import { CoverageController } from './coverage.controller.js';
import { CoverageService } from './coverage.service.js';
import { HealthController } from './health.controller.js';
import { LiveController } from './live.controller.js';
import { OverviewController } from './overview.controller.js';

const PROVIDERS = [CoverageService];

/** Health, live events, the figures of the strip, and coverage. */
@Global()
@Module({
  controllers: [HealthController, OverviewController, CoverageController, LiveController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class OverviewModule {}
