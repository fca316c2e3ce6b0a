import { randomUUID } from 'node:crypto';
import type { IntakeVerdict } from '@lantern/contracts';
import type { AssistantOffer, AssistantTalk } from '@lantern/contracts/crossings';
import { AUDIENCE_NAMES, type Assistant } from '@lantern/core/automations';
import type { ApplicationUse } from '@lantern/core/movement';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
  type OnModuleInit,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, MoreThan } from 'typeorm';
import { Automations } from '../../../crossings/automations.service.js';
import { PeopleService, type Player } from '../../../directory/people.service.js';
import { Movements } from '../../../movements/movements.service.js';
import type { Submission } from '../../../movements/submission.js';
import { SubmissionEntity } from '../../../movements/submission.entity.js';
import { afterCommit } from '../../../platform/database/transaction-context.js';
import { CONFIG, type Config } from '../../../platform/config.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { LiveEvents } from '../../../platform/live/live-events.js';
import { seal, unseal } from '../../../platform/sealing.js';
import { DriveLabels } from '../../drive/drive-labels.service.js';
import { handledPlaces, PlaceGuards } from '../../drive/places/place-guards.service.js';
import { AssistantSources, type Quoted, type SourcesRead } from './assistant-sources.service.js';
import { AssistantTalkEntity } from './assistant-talk.entity.js';

export const ASSISTANT_SUBMITTER = 'assistant';
/** An older question is not answered any more: nobody waits for it. */
const ANSWERED_WITHIN_MS = 24 * 3_600_000;
/** Questions that are listed. */
const LISTED = 50;

