import type { LiveEvent } from '@lantern/contracts';
import { type BeforeApplicationShutdown, Injectable } from '@nestjs/common';
import { Observable, Subject } from 'rxjs';
import { afterCommit } from '../database/transaction-context.js';

/** Tells open browsers what changed: after the commit of the transaction it is called in, since a listener fetches at once. */
@Injectable()
export class LiveEvents implements BeforeApplicationShutdown {
  private readonly subject = new Subject<LiveEvent>();
  private readonly ended = new Subject<string>();
  private readonly closed = new Subject<void>();

  publish(event: LiveEvent): void {
    afterCommit(() => this.subject.next(event));
  }

  /** The streams of a session that was signed out or ended otherwise end with it. */
  endSession(id: string): void {
    this.ended.next(id);
  }

  /** Streams would keep a closing server open for as long as a browser is. */
  beforeApplicationShutdown(): void {
    this.closed.next();
  }

  get events(): Observable<LiveEvent> {
    return this.subject.asObservable();
  }

  /** Ids of sessions that ended. */
  get endedSessions(): Observable<string> {
    return this.ended.asObservable();
  }

  get closing(): Observable<void> {
    return this.closed.asObservable();
  }
}
