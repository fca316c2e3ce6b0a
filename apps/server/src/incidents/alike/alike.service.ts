import { type AlikeView, type CaseView, MAX_PICKED } from '@lantern/contracts';
import { estimateAlike, type FieldName } from '@lantern/core/incidents';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { HistoryEntity, IncidentEntity } from '../incident.entity.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { incidentRows, only } from '../queue/rows.js';
import { readSignature } from './cases.service.js';

import { demandVisible, visibleAmong, visibleIncidents } from '../visible.js';

/** Estimated Jaccard index of the texts from which two incidents are the same case in other hands. Judgement, no source. */
const ALIKE = 0.6;
/** Incidents that share a band and are compared; the newest of them. */
const COMPARED = 5_000;
const SHOWN = 200;
/** Most of them share it. */
const MOSTLY = 0.8;

/** Incidents that are the same thing: in other hands, or tried again by the same person. */
@Injectable()
export class AlikeIncidents {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly live: LiveEvents,
  ) {}

  /** Look-alikes of an incident: the same rules, patterns, channel and application, and a text that is nearly the same. */
  async alike(number: number, sight: Sight, now = new Date()): Promise<AlikeView> {
    const own = await this.find(number, sight);
    const likeness = await this.candidates(own, sight);
    const numbers = [...likeness.keys()].sort(
      (one, other) => (likeness.get(other) ?? 0) - (likeness.get(one) ?? 0) || other - one,
    );
    const picked = numbers.slice(0, MAX_PICKED - 1);
    const all = await this.manager.find(IncidentEntity, {
      where: { number: In(picked) },
      select: only(['number', 'status']),
    });
    const source = { manager: this.manager, keys: this.config.keys };
    const rows = await incidentRows(source, numbers.slice(0, SHOWN), sight, now);
    const [self] = await incidentRows(source, [number], sight, now);
    return {
      total: numbers.length,
      open: all.filter(({ status }) => status !== 'decided').length,
      shared: self ? sharedBy(self, rows) : [],
      rows: rows.map((row) => ({ ...row, likeness: likeness.get(row.number) ?? 0 })),
      numbers: [number, ...picked],
    };
  }

  /** The attempts of an incident's case in their order, with what changed between them. */
  async case(number: number, sight: Sight, now = new Date()): Promise<CaseView> {
    const own = await this.find(number, sight);
    if (own.caseNumber === null) throw new AppError('not-found', 'This incident stands alone.');
    const attempts = await this.manager.find(IncidentEntity, {
      where: { caseNumber: own.caseNumber },
      select: only(['number', 'at']),
      order: { at: 'ASC', number: 'ASC' },
    });
    const visible = await visibleAmong(
      this.manager,
      attempts.map((attempt) => attempt.number),
      sight,
    );
    const numbers = attempts.flatMap((attempt) => (visible.has(attempt.number) ? [attempt.number] : []));
    const source = { manager: this.manager, keys: this.config.keys };
    const rows = await incidentRows(source, numbers, sight, now);
    const shared = await Promise.all(
      rows.map((row, at) => {
        const before = rows[at - 1];
        return before ? this.sharedValues(before.number, row.number) : null;
      }),
    );
    return {
      number: own.caseNumber,
      attempts: rows.map((row, at) => {
        const before = rows[at - 1];
        return {
          row,
          values: row.counts.reduce((sum, { distinct }) => sum + distinct, 0),
          sharedBefore: shared[at] ?? null,
          channelChanged: before !== undefined && before.channel !== row.channel,
          destinationChanged: before !== undefined && before.destinations.join() !== row.destinations.join(),
        };
      }),
    };
  }

  /** Takes an attempt out of its case; a case of one is none. */
  async leaveCase(number: number, caller: Caller): Promise<void> {
    await this.find(number, sightOf(caller));
    await this.manager.transaction(async (manager) => {
      const own = await manager.findOneOrFail(IncidentEntity, {
        where: { number },
        lock: { mode: 'pessimistic_write' },
      });
      if (own.caseNumber === null) throw new AppError('not-found', 'This incident stands alone.');
      const left = await manager.find(IncidentEntity, {
        where: { caseNumber: own.caseNumber },
        select: only(['number']),
        order: { number: 'ASC' },
      });
      const others = left.map((one) => one.number).filter((one) => one !== number);
      await manager.update(IncidentEntity, { number }, { caseNumber: null });
      await manager.update(
        IncidentEntity,
        { number: In(others) },
        { caseNumber: others.length > 1 ? Math.min(...others) : null },
      );
      await manager.insert(HistoryEntity, {
        ...{
          incidentNumber: number,
          at: new Date(),
          actor: caller.name,
          kind: 'case',
          act: null,
          text: null,
        },
        accountId: caller.accountId || null,
      });
      for (const one of [number, ...others]) this.live.publish({ kind: 'incident-changed', number: one });
    });
  }

  private async find(number: number, sight: Sight): Promise<IncidentEntity> {
    await demandVisible(this.manager, number, sight);
    const own = await this.manager.findOne(IncidentEntity, {
      where: { number },
      select: only(['number', 'caseNumber', 'signature', 'alikeKey']),
    });
    if (!own) throw new AppError('not-found', `There is no incident ${number}.`);
    return own;
  }

  /** Estimated likeness of each look-alike. Those that share a band are compared whole. */
  private async candidates(own: IncidentEntity, sight: Sight): Promise<Map<number, number>> {
    if (!own.signature || !own.alikeKey) return new Map();
    const visible = visibleIncidents(sight);
    const found = await this.manager.query<{ number: number; signature: Buffer }[]>(
      `SELECT DISTINCT i.number AS number, i.signature AS signature
       FROM alike_band mine JOIN alike_band other ON other.hash = mine.hash AND other.incidentNumber <> mine.incidentNumber
       JOIN incident i ON i.number = other.incidentNumber
       WHERE mine.incidentNumber = ? AND i.alikeKey = ? AND ${visible.sql}
       ORDER BY i.number DESC LIMIT ${COMPARED}`,
      [own.number, own.alikeKey, ...visible.values],
    );
    const signature = readSignature(own.signature);
    return new Map(
      found.flatMap(({ number, signature: other }) => {
        const likeness = estimateAlike(signature, readSignature(other));
        return likeness >= ALIKE ? [[Number(number), likeness] as const] : [];
      }),
    );
  }

  private async sharedValues(one: number, other: number): Promise<number> {
    const [row] = await this.manager.query<{ count: string }[]>(
      `SELECT COUNT(*) AS count FROM case_value a JOIN case_value b ON b.hash = a.hash
       WHERE a.incidentNumber = ? AND b.incidentNumber = ?`,
      [one, other],
    );
    return Number(row?.count ?? 0);
  }
}

type Row = Awaited<ReturnType<typeof incidentRows>>[number];
const COMPARED_FIELDS: readonly (readonly [FieldName, (row: Row) => string | null])[] = [
  ['person', ({ person }) => person.name],
  ['department', ({ person }) => person.department],
  ['domain', ({ destinations }) => destinations[0] ?? null],
  ['channel', ({ channel }) => channel],
  ['severity', ({ severity }) => severity],
  ['answer', ({ answer }) => answer],
  ['outcome', ({ outcome }) => outcome],
];

/** What most look-alikes have in common with the incident. */
function sharedBy(own: Row, rows: readonly Row[]): AlikeView['shared'] {
  if (rows.length === 0) return [];
  return COMPARED_FIELDS.flatMap(([field, valueOf]) => {
    const label = valueOf(own);
    const share = rows.filter((row) => valueOf(row) === label).length / rows.length;
    return label !== null && share >= MOSTLY ? [{ field, label, share }] : [];
  });
}
