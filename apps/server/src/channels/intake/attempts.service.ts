import { createHmac, randomUUID } from 'node:crypto';
import type { IntakeVerdict, PersonNotice } from '@lantern/contracts';
import { CHANNELS, isDivided, judgementsByRecipient } from '@lantern/core';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { RecorderService } from '../../incidents/recorder.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { NOBODY, WaitingService } from '../../waiting/waiting.service.js';
import { type Attempt, Door, isKnown, type JudgedAttempt, stateAfter } from '../door.service.js';
import { Outcomes } from '../outcomes.js';
import { waitingTerms } from '../waiting-terms.js';
import { AttemptEntity } from './attempt.entity.js';

/** What is done in the same transaction with what was decided: a message is kept, a share is made. */
export type Applying = (manager: EntityManager, verdict: IntakeVerdict) => Promise<void>;
/** Learns of outcomes of its own attempts, within their transaction. */
export type Listener = (manager: EntityManager, verdict: IntakeVerdict) => Promise<void>;

/** Judges attempts, writes them down once, and knows where each stands. */
@Injectable()
export class AttemptsService implements OnModuleInit {
  private readonly listeners = new Map<string, Listener>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly door: Door,
    private readonly recorder: RecorderService,
    private readonly waiting: WaitingService,
    private readonly outcomes: Outcomes,
    private readonly live: LiveEvents,
  ) {}

  onModuleInit(): void {
    this.outcomes.register(CHANNELS, async (manager, { id, state, notice }) => {
      const found = await manager.findOneBy(AttemptEntity, { id });
      if (!found) return false;
      const changed = { ...found, state, notice: found.notice && { ...found.notice, ...notice } };
      await manager.save(AttemptEntity, changed);
      await this.listeners.get(found.agent)?.(manager, toVerdict(changed));
      return true;
    });
  }

  /** A channel of the house hears what became of its attempts. */
  listen(agent: string, listener: Listener): void {
    this.listeners.set(agent, listener);
  }

  /**
   * Judges once. The same key with the same movement gives what was answered the first time, also when both arrive
   * together; with another movement it is refused.
   */
  async take(
    { agent, key }: { readonly agent: string; readonly key: string },
    attempt: Attempt,
    apply: Applying = () => Promise.resolve(),
  ): Promise<IntakeVerdict> {
    const digest = this.digestOf(attempt);
    const known = await this.known(agent, key, digest);
    if (known) return known;
    const judged = await this.door.judge(attempt);
    try {
      const verdict = await this.manager.transaction((manager) =>
        this.write(manager, { agent, key, digest, attempt, judged, apply }),
      );
      if (verdict.incident !== null)
        this.live.publish({ kind: 'incident-recorded', number: verdict.incident });
      return verdict;
    } catch (error) {
      // The same key came in beside this one and was first.
      const first = isDuplicate(error) ? await this.known(agent, key, digest) : null;
      if (first) return first;
      throw error;
    }
  }

  async find(agent: string, id: string): Promise<IntakeVerdict> {
    return toVerdict(await this.get(agent, id));
  }

  /** Address of whoever moved it. */
  async personOf(agent: string, id: string): Promise<string> {
    return (await this.get(agent, id)).person;
  }

  /** The page that asks about it is open, or closes. */
  async page(agent: string, id: string, isOpen: boolean): Promise<IntakeVerdict> {
    const found = await this.get(agent, id);
    await this.waiting.page(id, isOpen, new Date());
    return toVerdict(found);
  }

  /** Asks somebody to let a blocked movement go; it waits with what the person wrote. */
  async askOverride(
    person: PersonEntity,
    { agent, id }: { agent: string; id: string },
    words: string,
  ): Promise<void> {
    const found = await this.get(agent, id);
    const { override } = found.notice ?? { override: null };
    if (found.state !== 'refused' || !override || found.incident === null || found.person !== person.address)
      throw new AppError('act-refused', 'Nobody can be asked to let this go.');
    const { incident, channel, movementId } = found;
    await this.manager.transaction(async (manager) => {
      const notice = found.notice && { ...found.notice, state: 'waiting' as const, decision: null };
      const changed = await manager.update(
        AttemptEntity,
        { id, state: 'refused' },
        { state: 'waiting', notice },
      );
      if (!changed.affected) throw new AppError('changed-meanwhile', 'Somebody was asked already.');
      await this.waiting.askOverride(manager, {
        id,
        movementId,
        incidentNumber: incident,
        channel,
        person,
        decides: override,
        words,
      });
      await this.listeners.get(agent)?.(manager, toVerdict({ ...found, state: 'waiting', notice }));
    });
    this.live.publish({ kind: 'incident-changed', number: incident });
  }

  private async get(agent: string, id: string): Promise<AttemptEntity> {
    const found = await this.manager.findOneBy(AttemptEntity, { id, agent });
    if (!found) throw new AppError('not-found', 'There is no such movement.');
    return found;
  }

  private async known(agent: string, key: string, digest: string): Promise<IntakeVerdict | null> {
    const found = await this.manager.findOneBy(AttemptEntity, { agent, key });
    if (!found) return null;
    if (found.digest !== digest)
      throw new AppError(
        'key-used',
        `The key "${key}" was used for another movement. Nothing was kept of this one; give it a key of its own.`,
      );
    return toVerdict(found);
  }

  private async write(
    manager: EntityManager,
    { agent, key, digest, attempt, judged, apply }: Written,
  ): Promise<IntakeVerdict> {
    const recorded = await this.recorder.record(manager, judged);
    const state = stateAfter(judged.verdict);
    const notice = judged.notice && { ...judged.notice, incident: recorded.incident ?? 0 };
    const entity: AttemptEntity = {
      id: randomUUID(),
      agent,
      key,
      digest,
      channel: attempt.channel,
      person: attempt.person.address,
      movementId: recorded.movementId,
      incident: recorded.incident,
      answer: judged.verdict.answer,
      state,
      treatments: judged.verdict.treatments,
      label: setByRules(judged),
      recipients: recipientsOf(judged),
      notice,
      at: judged.at,
    };
    await manager.insert(AttemptEntity, entity);
    const terms = recorded.incident === null ? null : waitingTerms(judged.verdict, judged.set, notice);
    if (recorded.incident !== null && terms)
      await this.waiting.add(manager, {
        ...terms,
        id: entity.id,
        movementId: recorded.movementId,
        incidentNumber: recorded.incident,
        channel: attempt.channel,
        person: isKnown(attempt.person) ? attempt.person.id : NOBODY,
        since: judged.at,
        words: '',
      });
    const verdict = toVerdict(entity);
    await apply(manager, verdict);
    return verdict;
  }

  /** Of what was handed in, and not of what the directory and the labels say about it meanwhile. */
  private digestOf({
    at: _at,
    own: _own,
    labels: _labels,
    machine,
    person,
    files,
    ...attempt
  }: Attempt): string {
    const digest = createHmac('sha256', this.config.evidenceKey).update('an attempt');
    digest.update(JSON.stringify([person.address, machine?.name ?? null, attempt]));
    for (const { name, bytes } of files) digest.update(`\n${name}\n${bytes.length}\n`).update(bytes);
    return digest.digest('hex');
  }
}

