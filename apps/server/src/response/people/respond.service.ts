import { createHash, randomBytes, randomUUID } from 'node:crypto';
import type { ResponsePreview, ResponseRequest, ResponseResult, ResponseTemplate } from '@lantern/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PeopleService } from '../../directory/people.service.js';
import type { PersonEntity } from '../../directory/person.entity.js';
import { HistoryEntity, IncidentEntity, MovementEntity } from '../../incidents/incident.entity.js';
import { destinationsOf } from '../../incidents/incident.mapper.js';
import { KnownNames } from '../../incidents/known-names.service.js';
import { demandVisible } from '../../incidents/visible.js';
import { openTitle } from '../../incidents/titles.js';
import { movementKey } from '../../platform/keys/movement-keys.js';
import type { Caller } from '../../platform/auth/permit.js';
import { sightOf } from '../../platform/auth/sight.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { InsideMail } from '../../platform/inside-mail.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { Hooks } from '../hooks/hooks.service.js';
import { SignOut } from '../sign-out.js';
import { TakeBack } from '../take-back.js';
import { QuestionEntity } from './question.entity.js';
import { filled, linkLine, templatesIn, type TextFields } from './texts.js';

const FROM = 'incidents@localhost';
const HOUR_MS = 3_600_000;

interface Addressed {
  readonly incident: IncidentEntity;
  readonly movement: MovementEntity;
  readonly person: PersonEntity | null;
}

/** Rolls the transaction of one response back; never leaves this file. */
class Undeliverable extends Error {}

