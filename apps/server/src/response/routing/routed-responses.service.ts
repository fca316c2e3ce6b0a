import type { ResponseResult, RoutedResponse } from '@lantern/contracts';
import { Injectable, Logger, type OnModuleInit, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { HistoryEntity, IncidentEntity } from '../../incidents/incident.entity.js';
import type { Caller } from '../../platform/auth/permit.js';
import { insertOnly } from '../../platform/database/insert-only.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { Responses } from '../people/respond.service.js';
import { RoutedResponseEntity } from './routing.entity.js';

/** Soon enough for a person who still has the item before them. */
const SWEEP_MS = 3_000;
const HOUR_MS = 3_600_000;
const AT_ONCE = 50;
/** Responses of one kind that one rule sends about one person within an hour: a flood of incidents is no flood of mail. */
export const RESPONSES_AN_HOUR = 5;

/**
 * Carries out what routing rules say is done about incidents: after they were recorded, each once, with its result in the
 * history.
 */
@Injectable()
export class RoutedResponses implements OnModuleInit, OnApplicationShutdown {
  private readonly log = new Logger('routing');
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<number> | null = null;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly responses: Responses,
    private readonly live: LiveEvents,
  ) {}

  onModuleInit(): void {
    this.timer = setInterval(
      () => void this.send().catch((error: Error) => this.log.error(`Routed responses: ${error.name}`)),
      SWEEP_MS,
    ).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Keeps responses to an incident, within the transaction that records it. */
  async queue(
    manager: EntityManager,
    incidentNumber: number,
    { name, respond }: { readonly name: string; readonly respond: readonly RoutedResponse[] },
  ): Promise<void> {
    await insertOnly(
      manager,
      RoutedResponseEntity,
      respond.map((response) => ({
        incidentNumber,
        rule: name,
        response,
        at: new Date(),
        doneAt: null,
        sent: false,
      })),
    );
  }

  /** Sends what waits, the oldest first. Gives how many were carried out. One round at a time. */
  send(): Promise<number> {
    this.running ??= this.sendSome().finally(() => (this.running = null));
    return this.running;
  }

  private async sendSome(): Promise<number> {
    const rows = await this.manager.query<{ id: string }[]>(
      `SELECT id FROM routed_response WHERE doneAt IS NULL ORDER BY id LIMIT ${AT_ONCE}`,
    );
    let sent = 0;
    for (const { id } of rows) if (await this.sendOne(id)) sent += 1;
    return sent;
  }

  /** In one transaction: a response that went out is never sent again, and one that did not is not called sent. */
  private sendOne(id: string): Promise<boolean> {
    return this.manager.transaction(async (manager) => {
      const row = await manager.findOne(RoutedResponseEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      if (!row || row.doneAt) return false;
      const now = new Date();
      const refusal = (await this.isFlood(manager, row, now)) ? 'flood' : await this.carryOut(row);
      await manager.update(RoutedResponseEntity, { id }, { doneAt: now, sent: refusal === null });
      if (refusal === null) return true;
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber: row.incidentNumber, at: now, actor: nameOf(row), kind: 'response', act: null },
        text: `Not done: ${WHAT[row.response.kind]}. ${WHY_NOT[refusal]}`,
      });
      this.live.publish({ kind: 'incident-changed', number: row.incidentNumber });
      return false;
    });
  }

  private async carryOut(row: RoutedResponseEntity): Promise<ResponseResult['reason']> {
    const { incidentNumber: number, response } = row;
    const caller = callerOf(row);
    const isMail = response.kind !== 'take-back' && response.kind !== 'sign-out';
    const templates = isMail ? await this.responses.templates(number, caller).catch(() => []) : [];
    const template = templates.find(({ kind }) => kind === response.kind);
    const words = { subject: response.subject ?? template?.subject, text: response.text ?? template?.text };
    const given = Object.fromEntries(Object.entries(words).filter(([, each]) => each !== undefined));
    const [result] = await this.responses.send({ ...response, ...given, numbers: [number] }, caller);
    return result?.reason ?? null;
  }

  /** Whether the same rule did the same about this person often enough within the last hour. */
  private async isFlood(
    manager: EntityManager,
    { rule, response, incidentNumber }: RoutedResponseEntity,
    now: Date,
  ): Promise<boolean> {
    const incident = await manager.findOne(IncidentEntity, {
      where: { number: incidentNumber },
      select: { number: true, personAddress: true },
    });
    const [counted] = await manager.query<{ n: string }[]>(
      `SELECT COUNT(*) AS n FROM routed_response r JOIN incident i ON i.number = r.incidentNumber
       WHERE r.doneAt > ? AND r.sent = 1 AND r.rule = ? AND i.personAddress = ?
         AND JSON_VALUE(r.response, '$.kind') = ?`,
      [new Date(now.getTime() - HOUR_MS), rule, incident?.personAddress ?? '', response.kind],
    );
    return Number(counted?.n ?? 0) >= RESPONSES_AN_HOUR;
  }
}

const nameOf = ({ rule }: RoutedResponseEntity): string => `Routing rule "${rule}"`.slice(0, 120);

/** A rule sees every incident but those that only silent rules made. */
function callerOf(row: RoutedResponseEntity): Caller {
  const permissions = ['incidents.read', 'incidents.respond'] as const;
  return {
    ...{ sessionId: '', accountId: '', csrfToken: '', email: '', name: nameOf(row) },
    ...{ permissions, limits: null, secondFactor: false },
    grants: [{ permissions, limits: null, inPlaceOf: null }],
  };
}

const WHAT: Readonly<Record<RoutedResponse['kind'], string>> = {
  'tell-person': 'tell the person',
  'tell-manager': 'tell the manager',
  'ask-person': 'ask the person',
  'take-back': 'take back what it gave',
  'sign-out': 'sign the person out',
};

const WHY_NOT: Readonly<Record<NonNullable<ResponseResult['reason']> | 'flood', string>> = {
  flood: `The rule did so ${RESPONSES_AN_HOUR} times about this person within an hour.`,
  'not-found': 'The incident could not be found.',
  'no-manager': 'The directory names no manager.',
  'not-in-directory': 'The person is not in the directory.',
  undeliverable: 'The mail could not be delivered.',
  'already-asked': 'A question is open already.',
  'nothing-to-take-back': 'There was nothing to take back.',
  'signed-in-nowhere': 'The person was signed in nowhere.',
};
