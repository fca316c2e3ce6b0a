import { Global, Module } from '@nestjs/common';
import { LabelCarriers } from './label-carriers.js';
import { LabelChangesService } from './label-changes.service.js';
import { LabelDraftsService } from './label-drafts.service.js';
import { LabelReviewService } from './label-review.service.js';
import { LabelTelling } from './label-telling.service.js';
import { LabelsAtWorkController } from './labels-at-work.controller.js';
import { LabelsAtWork } from './labels-at-work.service.js';
import { LabelsController } from './labels.controller.js';
import { LabelRunUndo } from './runs/label-run-undo.service.js';
import { LabelRunsController } from './runs/label-runs.controller.js';
import { PlacesController } from './runs/label-runs.controller.js';
import { RunExpectation } from './runs/run-expectation.service.js';
import { LabelRunsService } from './runs/label-runs.service.js';
import { PlacesService } from './runs/places.service.js';

const PROVIDERS = [
  LabelDraftsService,
  LabelReviewService,
  LabelChangesService,
  LabelTelling,
  LabelsAtWork,
  PlacesService,
  LabelRunUndo,
  LabelRunsService,
  RunExpectation,
  LabelCarriers,
];

/** Labels, offers and automatic labels. */
@Global()
@Module({
  controllers: [LabelsController, PlacesController, LabelRunsController, LabelsAtWorkController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class LabelsModule {}
