import {
  agePoints,
  dueAt,
  type Promises,
  USUAL_HOURS,
  USUAL_PROMISES,
  withAge,
  type WorkingHours,
} from '@lantern/core/incidents';
import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThanOrEqual } from 'typeorm';
import { LiveEvents } from '../platform/live/live-events.js';
import { DeskSettingEntity } from './desk-setting.entity.js';
import { IncidentEntity } from './incident.entity.js';
import { only } from './queue/rows.js';

export interface DeskSetting {
  readonly hours: WorkingHours;
  readonly promises: Promises;
}

/** Age is looked at so often; its points change by hours. */
const SWEEP_MS = 60_000;
/** Incidents whose age is written in one transaction. */
const AT_ONCE = 500;
const ONLY_ROW = 1;

/** Times promised for incidents, and the points of urgency that age adds. */
@Injectable()
export class PromisesService implements OnModuleInit, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;
  private setting: DeskSetting = { hours: USUAL_HOURS, promises: USUAL_PROMISES };

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly live: LiveEvents,
  ) {}

  async onModuleInit(): Promise<void> {
    const row = await this.manager.findOneBy(DeskSettingEntity, { id: ONLY_ROW });
    if (row) this.setting = { hours: row.hours, promises: row.promises };
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  get current(): DeskSetting {
    return this.setting;
  }

  /** Changes what is promised; open incidents are promised anew. */
  async change(setting: DeskSetting, by: string): Promise<void> {
    await this.manager.transaction(async (manager) => {
      await manager.save(
        manager.create(DeskSettingEntity, { id: ONLY_ROW, ...setting, updatedAt: new Date(), updatedBy: by }),
      );
    });
    this.setting = setting;
    await this.promiseAnew(new Date());
  }

  /** By when an incident is to be decided, and the urgency it has at `now`, its age included. */
  promised(
    { at, severity }: Pick<IncidentEntity, 'at' | 'severity'>,
    now: number,
  ): Pick<IncidentEntity, 'dueAt' | 'nextAgeAt'> & { readonly points: number } {
    const due = dueAt(at.getTime(), this.setting.promises[severity], this.setting.hours);
    if (due === null) return { dueAt: null, nextAgeAt: null, points: 0 };
    const { points, nextAt } = agePoints(at.getTime(), due, now);
    return { dueAt: new Date(due), nextAgeAt: nextAt === null ? null : new Date(nextAt), points };
  }

  /** Writes the urgency of open incidents whose points of age have changed by `now`. Gives how many. */
  async sweep(now: Date): Promise<number> {
    let changed = 0;
    for (;;) {
      const due = await this.manager.find(IncidentEntity, {
        where: { nextAgeAt: LessThanOrEqual(now) },
        take: AT_ONCE,
        select: only(['number', 'at', 'severity', 'status', 'urgencyParts', 'openUrgencyParts', 'version']),
      });
      if (due.length === 0) break;
      await this.writeAges(due, now);
      changed += due.length;
    }
    if (changed > 0) this.live.publish({ kind: 'incidents-aged' });
    return changed;
  }

  /** What changes of an incident with its age. Decided ones keep what they had. */
  aged(
    incident: Pick<IncidentEntity, 'at' | 'severity' | 'status' | 'urgencyParts' | 'openUrgencyParts'>,
    now: number,
  ): Partial<IncidentEntity> {
    if (incident.status === 'decided') return { nextAgeAt: null };
    const { points, ...times } = this.promised(incident, now);
    const urgencyParts = withAge(incident.urgencyParts, points);
    const openUrgencyParts = withAge(incident.openUrgencyParts ?? incident.urgencyParts, points);
    return {
      ...times,
      urgencyParts,
      urgency: urgencyParts.total,
      openUrgencyParts,
      openUrgency: openUrgencyParts.total,
    };
  }

  /** Skips incidents that were changed since they were read: the next sweep reads them again. */
  private async writeAges(incidents: readonly IncidentEntity[], now: Date): Promise<void> {
    await this.manager.transaction(async (manager) => {
      for (const incident of incidents) {
        const { number, version } = incident;
        await manager.update(IncidentEntity, { number, version }, this.aged(incident, now.getTime()));
      }
    });
  }

  private async promiseAnew(now: Date): Promise<void> {
    let after = 0;
    for (;;) {
      const open = await this.manager
        .createQueryBuilder(IncidentEntity, 'i')
        .where("i.status <> 'decided' AND i.number > :after", { after })
        .orderBy('i.number')
        .take(AT_ONCE)
        .getMany();
      if (open.length === 0) break;
      await this.writeAges(open, now);
      after = open.at(-1)?.number ?? after;
    }
    this.live.publish({ kind: 'incidents-aged' });
  }
}
