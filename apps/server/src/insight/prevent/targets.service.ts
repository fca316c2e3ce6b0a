import type { PreventRequest } from '@lantern/contracts/insight';
import { allOf, type Filter } from '@lantern/core/incidents';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { IncidentEntity, MatchEntity } from '../../incidents/incident.entity.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import { only } from '../../incidents/queue/rows.js';
import type { Sight } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';

/** What is to be prevented: incidents, and the rule that made most of them. */
export interface Target {
  readonly rule: string;
  readonly incidents: readonly number[];
  /** The incident it began from; null for several. */
  readonly incident: number | null;
}

const FALSE_POSITIVES: Filter = {
  kind: 'compare',
  field: 'outcome',
  operator: 'eq',
  value: 'false-positive',
};
/** Incidents of a group that are looked at. */
const MOST_TARGETS = 2_000;

/** Finds the false positives that somebody wants to prevent. */
@Injectable()
export class Targets {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly queue: Queue,
  ) {}

  /** Throws `not-found` where there are none, or where no rule made them. */
  async find({ incident, filter }: PreventRequest, sight: Sight): Promise<Target> {
    const numbers =
      incident === undefined
        ? await this.queue.numbers(allOf([this.queue.read(filter), FALSE_POSITIVES]), sight, MOST_TARGETS)
        : await this.one(incident, sight);
    if (numbers.length === 0)
      throw new AppError('not-found', 'No incident here is decided as a false positive. Decide one first.');
    const matches = await this.manager.find(MatchEntity, {
      where: { incidentNumber: In(numbers), ...(sight.silent ? {} : { silent: false }) },
      select: only(['id', 'incidentNumber', 'ruleId', 'answer']),
      order: { id: 'ASC' },
    });
    const counts = new Map<string, number>();
    for (const { ruleId } of matches) if (ruleId) counts.set(ruleId, (counts.get(ruleId) ?? 0) + 1);
    const [most] = [...counts].sort(([, one], [, other]) => other - one);
    if (!most)
      throw new AppError('not-found', 'No rule matched these incidents: a label or a limit stopped them.');
    const [rule] = most;
    const own = new Set(
      matches.filter(({ ruleId }) => ruleId === rule).map(({ incidentNumber }) => incidentNumber),
    );
    return { rule, incidents: numbers.filter((number) => own.has(number)), incident: incident ?? null };
  }

  private async one(number: number, sight: Sight): Promise<number[]> {
    const found = await this.manager.findOne(IncidentEntity, {
      where: { number, ...(sight.silent ? {} : { silent: false }) },
      select: only(['number', 'outcome']),
    });
    if (!found) throw new AppError('not-found', 'There is no such incident.');
    return found.outcome === 'false-positive' ? [number] : [];
  }
}
