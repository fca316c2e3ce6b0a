import type { LiveEvent } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { Observable, Subject } from 'rxjs';
import { afterCommit } from '../database/transaction-context.js';

/** Tells open browsers what changed: after the commit of the transaction it is called in, since a listener fetches at once. */
@Injectable()
export class LiveEvents {
  private readonly subject = new Subject<LiveEvent>();

  publish(event: LiveEvent): void {
    afterCommit(() => this.subject.next(event));
  }

  get events(): Observable<LiveEvent> {
    return this.subject.asObservable();
  }
}
