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
import { type Sight, sightOf } from '../platform/auth/sight.js';
import { LiveEvents } from '../platform/live/live-events.js';

/** Proxies close connections that are silent for a minute; so often it is also asked whether the session still holds. */
const KEEP_ALIVE_MS = 25_000;

interface FlaggedEvent {
  readonly event: LiveEvent;
  /** Whether somebody may learn of it. Asked once for all browsers with the same sight. */
  readonly isFor: (sight: Sight) => Promise<boolean>;
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
      map((event) => ({ event, isFor: this.asked(event) })),
      share(),
    );
  }

  /**
   * Server-sent events of type {@link LiveEvent}; a `ping` keeps the connection open. It ends with its session, and what
   * is about an incident reaches only those who may see it.
   */
  @Sse()
  @Permit(SIGNED_IN)
  events(@CallerOf() caller: Caller): Observable<MessageEvent> {
    const sight = sightOf(caller);
    const events = this.flagged.pipe(
      concatMap(async (flagged) => ({ ...flagged, shown: await flagged.isFor(sight) })),
      filter(({ shown }) => shown),
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

  private asked(event: LiveEvent): FlaggedEvent['isFor'] {
    const known = new Map<string, Promise<boolean>>();
    return (sight) => {
      if (!('number' in event)) return Promise.resolve(true);
      const key = JSON.stringify(sight);
      const answer = known.get(key) ?? this.incidents.isShown(event.number, sight).catch(() => false);
      known.set(key, answer);
      return answer;
    };
  }
}
