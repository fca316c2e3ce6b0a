import { randomBytes, randomUUID } from 'node:crypto';
import type { DeliveryView, HookRequest, HookView, IncidentRow } from '@lantern/contracts';
import { Inject, Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThanOrEqual } from 'typeorm';
import { HistoryEntity } from '../../incidents/incident.entity.js';
import { incidentRows } from '../../incidents/queue/rows.js';
import { afterCommit } from '../../platform/database/transaction-context.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { OPEN_SIGHT } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { callHook } from './call.js';
import { DeliveryEntity, HookEntity } from './hook.entity.js';
import { signedHeaders, writtenSecret } from './signed.js';

/** Pauses before each further attempt, in seconds: a day of trying, then somebody must look. */
export const PAUSES = [5, 60, 300, 1_800, 7_200, 21_600, 43_200] as const;
const SWEEP_MS = 10_000;
/** Deliveries of one sweep; a hook that hangs holds up so many times ten seconds at most. */
const AT_ONCE = 20;
const LISTED = 200;
const SECRET_BYTES = 32;

/** Web hooks: every event is kept until it is delivered or a day of trying is over, and can be sent again by hand. */
@Injectable()
export class Hooks implements OnModuleInit, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;
  private sweeping: Promise<unknown> = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onModuleInit(): void {
    this.timer = setInterval(() => this.kick(), SWEEP_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.sweeping.catch(() => undefined);
  }

  async list(): Promise<HookView[]> {
    const hooks = await this.manager.find(HookEntity, { order: { name: 'ASC' } });
    return Promise.all(hooks.map((hook) => this.toView(hook, null)));
  }

  /** Makes a hook; its secret is shown this once. */
  async add({ name, url }: HookRequest, by: string): Promise<HookView> {
    const key = randomBytes(SECRET_BYTES);
    const id = randomUUID();
    const hook = {
      ...{ id, name, url, createdAt: new Date(), createdBy: by },
      secret: await seal(this.config.keys.installation, placeOf(id), key),
    };
    await this.manager.insert(HookEntity, hook);
    return this.toView(hook, writtenSecret(key));
  }

  async remove(id: string): Promise<void> {
    const gone = await this.manager.delete(HookEntity, { id });
    if (!gone.affected) throw new AppError('not-found', 'There is no such web hook.');
  }

  async deliveries(id: string): Promise<DeliveryView[]> {
    const found = await this.manager.find(DeliveryEntity, {
      where: { hookId: id },
      order: { at: 'DESC' },
      take: LISTED,
    });
    return found.map(({ id: delivery, incidentNumber, at, state, attempts, nextAt, answer }) => ({
      ...{ id: delivery, incident: incidentNumber, at: at.toISOString(), state, attempts, answer },
      nextAt: nextAt?.toISOString() ?? null,
    }));
  }

  async sendAgain(id: string): Promise<void> {
    const changed = await this.manager.update(
      DeliveryEntity,
      { id },
      { state: 'waiting', attempts: 0, nextAt: new Date() },
    );
    if (!changed.affected) throw new AppError('not-found', 'There is no such delivery.');
    this.kick();
  }

  /** Opens a ticket about an incident. Throws `not-found` for a hook that there is not. */
  async ticket(hookId: string, incidentNumber: number, by: string): Promise<void> {
    await this.manager.transaction((manager) => this.queue(manager, hookId, incidentNumber, by));
  }

  /** Queues an event within the caller's transaction. */
  async queue(manager: EntityManager, hookId: string, incidentNumber: number, by: string): Promise<void> {
    const hook = await manager.findOneBy(HookEntity, { id: hookId });
    if (!hook) throw new AppError('not-found', 'There is no such web hook.');
    const source = { manager, keys: this.config.keys };
    const [row] = await incidentRows(source, [incidentNumber], OPEN_SIGHT, new Date());
    // What only silent rules found leaves the workbench by no hook: its readers are not known.
    if (!row || row.silent)
      throw new AppError('not-found', `There is no incident ${incidentNumber} to send.`);
    const id = randomUUID();
    await manager.insert(DeliveryEntity, {
      ...{ id, hookId, incidentNumber, at: new Date(), state: 'waiting', attempts: 0, answer: null },
      nextAt: new Date(),
      body: JSON.stringify(eventOf(id, row, this.config.address)),
    });
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber, at: new Date(), actor: by, kind: 'response', act: null },
      text: `Ticket sent to ${hook.name}`,
    });
    afterCommit(() => this.kick());
  }

  /** Delivers what is due. Several sweeps never overlap. */
  sweep(now: Date): Promise<number> {
    const work = this.sweeping.catch(() => undefined).then(() => this.deliverDue(now));
    this.sweeping = work;
    return work;
  }

  private kick(): void {
    void this.sweep(new Date()).catch(() => undefined);
  }

  private async deliverDue(now: Date): Promise<number> {
    const due = await this.manager.find(DeliveryEntity, {
      where: { state: 'waiting', nextAt: LessThanOrEqual(now) },
      order: { nextAt: 'ASC' },
      take: AT_ONCE,
    });
    await Promise.all(due.map((delivery) => this.deliver(delivery, now)));
    return due.length;
  }

  private async deliver(delivery: DeliveryEntity, now: Date): Promise<void> {
    const hook = await this.manager.findOneBy(HookEntity, { id: delivery.hookId });
    if (!hook) return;
    const key = await unseal(this.config.keys.installation, placeOf(hook.id), hook.secret);
    const { id, body } = delivery;
    const result = await callHook(hook.url, {
      headers: {
        'content-type': 'application/cloudevents+json; charset=utf-8',
        ...signedHeaders(key, { id, at: new Date(), body }),
      },
      body,
      privateToo: this.config.privateHooks,
    });
    const isDone = result.kind === 'answered' && result.status >= 200 && result.status < 300;
    const pause = PAUSES[delivery.attempts];
    const isLast = pause === undefined || (result.kind === 'failed' && result.why === 'own-address');
    await this.manager.update(
      DeliveryEntity,
      { id },
      {
        attempts: delivery.attempts + 1,
        answer: result.kind === 'answered' ? String(result.status) : result.why,
        state: isDone ? 'delivered' : isLast ? 'failed' : 'waiting',
        nextAt: isDone || isLast ? null : new Date(now.getTime() + pause * 1_000),
      },
    );
  }

  private async toView({ id, name, url }: HookEntity, secret: string | null): Promise<HookView> {
    return {
      ...{ id, name, url, secret },
      waiting: await this.manager.countBy(DeliveryEntity, { hookId: id, state: 'waiting' }),
      failed: await this.manager.countBy(DeliveryEntity, { hookId: id, state: 'failed' }),
    };
  }
}

const placeOf = (id: string): string => `web hook ${id}`;

/** An incident as an event of CloudEvents 1.0 in structured JSON. No value and no excerpt is in it. */
function eventOf(id: string, row: IncidentRow, address: string): object {
  return {
    specversion: '1.0',
    id,
    source: address,
    type: 'incident.ticket',
    subject: `incident/${row.number}`,
    time: new Date().toISOString(),
    datacontenttype: 'application/json',
    data: { ...row, link: `${address}/incidents/${row.number}` },
  };
}
