import { createHash } from 'node:crypto';
import type { QuestionView } from '@lantern/contracts';
import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThanOrEqual } from 'typeorm';
import { HistoryEntity, IncidentEntity } from '../../incidents/incident.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { QuestionEntity } from './question.entity.js';

const SWEEP_MS = 30_000;

/** Questions to people: answered once behind a link, or over at their deadline. */
@Injectable()
export class Questions implements OnModuleInit, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly live: LiveEvents,
  ) {}

  onModuleInit(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async view(token: string): Promise<QuestionView> {
    return toView(await this.find(this.manager, token));
  }

  /** Keeps the reply word for word. Throws `link-over` for a question that is answered or over. */
  async reply(token: string, text: string): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const question = await this.find(manager, token, true);
      if (question.state !== 'open' || question.deadline <= new Date())
        throw new AppError('link-over', 'This question is answered or over. Your text was not sent.');
      await manager.update(
        QuestionEntity,
        { id: question.id },
        { state: 'replied', reply: text, repliedAt: new Date() },
      );
      await this.end(manager, question, { actor: question.personName, text: `Replied: ${text}` });
    });
  }

  /** Ends questions whose deadline has passed. */
  async sweep(now: Date): Promise<number> {
    const due = await this.manager.findBy(QuestionEntity, { state: 'open', deadline: LessThanOrEqual(now) });
    for (const { id } of due)
      await this.manager.transaction(async (manager) => {
        const changed = await manager.update(QuestionEntity, { id, state: 'open' }, { state: 'over' });
        const question = await manager.findOneByOrFail(QuestionEntity, { id });
        // The person replied while this was looking: theirs counts.
        if (changed.affected)
          await this.end(manager, question, { actor: 'Uncut Lantern', text: 'No reply until the deadline' });
      });
    return due.length;
  }

  /** The incident is no longer waiting for the person. */
  private async end(
    manager: EntityManager,
    { incidentNumber }: QuestionEntity,
    { actor, text }: { readonly actor: string; readonly text: string },
  ): Promise<void> {
    const incident = await manager.findOneOrFail(IncidentEntity, {
      where: { number: incidentNumber },
      lock: { mode: 'pessimistic_write' },
    });
    if (incident.status === 'waiting')
      await manager.update(
        IncidentEntity,
        { number: incidentNumber },
        { status: 'taken', version: incident.version + 1 },
      );
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber, at: new Date(), actor, kind: 'question', act: null, text },
    });
    this.live.publish({ kind: 'incident-changed', number: incidentNumber });
  }

  private async find(manager: EntityManager, token: string, lock = false): Promise<QuestionEntity> {
    const found = await manager.findOne(QuestionEntity, {
      where: { tokenHash: createHash('sha256').update(token).digest('hex') },
      ...(lock ? { lock: { mode: 'pessimistic_write' as const } } : {}),
    });
    if (!found)
      throw new AppError(
        'link-over',
        'This link does not work. It may be cut off: open it from the mail again, or write to whoever asked.',
      );
    return found;
  }
}

function toView({ personName, actor, text, at, deadline, state }: QuestionEntity): QuestionView {
  const isOver = state === 'open' && deadline <= new Date();
  return {
    person: personName,
    by: actor,
    text,
    at: at.toISOString(),
    deadline: deadline.toISOString(),
    state: isOver ? 'over' : state,
  };
}
