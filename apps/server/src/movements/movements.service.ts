import { createHmac, randomUUID } from 'node:crypto';
import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';
import { isDivided, judgementsByRecipient, trustPlace } from '@lantern/core/policy';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { PersonEntity } from '../directory/person.entity.js';
import { isDuplicate } from '../platform/database/duplicate.js';
import { CONFIG, type Config } from '../platform/config.js';
import { AppError } from '../platform/errors/app-error.js';
import { hashInSlices } from '../platform/hash-in-slices.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { MovementEntity } from '../incidents/incident.entity.js';
import { MovementJudge } from './judge.service.js';
import { OneAtATime } from './past/one-at-a-time.js';
import { StandingApprovals } from './approvals/standing-approvals.service.js';
import { Outcomes, type Settled } from './outcomes.js';
import { PendingService } from './pending/pending.service.js';
import { NOBODY } from './pending/pending.entity.js';
import { pendingTerms } from './pending/pending-terms.js';
import { type PreparedRecord, RecorderService } from './recorder.service.js';
import {
  isKnown,
  type JudgedSubmission,
  type OutcomeListener,
  stateAfter,
  type Submission,
  type SubmittedBy,
  type SubmitterWork,
} from './submission.js';
import { SubmissionEntity } from './submission.entity.js';

/** Everything that is written down for one submission. */
interface Writing<Prepared> {
  readonly entity: SubmissionEntity;
  readonly submission: Submission;
  readonly judged: JudgedSubmission;
  readonly recorded: PreparedRecord;
  readonly prepared: Prepared;
  readonly apply: SubmitterWork<Prepared>['apply'];
}

/**
 * The one pipeline of movements: submitted under a key, judged, recorded, pending where somebody must answer, and its
 * outcome told to whoever submitted it. Nothing is let go or refused beside it.
 */
@Injectable()
export class Movements implements OnModuleInit {
  private readonly listeners = new Map<string, OutcomeListener>();

