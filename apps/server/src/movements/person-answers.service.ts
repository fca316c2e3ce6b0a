import type { IntakeVerdict, ProofRequest } from '@lantern/contracts';
import type { PasskeyOptionsView } from '@lantern/contracts/passkeys';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PeopleService, type Player } from '../directory/people.service.js';
import { AppError } from '../platform/errors/app-error.js';
import { Movements } from './movements.service.js';
import { PendingService } from './pending/pending.service.js';
import { SubmissionEntity } from './submission.entity.js';
import { MOST_TRIES } from './notice/person-notice.js';
import type { Proved } from './pending/pending.service.js';
import { type CodeResult, PersonFactors } from './proof/person-factors.service.js';
import { PersonPasskeys } from './proof/person-passkeys.service.js';
import { Trusts } from './proof/trusts.service.js';
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
    private readonly factors: PersonFactors,
    private readonly trusts: Trusts,
    private readonly passkeys: PersonPasskeys,
  ) {}

  /** The person's reply to a question: it goes on, or they turn back. */
  async reply(
    { submitter, id }: SubmissionRef,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<IntakeVerdict> {
    const { notice } = await this.movements.find(submitter, id);
    if (reply.leads === 'goes-on' && notice?.proof && !notice.proof.isDone)
      throw new AppError('act-refused', 'Confirm your identity with your second factor first.');
    await this.pending.reply(id, await this.personOf(submitter, id), reply);
    return this.movements.find(submitter, id);
  }

  /** What the person's browser needs to answer with a passkey. */
  async toProve({ submitter, id }: SubmissionRef): Promise<PasskeyOptionsView> {
    const { state, notice } = await this.movements.find(submitter, id);
    if (state !== 'waiting' || !notice?.proof || notice.proof.isDone)
      throw new AppError('act-refused', 'This movement does not ask for a second factor.');
    return this.passkeys.toProve(await this.movements.personOf(submitter, id), id);
  }

  /** Checks a code or a passkey of the person. The right one lets the movement go on; three wrong ones end it. */
  async prove({ submitter, id }: SubmissionRef, given: ProofRequest): Promise<IntakeVerdict> {
    const found = await this.movements.find(submitter, id);
    const { proof } = found.notice ?? {};
    if (found.state !== 'waiting' || !proof || proof.isDone)
      throw new AppError('act-refused', 'This movement does not ask for a second factor.');
    const address = await this.movements.personOf(submitter, id);
    const place = await this.movements.trustPlaceOf(submitter, id);
    let failed: AppError | null = null;
    await this.pending.prove(id, async (manager, entry): Promise<Proved> => {
      const now = new Date();
      if (entry.deadline !== null && entry.deadline <= now)
        throw new AppError(
          'act-refused',
          'The time to confirm is over. Nothing was sent or exported. Start again.',
        );
      // What another window did meanwhile counts.
      const left = (await this.movements.find(submitter, id)).notice?.proof?.triesLeft ?? MOST_TRIES;
      const result = given.passkey
        ? await this.passkeys.check(manager, { address, submission: id }, given.passkey)
        : await this.factors.check(manager, address, (given.code ?? '').replaceAll(/\s/g, ''), now);
      if (result === 'right') {
        await this.trusts.raise(
          manager,
          { personAddress: address, place, incidentNumber: entry.incidentNumber, ...proof },
          now,
        );
        const isDone = { proof: { ...proof, triesLeft: left, isDone: true } };
        if (entry.kind === 'ask') return { notice: isDone };
        return {
          outcome: { state: 'went-on', by: await this.nameOf(address), words: PROVED, notice: isDone },
        };
      }
      if (result !== 'wrong') throw new AppError('act-refused', WHY_NOT[result]);
      failed = new AppError('wrong-code', wrongWords(given, left - 1), { details: { left: left - 1 } });
      const notice = { proof: { ...proof, triesLeft: left - 1 } };
      return left > 1
        ? { notice }
        : { outcome: { state: 'refused', by: await this.nameOf(address), words: NOT_PROVED, notice } };
    });
    // The count of wrong codes is kept; only then the answer says so.
    if (failed !== null) throw failed as AppError;
    return this.movements.find(submitter, id);
  }

  private async nameOf(address: string): Promise<string> {
    const [person] = await this.people.findByAddresses([address]);
    return person?.name ?? address;
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

const PROVED = 'Confirmed with the second factor.';
const NOT_PROVED = `${MOST_TRIES} wrong codes.`;

const WHY_NOT: Readonly<Record<Exclude<CodeResult, 'right' | 'wrong'>, string>> = {
  'no-factor': 'You have no second factor yet. Set one up, then start again.',
  'too-many': 'Too many wrong codes within one hour. Try again later, or ask the security team.',
};

function wrongWords({ passkey }: ProofRequest, left: number): string {
  const what = `The ${passkey ? 'passkey' : 'code'} is wrong or was already used.`;
  if (left === 0) return `${what} No tries are left, so this was stopped. Nothing was sent or exported.`;
  return `${what} ${left === 1 ? '1 try' : `${left} tries`} left.`;
}