/** Tells and asks people about incidents, and opens tickets: each response stands in the history with its result. */
@Injectable()
export class Responses {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly names: KnownNames,
    private readonly inside: InsideMail,
    private readonly hooks: Hooks,
    private readonly takeBack: TakeBack,
    private readonly signOut: SignOut,
    private readonly live: LiveEvents,
  ) {}

  /** Texts to begin with, in the language of the person of an incident. */
  async templates(number: number, caller: Caller): Promise<ResponseTemplate[]> {
    const { person } = await this.addressed(number, caller);
    return templatesIn(person?.language ?? 'en');
  }

  /** The mail as it would go out to the first incident of a request. */
  async preview(request: ResponseRequest, caller: Caller): Promise<ResponsePreview> {
    const addressed = await this.addressed(request.numbers[0] ?? 0, caller);
    const fields = await this.fields(addressed);
    const to = toOf(request, addressed);
    return {
      to,
      subject: filled(request.subject ?? '', fields),
      text: filled(request.text ?? '', fields),
      refusal: to === null ? (request.kind === 'tell-manager' ? 'no-manager' : 'not-in-directory') : null,
    };
  }

  /** Sends a response to each incident. If one cannot be sent, the others still are. */
  async send(request: ResponseRequest, caller: Caller): Promise<ResponseResult[]> {
    const results: ResponseResult[] = [];
    for (const number of request.numbers) {
      const reason = await this.sendOne(request, number, caller);
      results.push({ number, state: reason === null ? 'sent' : 'refused', reason });
    }
    return results;
  }

  private async sendOne(
    request: ResponseRequest,
    number: number,
    caller: Caller,
  ): Promise<ResponseResult['reason']> {
    const addressed = await this.addressed(number, caller).catch(() => null);
    if (!addressed) return 'not-found';
    if (request.kind === 'ticket') {
      return this.hooks.ticket(request.hook ?? '', number, caller.name).then(
        () => null,
        (error: unknown) => {
          if (error instanceof AppError && error.code === 'not-found') return 'not-found' as const;
          throw error;
        },
      );
    }
    if (request.kind === 'take-back') return this.takeBackOf(addressed, caller);
    if (request.kind === 'sign-out') return this.signOutOf(addressed, caller);
    const to = toOf(request, addressed);
    if (to === null) return request.kind === 'tell-manager' ? 'no-manager' : 'not-in-directory';
    const fields = await this.fields(addressed);
    const work = this.manager.transaction(async (manager) => {
      const subject = filled(request.subject ?? '', fields);
      const text = filled(request.text ?? '', fields);
      const line =
        request.kind === 'ask-person' ? await this.ask(manager, addressed, { request, text, caller }) : '';
      if (line === null) return 'already-asked';
      const body = line ? `${text}\n\n${line}` : text;
      const sent = await this.inside.send(manager, { from: FROM, to, subject, text: body, at: new Date() });
      if (!sent) throw new Undeliverable();
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber: number, at: new Date(), actor: caller.name, act: null, bulkId: null },
        accountId: caller.accountId || null,
        kind: request.kind === 'ask-person' ? 'question' : 'response',
        text: `${DONE[request.kind]} (${to}): ${subject}\n${text}`,
      });
      this.live.publish({ kind: 'incident-changed', number });
      return null;
    });
    // Nothing of it is kept, and the others of the request go on.
    return work.catch((error: unknown) => {
      if (error instanceof Undeliverable) return 'undeliverable';
      throw error;
    });
  }

  /** Withdraws what the movement gave; the history says how much that was. */
  private takeBackOf({ movement, incident }: Addressed, caller: Caller): Promise<ResponseResult['reason']> {
    const { number } = incident;
    return this.manager.transaction(async (manager) => {
      const taken = await this.takeBack.take(manager, movement.channel, movement.id);
      if (taken === 0) return 'nothing-to-take-back';
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber: number, at: new Date(), actor: caller.name, kind: 'response', act: null },
        accountId: caller.accountId || null,
        text:
          movement.channel === 'drive'
            ? `${taken} ${taken === 1 ? 'share' : 'shares'} withdrawn`
            : 'What it gave was taken back',
      });
      this.live.publish({ kind: 'incident-changed', number });
      return null;
    });
  }

  /** Ends all sign-ins of the person and their confirmed identity. Returns a reason if there was none. */
  private signOutOf({ movement, incident }: Addressed, caller: Caller): Promise<ResponseResult['reason']> {
    const { number } = incident;
    return this.manager.transaction(async (manager) => {
      const ended = await this.signOut.end(manager, movement.personAddress, caller.name);
      if (ended === 0) return 'signed-in-nowhere';
      await manager.insert(HistoryEntity, {
        ...{ incidentNumber: number, at: new Date(), actor: caller.name, kind: 'response', act: null },
        accountId: caller.accountId || null,
        text: `Signed ${movement.personName} out: ${ended} ended`,
      });
      this.live.publish({ kind: 'incident-changed', number });
      return null;
    });
  }

  /** Opens a question and gives the line with its link; null where one is open already. */
  private async ask(
    manager: EntityManager,
    { incident, person, movement }: Addressed,
    {
      request,
      text,
      caller,
    }: { readonly request: ResponseRequest; readonly text: string; readonly caller: Caller },
  ): Promise<string | null> {
    const { number } = incident;
    const locked = await manager.findOne(IncidentEntity, {
      where: { number },
      lock: { mode: 'pessimistic_write' },
    });
    if (!locked || (await manager.existsBy(QuestionEntity, { incidentNumber: number, state: 'open' })))
      return null;
    const token = randomBytes(24).toString('base64url');
    const deadline = new Date(Date.now() + (request.hours ?? 48) * HOUR_MS);
    await manager.insert(QuestionEntity, {
      id: randomUUID(),
      incidentNumber: number,
      tokenHash: createHash('sha256').update(token).digest('hex'),
      at: new Date(),
      actor: caller.name,
      person: movement.personAddress,
      personName: movement.personName,
      text,
      deadline,
      state: 'open',
      reply: null,
      repliedAt: null,
    });
    if (locked.status !== 'decided')
      await manager.update(
        IncidentEntity,
        { number },
        { status: 'waiting', assignee: locked.assignee ?? caller.name, version: locked.version + 1 },
      );
    const until = deadline.toISOString().slice(0, 16).replace('T', ' ');
    return linkLine(person?.language ?? 'en', `${this.config.address}/question/${token}`, `${until} UTC`);
  }

  private async addressed(number: number, caller: Caller): Promise<Addressed> {
    await demandVisible(this.manager, number, sightOf(caller));
    const incident = await this.manager.findOneBy(IncidentEntity, { number });
    if (!incident) throw new AppError('not-found', `There is no incident ${number}.`);
    const movement = await this.manager.findOneByOrFail(MovementEntity, { id: incident.movementId });
    const [person] = await this.people.findByAddresses([movement.personAddress]);
    return { incident, movement, person: person ?? null };
  }

  private async fields({ incident, movement }: Addressed): Promise<TextFields> {
    const key = await movementKey(this.manager, this.config.keys, movement.id);
    const found = incident.counts.map(
      ({ pattern, distinct }) => `${distinct} × ${this.names.nameOf('pattern', pattern)}`,
    );
    return {
      person: movement.personName,
      number: String(incident.number),
      time: `${movement.at.toISOString().slice(0, 16).replace('T', ' ')} UTC`,
      title: (await openTitle(key, movement)) ?? 'an item',
      found: found.join(', ') || 'content that a rule names',
      destination: destinationsOf(movement).join(', ') || 'its target',
    };
  }
}

const DONE = {
  'tell-person': 'Told the person',
  'tell-manager': 'Told the manager',
  'tell-address': 'Told',
  'ask-person': 'Asked the person',
  ticket: 'Ticket sent',
  'take-back': 'Taken back',
  'sign-out': 'Signed out',
} as const;

/** Receiver of a response; null if the directory does not know them. People outside are only told by address. */
function toOf(request: ResponseRequest, { person, movement }: Addressed): string | null {
  switch (request.kind) {
    case 'tell-person':
    case 'ask-person':
      return person?.address ?? null;
    case 'tell-manager':
      return person?.manager ?? movement.manager;
    case 'tell-address':
      return request.to ?? null;
    case 'ticket':
    case 'take-back':
    case 'sign-out':
      return null;
  }
}
