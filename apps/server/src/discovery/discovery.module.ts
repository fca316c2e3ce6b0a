import { Global, Module } from '@nestjs/common';
import { DiscoveryContext } from './discovery-context.js';
import { DiscoveryNames } from './discovery-names.service.js';
import {
  DiscoveryPlacesController,
  ItemsController,
  JobsController,
  ReadersController,
} from './discovery.controller.js';
import { RunComparison } from './jobs/compare.service.js';
import { Jobs } from './jobs/jobs.service.js';
import { Listings } from './jobs/listing.service.js';
import { Readings } from './jobs/reading.service.js';
import { WhatRunsLookFor } from './jobs/looked-for.service.js';
import { OwnKnowledge } from './jobs/own-knowledge.service.js';
import { Protection } from './jobs/protection.service.js';
import { RunEnds } from './jobs/run-ends.service.js';
import { Runs } from './jobs/runs.service.js';
import { WorkService } from './jobs/work.service.js';
import { Parts } from './parts/parts.service.js';
import { PlacesOfAutomations } from './places/places-of-automations.js';
import { DiscoveryPlaces } from './places/places.service.js';
import { ReaderProtocolController } from './reader-protocol.controller.js';
import { ReaderCosts } from './readers/reader-costs.service.js';
import { Readers } from './readers/readers.service.js';
import { Guarding } from './watching/guarding.service.js';
import { WatchedMovements } from './watching/watched-movements.service.js';
import { WatchingController, WatchProtocolController } from './watching/watching.controller.js';
import { WatchDrafts } from './watching/watch-drafts.service.js';
import { Watching } from './watching/watching.service.js';
import { FollowUpController } from './follow-up.controller.js';
import { CleanUps } from './places/clean-ups.service.js';
import { PlaceMoves } from './places/place-moves.service.js';
import { Fetches } from './results/fetches.service.js';
import { ItemGroupsService } from './results/item-groups.service.js';
import { ItemIncidents } from './results/item-incidents.service.js';
import { ItemQueries } from './results/item-queries.service.js';
import { ItemActs } from './results/acts.service.js';
import { ItemsExport } from './results/items-export.service.js';
import { Items } from './results/items.service.js';

/** Where sensitive data lies: readers, places, jobs and what they found. */
@Global()
@Module({
  controllers: [
    ReaderProtocolController,
    WatchProtocolController,
    WatchingController,
    ReadersController,
    DiscoveryPlacesController,
    JobsController,
    FollowUpController,
    ItemsController,
  ],
  exports: [Readers, DiscoveryPlaces, Jobs, WatchDrafts, Guarding],
  providers: [
    ...[
      DiscoveryContext,
      DiscoveryNames,
      Parts,
      Readers,
      ReaderCosts,
      DiscoveryPlaces,
      PlacesOfAutomations,
      Runs,
      RunEnds,
      Protection,
      Listings,
      Readings,
      OwnKnowledge,
      WhatRunsLookFor,
      WorkService,
      Watching,
      WatchDrafts,
      WatchedMovements,
      Guarding,
    ],
    ...[Jobs, RunComparison, Items, ItemActs, ItemsExport],
    ...[CleanUps, PlaceMoves, Fetches, ItemGroupsService, ItemIncidents, ItemQueries],
  ],
})
export class DiscoveryModule {}
