import type { ResponseResult, RoutedResponse } from '@lantern/contracts';
import { Injectable, Logger, type OnModuleInit, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
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
/** Most responses of one kind that one rule sends about one person within an hour, so that many incidents are not many mails. */
export const RESPONSES_AN_HOUR = 5;

/**
 * Carries out the responses of routing rules after the incident is recorded. Each is carried out once; the history has its
 * result.
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
    for (const { id } of rows) {
      const isSent = await this.sendOne(id).catch(async (error: unknown) => {
        this.log.error(`Routed response ${id}: ${error instanceof Error ? error.name : 'unknown'}`);
        await this.giveUp(id);
        return false;
      });
      if (isSent) sent += 1;
    }
    return sent;
  }

  /** One that cannot be carried out holds up no other. Where the database is gone, this fails too and the row waits. */
  private giveUp(id: string): Promise<void> {
    return this.manager.transaction(async (manager) => {
      const row = await manager.findOne(RoutedResponseEntity, {
        where: { id, doneAt: IsNull() },
        lock: { mode: 'pessimistic_write' },
      });
      if (row) await this.refuse(manager, row, 'failed');
    });
  }

  /** Sends one and marks it in the same transaction, so that none is sent twice or marked without being sent. */
  private sendOne(id: string): Promise<boolean> {
    return this.manager.transaction(async (manager) => {
      const row = await manager.findOne(RoutedResponseEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      if (!row || row.doneAt) return false;
      const now = new Date();
      const refusal = (await this.isFlood(manager, row, now)) ? 'flood' : await this.carryOut(row);
      if (refusal !== null) await this.refuse(manager, row, refusal);
      else await manager.update(RoutedResponseEntity, { id }, { doneAt: now, sent: true });
      return refusal === null;
    });
  }

  /** Ends a response that is not carried out; the history of the incident says why. */
  private async refuse(
    manager: EntityManager,
    { id, incidentNumber, response, rule }: RoutedResponseEntity,
    refusal: Refusal,
  ): Promise<void> {
    const now = new Date();
    await manager.update(RoutedResponseEntity, { id }, { doneAt: now, sent: false });
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber, at: now, actor: nameOf({ rule }), kind: 'response', act: null },
      text: `Not done: ${WHAT[response.kind]}. ${WHY_NOT[refusal]}`,
    });
    this.live.publish({ kind: 'incident-changed', number: incidentNumber });
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

const nameOf = ({ rule }: Pick<RoutedResponseEntity, 'rule'>): string =>
  `Routing rule "${rule}"`.slice(0, 120);

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

type Refusal = NonNullable<ResponseResult['reason']> | 'flood' | 'failed';

const WHY_NOT: Readonly<Record<Refusal, string>> = {
  failed: 'An error occurred. Do it by hand if it is still needed.',
  flood: `The rule did so ${RESPONSES_AN_HOUR} times about this person within an hour.`,
  'not-found': 'The incident could not be found.',
  'no-manager': 'The directory names no manager.',
  'not-in-directory': 'The person is not in the directory.',
  undeliverable: 'The mail could not be delivered.',
  'already-asked': 'A question is open already.',
  'nothing-to-take-back': 'There was nothing to take back.',
  'signed-in-nowhere': 'The person was signed in nowhere.',
};
