import type { IntakeVerdict } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PeopleService, type Player } from '../../people/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { WaitingService } from '../../waiting/waiting.service.js';
import { Reports } from '../reports.service.js';
import { AttemptsService } from './attempts.service.js';

/** What the person at work says about a movement, brought by the agent that handed it in. */
@Injectable()
export class PersonAnswers {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly attempts: AttemptsService,
    private readonly waiting: WaitingService,
    private readonly people: PeopleService,
    private readonly reports: Reports,
  ) {}

  async reply(
    agent: string,
    id: string,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<IntakeVerdict> {
    await this.waiting.reply(id, await this.personOf(agent, id), reply);
    return this.attempts.find(agent, id);
  }

  async askOverride(agent: string, id: string, words: string): Promise<IntakeVerdict> {
    const { person } = await this.personOf(agent, id);
    // Whoever decides must be able to tell who asks.
    if (!person)
      throw new AppError('not-permitted', 'Only people of the directory can ask somebody to let it go.');
    await this.attempts.askOverride(person, { agent, id }, words);
    return this.attempts.find(agent, id);
  }

  async report(agent: string, id: string, words: string): Promise<void> {
    const { incident } = await this.attempts.find(agent, id);
    if (incident === null) throw new AppError('act-refused', 'Nothing was found here that could be wrong.');
    const { name } = await this.personOf(agent, id);
    await this.manager.transaction((manager) => this.reports.record(manager, { incident, by: name, words }));
    this.reports.announce(incident);
  }

  private async personOf(agent: string, id: string): Promise<Pick<Player, 'person' | 'name'>> {
    const address = await this.attempts.personOf(agent, id);
    const [person] = await this.people.findByAddresses([address]);
    return { person: person ?? null, name: person?.name ?? address };
  }
}
