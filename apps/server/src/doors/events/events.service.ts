import type { EventsAnswer, EventVerdict, IntakeResult } from '@lantern/contracts';
import { MAX_BATCH } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { FileWork } from '../../inspection/file-work.service.js';
import type { EventMode, ReadEvent } from '../../inspection/handed-events.js';
import { ChannelSettings } from '../../movements/channels/channel-settings.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AgentsService } from '../agents/agents.service.js';
import { IntakeService } from '../agents/intake.service.js';

/** A request with events, as it came. */
export interface EventsRequest {
  readonly body: Uint8Array;
  readonly type: string;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
}

/** Takes CloudEvents from business applications and submits them as movements through the intake. */
@Injectable()
export class Events {
  constructor(
    private readonly intake: IntakeService,
    private readonly agents: AgentsService,
    private readonly files: FileWork,
    private readonly settings: ChannelSettings,
  ) {}

  async take(agent: string, { body, type, headers }: EventsRequest): Promise<EventsAnswer> {
    const by = await this.agents.get(agent);
    const reading = await this.files.handedEvents(body, MAX_BATCH, modeOf(type), attributesIn(headers));
    if (reading.status === 'refused') throw new AppError('invalid-request', REFUSALS[reading.why]);
    const { events } = reading;
    const taken = await this.intake.takeRead(
      by,
      events.flatMap((event) => (event.status === 'read' ? [event] : [])),
    );
    let next = 0;
    const results = events.map((event) =>
      event.status === 'read'
        ? verdictOn(event, taken[next++] as IntakeResult)
        : {
            status: 'refused' as const,
            source: event.source,
            id: event.id,
            code: 'invalid-request',
            message: event.message,
          },
    );
    return {
      results,
      seconds: this.settings.seconds('business'),
      unfinished: this.settings.unfinished('business'),
    };
  }
}

/** How the events stand in a request, by its content type (HTTP protocol binding for CloudEvents 1.0.2, 3). */
function modeOf(type: string): EventMode {
  const media = type.split(';')[0]?.trim().toLowerCase() ?? '';
  if (media === 'application/cloudevents-batch+json') return 'several';
  return media === 'application/cloudevents+json' ? 'one' : 'in-headers';
}

/** Attributes in headers are percent-encoded (the same binding, 3.1.3.2). */
function attributesIn(headers: EventsRequest['headers']): Record<string, string> {
  const attributes: Record<string, string> = {};
  for (const [name, value] of Object.entries(headers)) {
    if (!name.startsWith('ce-') || typeof value !== 'string') continue;
    attributes[name.slice(3)] = decoded(value);
  }
  return attributes;
}

function decoded(value: string): string {
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
}

function verdictOn({ source, id }: ReadEvent, result: IntakeResult): EventVerdict {
  if (result.status === 'refused') {
    const { code, message } = result;
    return { status: 'refused', source, id, code, message };
  }
  const { key: _key, id: movement, ...verdict } = result;
  return { ...verdict, source, id, movement };
}

const REFUSALS = {
  'no-json': 'The body is no JSON.',
  'no-movements': 'There is no event in the request.',
  'too-many': `A request holds ${MAX_BATCH} events at most.`,
} as const;
