import type { LiveEvent } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { Observable, Subject } from 'rxjs';

/** Tells open browsers what changed. Publish only after the commit: a listener fetches at once. */
@Injectable()
export class LiveEvents {
  private readonly subject = new Subject<LiveEvent>();

  publish(event: LiveEvent): void {
    this.subject.next(event);
  }

  get events(): Observable<LiveEvent> {
    return this.subject.asObservable();
  }
}