/** Answers people out of what an assistant reads. Question and answer are movements, each judged before it goes on. */
@Injectable()
export class Assistants implements OnModuleInit, OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger(Assistants.name);
  private answering = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly automations: Automations,
    private readonly movements: Movements,
    private readonly people: PeopleService,
    private readonly sources: AssistantSources,
    private readonly labels: DriveLabels,
    private readonly guards: PlaceGuards,
    private readonly live: LiveEvents,
  ) {}

  onModuleInit(): void {
    this.movements.listen(ASSISTANT_SUBMITTER, (manager, verdict) => this.settle(manager, verdict));
  }

  /** Questions that went on while the server was away are answered now. */
  onApplicationBootstrap(): void {
    this.answerWhatWentOn();
  }

  async onApplicationShutdown(): Promise<void> {
    await this.answering;
  }

  /** Assistants that are switched on, may run, and are for this person. */
  async offered(player: Player): Promise<AssistantOffer[]> {
    const all = await this.automations.list('published');
    const running = all.filter(({ kind, isOn, runs }) => kind === 'assistant' && isOn && runs);
    const views = await Promise.all(running.map(({ id }) => this.automations.get(id)));
    return views.flatMap(({ automation }) =>
      automation.kind === 'assistant' && isFor(automation, player) ? [offerOf(automation)] : [],
    );
  }

  /** Submits the question; where it goes on at once, the answer is submitted too. */
  async ask(automationId: string, player: Player, question: string): Promise<AssistantTalk> {
    const assistant = await this.demand(automationId, player);
    const id = randomUUID();
    const sealed = await seal(
      this.config.keys.installation,
      `assistant question ${id}`,
      Buffer.from(question),
    );
    await this.movements.submit(
      { submitter: ASSISTANT_SUBMITTER, key: id },
      {
        ...moved(assistant, player, 'question'),
        ...{ to: [], from: [], into: [{ kind: 'application', name: nameOf(assistant) }] },
        texts: [{ role: 'body', path: ['question'], text: question }],
        files: [],
      },
      {
        apply: async (manager, verdict) => {
          await manager.insert(AssistantTalkEntity, {
            ...{ id, automationId, person: player.address, at: new Date(), question: sealed, answer: null },
            ...{ questionSubmission: verdict.id, answerSubmission: null, reported: false },
            ...{ questionState: verdict.state, answerState: null },
          });
        },
      },
    );
    const talk = await this.own(id, player);
    if (talk.questionState === 'went-on') await this.answer(talk, assistant, player);
    this.live.publish({ kind: 'automations-changed' });
    return this.view(await this.own(id, player));
  }

  async list(automationId: string, player: Player): Promise<AssistantTalk[]> {
    const found = await this.manager.find(AssistantTalkEntity, {
      where: { automationId, person: player.address },
      order: { at: 'DESC' },
      take: LISTED,
    });
    return Promise.all(found.map((talk) => this.view(talk)));
  }

  /** The submission of the part of a talk that went last. */
  async refOf(id: string, player: Player): Promise<{ readonly submitter: string; readonly id: string }> {
    const { answerSubmission, questionSubmission } = await this.own(id, player);
    return { submitter: ASSISTANT_SUBMITTER, id: answerSubmission ?? questionSubmission };
  }

  async markReported(manager: EntityManager, id: string): Promise<void> {
    await manager.update(AssistantTalkEntity, { id }, { reported: true });
  }

  private async answer(talk: AssistantTalkEntity, assistant: Assistant, asker: Player): Promise<void> {
    const [person] = await this.people.findByAddresses([assistant.owner]);
    if (!person) throw new AppError('act-refused', 'Nobody answers for this assistant any more.');
    const owner: Player = { person, name: person.name, address: person.address, outside: false };
    const question = await this.opened('question', talk.id, talk.question);
    const read = await this.sources.search(assistant.sources, owner, question);
    const text = answerWords(read);
    const sealed = await seal(
      this.config.keys.installation,
      `assistant answer ${talk.id}`,
      Buffer.from(text),
    );
    await this.movements.submit(
      { submitter: ASSISTANT_SUBMITTER, key: `${talk.id} answer` },
      {
        ...moved(assistant, asker, 'answer'),
        ...{ to: [asker.address], ...(asker.outside ? { guests: [asker.address] } : {}) },
        from: [
          { kind: 'application', name: nameOf(assistant) },
          ...read.quoted.map(({ file }) => ({ kind: 'place' as const, path: `${file.folder}/${file.name}` })),
        ],
        texts: [{ role: 'body', path: ['answer'], text }],
        files: [],
        ...(await this.labelsOf(read.quoted, asker)),
      },
      {
        apply: async (manager, verdict) => {
          await manager.update(
            AssistantTalkEntity,
            { id: talk.id },
            { answer: sealed, answerSubmission: verdict.id, answerState: verdict.state },
          );
        },
      },
    );
  }

  /** The highest label of what is quoted is that of the answer; each label's terms ask about the asker. */
  private async labelsOf(
    quoted: readonly Quoted[],
    asker: Player,
  ): Promise<Pick<Submission, 'own' | 'labels' | 'handles' | 'places'>> {
    const moves = quoted.map(({ file }) => this.labels.movedWith(file));
    const ranked = moves.flatMap(({ own }) => (own ? [own] : []));
    const highest = ranked.sort((left, right) => right.label.rank - left.label.rank)[0];
    const places = await Promise.all(
      quoted.map(async ({ file }) =>
        handledPlaces(await this.guards.of(file.placeId), file.name, asker, { kind: file.kind }),
      ),
    );
    return {
      ...(highest ? { own: { label: highest.label, how: 'inherited' } } : {}),
      labels: moves.flatMap(({ labels = [] }) => labels),
      handles: moves.flatMap(({ handles = [] }) => handles),
      places: places.flat(),
    };
  }

  private async settle(manager: EntityManager, { id, state }: IntakeVerdict): Promise<void> {
    const asked = await manager.update(
      AssistantTalkEntity,
      { questionSubmission: id },
      { questionState: state },
    );
    if (!asked.affected)
      await manager.update(AssistantTalkEntity, { answerSubmission: id }, { answerState: state });
    this.live.publish({ kind: 'automations-changed' });
    if (asked.affected && state === 'went-on') afterCommit(() => this.answerWhatWentOn());
  }

  /** One after the other: a question that is answered already is left alone. */
  private answerWhatWentOn(): void {
    this.answering = this.answering
      .then(async () => {
        const open = await this.manager.findBy(AssistantTalkEntity, {
          ...{ questionState: 'went-on', answerSubmission: IsNull() },
          at: MoreThan(new Date(Date.now() - ANSWERED_WITHIN_MS)),
        });
        for (const talk of open) await this.answerLater(talk);
      })
      .catch((error: unknown) => {
        this.log.error(`Assistants could not answer: ${error instanceof Error ? error.name : 'unknown'}`);
      });
  }

  private async answerLater(talk: AssistantTalkEntity): Promise<void> {
    try {
      const asker = await this.askerOf(talk.person);
      await this.answer(talk, await this.demand(talk.automationId, asker), asker);
      this.live.publish({ kind: 'automations-changed' });
    } catch (error) {
      // The assistant was switched off, or is for others, since it was asked.
      if (!(error instanceof AppError)) throw error;
    }
  }

  private async askerOf(address: string): Promise<Player> {
    const [person] = await this.people.findByAddresses([address]);
    return this.people.player(person?.id ?? address);
  }

  private async demand(automationId: string, player: Player): Promise<Assistant> {
    const { automation, isOn, verdict } = await this.automations.get(automationId);
    if (automation.kind !== 'assistant' || !isOn || !verdict.runs)
      throw new AppError('act-refused', 'This assistant is switched off.');
    if (!isFor(automation, player))
      throw new AppError(
        'not-permitted',
        `This assistant is for ${AUDIENCE_NAMES[automation.audience]} only. Ask ${automation.owner}.`,
      );
    return automation;
  }

  private async own(id: string, player: Player): Promise<AssistantTalkEntity> {
    const found = await this.manager.findOneBy(AssistantTalkEntity, { id, person: player.address });
    if (!found) throw new AppError('not-found', 'This question does not exist.');
    return found;
  }

  private async view(talk: AssistantTalkEntity): Promise<AssistantTalk> {
    const { id, automationId, at, answer, answerState, questionState, reported } = talk;
    const ids = [talk.questionSubmission, ...(talk.answerSubmission ? [talk.answerSubmission] : [])];
    const submissions = await this.manager.findBy(SubmissionEntity, { id: In(ids) });
    const notices = ids.map((each) => submissions.find((one) => one.id === each)?.notice ?? null);
    return {
      ...{ id, assistant: automationId, at: at.toISOString(), reported },
      question: { text: await this.opened('question', id, talk.question), state: questionState },
      answer: answer &&
        answerState && {
          state: answerState,
          text: answerState === 'went-on' ? await this.opened('answer', id, answer) : null,
        },
      notice: notices.at(-1) ?? notices[0] ?? null,
    };
  }

  private async opened(part: 'question' | 'answer', id: string, sealed: Buffer): Promise<string> {
    const bytes = await unseal(this.config.keys.installation, `assistant ${part} ${id}`, sealed);
    return Buffer.from(bytes).toString('utf8');
  }
}

