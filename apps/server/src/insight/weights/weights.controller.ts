import type { PatternDetail } from '@lantern/contracts';
import { TakeWeightsRequest, type WeightsLearnedView } from '@lantern/contracts/insight';
import { Body, Controller, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { WeightsFromDecisions } from './learned-weights.service.js';

/** What decisions say about the weights of a pattern. */
@ApiTags('insight')
@Controller('insight/weights')
export class WeightsController {
  constructor(private readonly weights: WeightsFromDecisions) {}

  /** Weights as decisions would have them. Takes some seconds. */
  @Post('of/:pattern')
  @HttpCode(200)
  @Permit('replay.run')
  @Answers('WeightsLearnedView')
  learned(@Param('pattern') pattern: string, @CallerOf() caller: Caller): Promise<WeightsLearnedView> {
    return this.weights.view(pattern, caller);
  }

  /** Writes them into the draft. */
  @Post('take')
  @HttpCode(200)
  @Permit('patterns.write')
  @Answers('PatternDetail')
  take(@Body() { computed }: TakeWeightsRequest, @CallerOf() caller: Caller): Promise<PatternDetail> {
    return this.weights.take(computed, caller);
  }
}
