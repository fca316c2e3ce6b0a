import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { HistoryEntity, IncidentEntity } from '../incidents/incident.entity.js';
import { LiveEvents } from '../platform/live/live-events.js';

/** What people say about their own incidents: that what was found is none. */
@Injectable()
export class Reports {
  constructor(private readonly live: LiveEvents) {}

  /** Within the caller's transaction. */
  async record(
    manager: EntityManager,
    { incident, by, words }: { readonly incident: number; readonly by: string; readonly words: string },
  ): Promise<void> {
    await manager.update(IncidentEntity, { number: incident }, { reported: true });
    await manager.insert(HistoryEntity, {
      incidentNumber: incident,
      at: new Date(),
      actor: by.slice(0, 120),
      kind: 'reported',
      act: null,
      text: words,
    });
    this.live.publish({ kind: 'incident-changed', number: incident });
  }
}
