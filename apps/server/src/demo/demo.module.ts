import { Global, Module } from '@nestjs/common';
import { DemoDiscovery } from './demo-discovery.service.js';
import { DemoLabels } from './demo-labels.service.js';
import { DemoLedger } from './demo-ledger.service.js';
import { DemoLife } from './demo-life.service.js';
import { DemoMoves } from './demo-moves.service.js';
import { DemoPast } from './demo-past.service.js';
import { DemoState } from './demo-state.js';
import { DemoService } from './demo.service.js';

const PROVIDERS = [
  DemoState,
  DemoService,
  DemoLabels,
  DemoMoves,
  DemoPast,
  DemoLife,
  DemoDiscovery,
  DemoLedger,
];

/** Loads the demo. */
@Global()
@Module({ providers: PROVIDERS, exports: PROVIDERS })
export class DemoModule {}