interface Written {
  readonly agent: string;
  readonly key: string;
  readonly digest: string;
  readonly attempt: Attempt;
  readonly judged: JudgedAttempt;
  readonly apply: Applying;
}

/** The label that rules set and nobody chose. */
function setByRules({ label }: JudgedAttempt): IntakeVerdict['label'] {
  return label?.rule ? { id: label.label.id, name: label.label.name } : null;
}

/** What each recipient gets, where some rule that held is about some of them alone; else nothing. */
function recipientsOf({ verdict, movement }: JudgedAttempt): IntakeVerdict['recipients'] {
  if (!isDivided(verdict)) return [];
  const addresses = movement.recipients.map(({ address }) => address);
  return judgementsByRecipient(verdict, addresses).map(({ address, answer }) => ({
    address,
    goesOn: stateAfter({ answer }) === 'went-on',
  }));
}

function toVerdict(entity: AttemptEntity): IntakeVerdict {
  const { id, key, answer, state, treatments, recipients, incident } = entity;
  const label: IntakeVerdict['label'] = entity.label;
  const notice: PersonNotice | null = entity.notice;
  return { id, key, answer, state, treatments, label, recipients, notice, incident };
}

function isDuplicate(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'code' in error && error.code === 'ER_DUP_ENTRY';
}
