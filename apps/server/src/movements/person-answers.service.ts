import type { IntakeVerdict } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PeopleService, type Player } from '../directory/people.service.js';
import { AppError } from '../platform/errors/app-error.js';
import { Movements } from './movements.service.js';
import { PendingService } from './pending/pending.service.js';
import { SubmissionEntity } from './submission.entity.js';
import { Reports } from './reports.service.js';

/** A submission, named by whoever handed it in. */
export interface SubmissionRef {
  readonly submitter: string;
  readonly id: string;
}

/** What the person at work says about a movement of theirs: on every channel and for every submitter alike. */
@Injectable()
export class PersonAnswers {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly movements: Movements,
    private readonly pending: PendingService,
    private readonly people: PeopleService,
    private readonly reports: Reports,
  ) {}

  /** The person's reply to a question: it goes on, or they turn back. */
  async reply(
    { submitter, id }: SubmissionRef,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<IntakeVerdict> {
    await this.pending.reply(id, await this.personOf(submitter, id), reply);
    return this.movements.find(submitter, id);
  }

  /** Asks somebody else to let a blocked movement go. */
  async askOverride({ submitter, id }: SubmissionRef, words: string): Promise<IntakeVerdict> {
    const { person } = await this.personOf(submitter, id);
    // Whoever decides must be able to tell who asks.
    if (!person) throw new AppError('not-permitted', 'Only people in the directory can request an override.');
    await this.movements.askOverride(person, { submitter, id }, words);
    return this.movements.find(submitter, id);
  }

  /** Says that what was found is none; `mark` keeps it beside what the submitter shows, in the same transaction. */
  async report(
    { submitter, id }: SubmissionRef,
    words: string,
    mark?: (manager: EntityManager) => Promise<unknown>,
  ): Promise<void> {
    const { incident } = await this.movements.find(submitter, id);
    if (incident === null) throw new AppError('act-refused', 'There are no findings to report.');
    const { name } = await this.personOf(submitter, id);
    await this.manager.transaction(async (manager) => {
      await mark?.(manager);
      await this.reports.record(manager, { incident, by: name, words });
    });
  }

  /** A submission of somebody, whoever handed it in: some programs show those of others. */
  async ofPerson(id: string, person: string): Promise<SubmissionRef> {
    const found = await this.manager.findOneBy(SubmissionEntity, { id, person });
    if (!found) throw new AppError('not-found', 'This movement does not exist.');
    return { submitter: found.submitter, id };
  }

  /** The submission whose movement led to an incident. */
  async ofIncident(incident: number): Promise<SubmissionRef> {
    const found = await this.manager.findOneBy(SubmissionEntity, { incident });
    if (!found) throw new AppError('not-found', 'This movement does not exist.');
    return { submitter: found.submitter, id: found.id };
  }

  private async personOf(submitter: string, id: string): Promise<Pick<Player, 'person' | 'name'>> {
    const address = await this.movements.personOf(submitter, id);
    const [person] = await this.people.findByAddresses([address]);
    return { person: person ?? null, name: person?.name ?? address };
  }
}
