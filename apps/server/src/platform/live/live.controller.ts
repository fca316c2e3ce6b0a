import type { LiveEvent } from '@lantern/contracts';
import { Controller, type MessageEvent, Sse } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { interval, map, merge, type Observable } from 'rxjs';
import { Permit, SIGNED_IN } from '../auth/permit.js';
import { LiveEvents } from './live-events.js';

/** Proxies close connections that are silent for a minute. */
const KEEP_ALIVE_MS = 25_000;

@ApiTags('live')
@Controller('events')
export class LiveController {
  constructor(private readonly live: LiveEvents) {}

  /** Server-sent events of type {@link LiveEvent}; a `ping` keeps the connection open. */
  @Sse()
  @Permit(SIGNED_IN)
  events(): Observable<MessageEvent> {
    const events = this.live.events.pipe(map((event: LiveEvent): MessageEvent => ({ data: event })));
    const pings = interval(KEEP_ALIVE_MS).pipe(map((): MessageEvent => ({ type: 'ping', data: '' })));
    return merge(events, pings);
  }
}
