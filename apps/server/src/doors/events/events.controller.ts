import { EVENT_SCHEMA, type EventsAnswer } from '@lantern/contracts';
import { Controller, Get, HttpCode, Post, Req } from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { AGENT, AgentOf, type CallingAgent, OPEN, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Events } from './events.service.js';

/** Where business applications hand in events (CloudEvents 1.0 over HTTP), with the key of an agent. */
@ApiTags('intake')
@Controller('intake/events')
export class EventsController {
  constructor(private readonly events: Events) {}

  /** The published JSON Schema (2020-12) of the data of an event. */
  @Get('schema')
  @Permit(OPEN)
  schema(): object {
    return EVENT_SCHEMA;
  }

  /**
   * One event, several, or one whose attributes stand in headers. What is asked beforehand is answered before it is
   * done; the answer says how long that takes at most, and what holds where reading did not finish.
   */
  @Post()
  @Permit(AGENT)
  @HttpCode(200)
  @ApiConsumes('application/cloudevents+json', 'application/cloudevents-batch+json', 'application/json')
  @Answers('EventsAnswer')
  take(@AgentOf() agent: CallingAgent, @Req() request: Request): Promise<EventsAnswer> {
    return this.events.take(agent.id, {
      body: Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0),
      type: request.header('content-type') ?? '',
      headers: request.headers,
    });
  }
}