  private readonly inTurn = new OneAtATime();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly judge: MovementJudge,
    private readonly recorder: RecorderService,
    private readonly pending: PendingService,
    private readonly approvals: StandingApprovals,
    private readonly outcomes: Outcomes,
    private readonly live: LiveEvents,
  ) {}

  onModuleInit(): void {
    this.outcomes.carriedOutBy((manager, settled) => this.settle(manager, settled));
  }

  /** A submitter hears what became of its submissions. */
  listen(submitter: string, listener: OutcomeListener): void {
    this.listeners.set(submitter, listener);
  }

  /**
   * Judges and records a movement once. The same key with the same movement gives what was answered the first time,
   * also when both arrive together; with another movement it is refused.
   */
  async submit<Prepared = undefined>(
    by: SubmittedBy,
    submission: Submission,
    work: SubmitterWork<Prepared> = {},
  ): Promise<IntakeVerdict> {
    const digest = await this.digestOf(submission);
    const known = await this.known(by, digest);
    if (known) return known;
    work.demand?.();
    const read = await this.judge.read(submission);
    // Sums over time are exact only where the same person's movements are judged and recorded one after the other.
    return this.inTurn.run(submission.person.address.toLowerCase(), async () =>
      this.keep({ by, digest }, submission, await this.judge.judgeRead(submission, read), work),
    );
  }

  /** Records a movement that its submitter has had judged already. */
  async submitJudged<Prepared = undefined>(
    by: SubmittedBy,
    submission: Submission,
    judged: JudgedSubmission,
    work: SubmitterWork<Prepared> = {},
  ): Promise<IntakeVerdict> {
    return this.keep({ by, digest: await this.digestOf(submission) }, submission, judged, work);
  }

  private async keep<Prepared>(
    { by, digest }: { readonly by: SubmittedBy; readonly digest: string },
    submission: Submission,
    judged: JudgedSubmission,
    { prepare, apply }: SubmitterWork<Prepared>,
  ): Promise<IntakeVerdict> {
    const entity = toEntity(by, digest, submission, judged);
    // What waits for workers is done before the transaction, which holds a connection.
    const recorded = await this.recorder.prepare(entity.movementId, judged, submission);
    const prepared = (await prepare?.(toVerdict(entity), judged)) as Prepared;
    try {
      return await this.manager.transaction((manager) =>
        this.write(manager, { entity, submission, judged, recorded, prepared, apply }),
      );
    } catch (error) {
      // The same key came in beside this one and was first.
      const first = isDuplicate(error) ? await this.known(by, digest) : null;
      if (first) return first;
      throw error;
    }
  }

  /** The incident of what was submitted under a key; null where nothing was. */
  async incidentUnder(by: SubmittedBy): Promise<number | null> {
    const found = await this.manager.findOneBy(SubmissionEntity, by);
    return found?.incident ?? null;
  }

  /** Where a submission stands. Throws `not-found` for one of another submitter. */
  async find(submitter: string, id: string): Promise<IntakeVerdict> {
    return toVerdict(await this.get(submitter, id));
  }

  /** Address of whoever moved it. */
  async personOf(submitter: string, id: string): Promise<string> {
    return (await this.get(submitter, id)).person;
  }

  /** Where it happens, as trust knows places. */
  async trustPlaceOf(submitter: string, id: string): Promise<string> {
    const { channel, movementId } = await this.get(submitter, id);
    const moved = await this.manager.findOne(MovementEntity, {
      where: { id: movementId },
      select: { id: true, way: true },
    });
    return trustPlace({ channel, from: moved?.way?.from ?? [] });
  }

  /** The page that asks about it is open, or closes. */
  async page(submitter: string, id: string, isOpen: boolean): Promise<IntakeVerdict> {
    const found = await this.get(submitter, id);
    await this.pending.page(id, isOpen, new Date());
    return toVerdict(found);
  }

  /** Asks somebody to let a blocked movement go; it waits with what the person wrote. */
  async askOverride(
    person: PersonEntity,
    { submitter, id }: { readonly submitter: string; readonly id: string },
    words: string,
  ): Promise<void> {
    const found = await this.get(submitter, id);
    const { override } = found.notice ?? { override: null };
    if (found.state !== 'refused' || !override || found.incident === null || found.person !== person.address)
      throw new AppError('act-refused', 'This rule allows no override.');
    const { incident, channel, movementId } = found;
    await this.manager.transaction(async (manager) => {
      const notice = found.notice && { ...found.notice, state: 'waiting' as const, decision: null };
      const changed = await manager.update(
        SubmissionEntity,
        { id, state: 'refused' },
        { state: 'waiting', notice },
      );
      if (!changed.affected) throw new AppError('changed-meanwhile', 'An override was already requested.');
      await this.pending.askOverride(manager, {
        id,
        movementId,
        incidentNumber: incident,
        channel,
        person,
        decides: override,
        approvers: found.notice?.twoApprovers ? 2 : 1,
        words,
      });
      await this.listeners.get(submitter)?.(manager, toVerdict({ ...found, state: 'waiting', notice }));
      this.live.publish({ kind: 'incident-changed', number: incident });
    });
  }

  private async settle(manager: EntityManager, { id, state, notice }: Settled): Promise<void> {
    const found = await manager.findOneByOrFail(SubmissionEntity, { id });
    const again = state === 'went-on' ? await this.repeatOf(manager, found, notice) : {};
    const changed = { ...found, state, notice: found.notice && { ...found.notice, ...notice, ...again } };
    await manager.update(SubmissionEntity, { id }, { state, notice: changed.notice });
    if (state === 'went-on') await manager.update(MovementEntity, { id: found.movementId }, { wentOn: true });
    await this.listeners.get(found.submitter)?.(manager, toVerdict(changed));
  }

  /**
   * Allows one repeat where the submitter listens for no outcome: an agent's blocked upload or paste was not kept anywhere,
   * so it cannot go on by itself. Submitters that listen kept the item and let it go.
   */
  private async repeatOf(
    manager: EntityManager,
    { submitter, movementId, incident, channel, person, answer }: SubmissionEntity,
    { decision, again }: Settled['notice'],
  ): Promise<Pick<PersonNotice, 'again'>> {
    // What stays allowed for days needs no repeat of its own.
    if (this.listeners.has(submitter) || answer !== 'block' || incident === null || !decision || again)
      return {};
    const moved = { movementId, incidentNumber: incident, channel, person, approvers: 1 };
    const until = await this.approvals.allowRepeat(manager, moved, decision);
    return until ? { again: { until: until.toISOString(), once: true } } : {};
  }

  private async get(submitter: string, id: string): Promise<SubmissionEntity> {
    const found = await this.manager.findOneBy(SubmissionEntity, { id, submitter });
    if (!found) throw new AppError('not-found', 'This movement does not exist.');
    return found;
  }

  private async known({ submitter, key }: SubmittedBy, digest: string): Promise<IntakeVerdict | null> {
    const found = await this.manager.findOneBy(SubmissionEntity, { submitter, key });
    if (!found) return null;
    if (found.digest !== digest)
      throw new AppError(
        'key-used',
        `The key "${key}" was used for another movement. This movement was not kept. Send it with a new key.`,
      );
    return toVerdict(found);
  }

  private async write<Prepared>(
    manager: EntityManager,
    { entity, submission, judged, recorded, prepared, apply }: Writing<Prepared>,
  ): Promise<IntakeVerdict> {
    const incident = await this.recorder.record(manager, judged, recorded);
    await this.approvals.use(manager, judged.verdict, entity.movementId);
    const notice = entity.notice && { ...entity.notice, incident: incident ?? 0 };
    const written = { ...entity, incident, notice };
    await manager.insert(SubmissionEntity, written);
    const terms = incident === null ? null : pendingTerms(judged.verdict, judged.set, notice, judged.at);
    if (incident !== null && terms)
      await this.pending.add(manager, {
        ...terms,
        id: entity.id,
        movementId: entity.movementId,
        incidentNumber: incident,
        channel: submission.channel,
        person: isKnown(submission.person) ? submission.person.id : NOBODY,
        since: judged.at,
        words: '',
      });
    const verdict = toVerdict(written);
    await apply?.(manager, verdict, { judged, prepared });
    if (incident !== null) this.live.publish({ kind: 'incident-recorded', number: incident });
    return verdict;
  }

  /** Of what was handed in, and not of what the directory and the labels say about it meanwhile. */
  private async digestOf(submission: Submission): Promise<string> {
    const { at: _at, own: _own, labels: _labels, handles: _handles, made: _made, ...rest } = submission;
    const { machine, person, files, mail, pictures: _pictures, ...given } = rest;
    const digest = createHmac('sha256', this.config.keys.installation).update('an attempt');
    digest.update(JSON.stringify([person.address, machine?.name ?? null, given]));
    for (const { name, bytes } of files)
      await hashInSlices(digest.update(`\n${name}\n${bytes.length}\n`), bytes);
    if (mail) await hashInSlices(digest.update(`\nmail\n${mail.length}\n`), mail);
    return digest.digest('hex');
  }
}

