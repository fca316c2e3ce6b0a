import { type TrailCheck, type TrailForwardingView, type TrailPage, TrailQuery } from '@lantern/contracts';
import { Controller, Get, Query, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { type Caller, CallerOf, Permit } from '../auth/permit.js';
import { Answers } from '../openapi.js';
import { TrailForwarder } from './trail-forwarder.service.js';
import { Trail } from './trail.service.js';

@ApiTags('trail')
@Controller('trail')
export class TrailController {
  constructor(
    private readonly trail: Trail,
    private readonly forwarder: TrailForwarder,
  ) {}

  @Get()
  @Permit('trail.read')
  @Answers('TrailPage')
  page(@Query() query: TrailQuery): Promise<TrailPage> {
    return this.trail.page(query);
  }

  @Get('check')
  @Permit('trail.read')
  @Answers('TrailCheck')
  check(): Promise<TrailCheck> {
    return this.trail.check();
  }

  /** Whether the trail is sent on, and how far. */
  @Get('forwarding')
  @Permit('trail.read')
  @Answers('TrailForwardingView')
  forwarding(): Promise<TrailForwardingView> {
    return this.forwarder.view();
  }

  /** JSON Lines, the oldest first. */
  @Get('export')
  @Permit('trail.read')
  async export(
    @Query() query: TrailQuery,
    @CallerOf() caller: Caller,
    @Res() response: Response,
  ): Promise<void> {
    await this.trail.add({ actor: caller.email, action: 'trail-exported' });
    response.setHeader('content-type', 'application/jsonl; charset=utf-8');
    response.setHeader('content-disposition', 'attachment; filename="audit-trail.jsonl"');
    for await (const entry of this.trail.all(query)) response.write(`${JSON.stringify(entry)}\n`);
    response.end();
  }
}