const nameOf = ({ name }: Assistant): string => `Assistant ${name}`;

const moved = (assistant: Assistant, player: Player, deed: 'question' | 'answer') => ({
  ...{ channel: 'business' as const, activity: deed, person: player.person ?? { address: player.address } },
  at: new Date(),
  use: { deed, by: 'screen', objects: [], report: assistant.name } satisfies ApplicationUse,
});

/** Whether an assistant is for somebody: people outside only where it is for anybody. */
export function isFor({ audience, owner, people = [] }: Assistant, player: Player): boolean {
  if (audience === 'anybody') return true;
  if (player.outside) return false;
  const address = player.address.toLowerCase();
  return audience === 'signed-in' || [owner, ...people].some((each) => each.toLowerCase() === address);
}

function offerOf({ id, name, owner, audience, sources }: Assistant): AssistantOffer {
  const reads = sources.map((source) =>
    source.kind === 'site' ? source.address : source.kind === 'service' ? source.service : source.name,
  );
  return { id, name, owner, audience, reads };
}

function answerWords({ quoted, unread }: SourcesRead): string {
  const found =
    quoted.length === 0
      ? ['I found nothing about this in what I read.']
      : quoted.map(({ file, text }) => `${file.name}:\n${text}`);
  const left = unread.length === 0 ? [] : [`Not read: ${unread.join('; ')}.`];
  return [...found, ...left].join('\n\n');
}