function toEntity(
  { submitter, key }: SubmittedBy,
  digest: string,
  { channel, person }: Submission,
  judged: JudgedSubmission,
): SubmissionEntity {
  return {
    id: randomUUID(),
    submitter,
    key,
    digest,
    channel,
    person: person.address,
    movementId: randomUUID(),
    incident: null,
    answer: judged.verdict.answer,
    state: stateAfter(judged.verdict),
    treatments: judged.verdict.treatments,
    label: setByRules(judged),
    recipients: recipientsOf(judged),
    notice: judged.notice,
    at: judged.at,
  };
}

/** The label that rules set and nobody chose. */
function setByRules({ label }: JudgedSubmission): IntakeVerdict['label'] {
  return label?.rule ? { id: label.label.id, name: label.label.name } : null;
}

/** What each recipient gets, where some rule that held is about some of them alone; else nothing. */
function recipientsOf({ verdict, movement }: JudgedSubmission): IntakeVerdict['recipients'] {
  // What a label forbids is forbidden for everybody it would go to.
  if (!isDivided(verdict) || verdict.forbidden) return [];
  const addresses = movement.recipients.map(({ address }) => address);
  return judgementsByRecipient(verdict, addresses).map(({ address, answer }) => ({
    address,
    goesOn: stateAfter({ answer }) === 'went-on',
  }));
}

function toVerdict(entity: SubmissionEntity): IntakeVerdict {
  const { id, key, answer, state, treatments, recipients, incident } = entity;
  const label: IntakeVerdict['label'] = entity.label;
  const notice: PersonNotice | null = entity.notice;
  return { id, key, answer, state, treatments, label, recipients, notice, incident };
}
