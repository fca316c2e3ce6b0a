import type { LiveEvent } from '@lantern/contracts';
import { Controller, type MessageEvent, Sse } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import {
  concatMap,
  filter,
  from,
  interval,
  map,
  merge,
  type Observable,
  share,
  switchMap,
  takeUntil,
} from 'rxjs';
import { SessionService } from '../accounts/session.service.js';
import { IncidentsService } from '../incidents/incidents.service.js';
import { type Caller, CallerOf, Permit, SIGNED_IN } from '../platform/auth/permit.js';
import { LiveEvents } from '../platform/live/live-events.js';

/** Proxies close connections that are silent for a minute; so often it is also asked whether the session still holds. */
const KEEP_ALIVE_MS = 25_000;

interface FlaggedEvent {
  readonly event: LiveEvent;
  /** About an incident that only silent rules made. */
  readonly silent: boolean;
}

@ApiTags('live')
@Controller('events')
export class LiveController {
  /** One look at the incident of an event serves every open browser. */
  private readonly flagged: Observable<FlaggedEvent>;

  constructor(
    private readonly live: LiveEvents,
    private readonly incidents: IncidentsService,
    private readonly sessions: SessionService,
  ) {
    this.flagged = live.events.pipe(
      concatMap(async (event) => ({
        event,
        silent: 'number' in event && (await this.incidents.isSilent(event.number)),
      })),
      share(),
    );
  }

  /**
   * Server-sent events of type {@link LiveEvent}; a `ping` keeps the connection open. It ends with its session, and what
   * silent rules made reaches only those who may see it.
   */
  @Sse()
  @Permit(SIGNED_IN)
  events(@CallerOf() caller: Caller): Observable<MessageEvent> {
    const seesSilent = caller.permissions.includes('policies.silent');
    const events = this.flagged.pipe(
      filter(({ silent }) => seesSilent || !silent),
      map(({ event }): MessageEvent => ({ data: event })),
    );
    const beats = interval(KEEP_ALIVE_MS).pipe(
      switchMap(() => from(this.sessions.isOpen(caller.sessionId))),
      share(),
    );
    const pings = beats.pipe(
      filter((open) => open),
      map((): MessageEvent => ({ type: 'ping', data: '' })),
    );
    const over = merge(
      beats.pipe(filter((open) => !open)),
      this.live.endedSessions.pipe(filter((id) => id === caller.sessionId)),
      this.live.closing,
    );
    return merge(events, pings).pipe(takeUntil(over));
  }
}
