import { randomUUID } from 'node:crypto';
import type { Activity, IntakeVerdict, ThingView } from '@lantern/contracts';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import type { LabelWish } from '../../labels/label-step.js';
import { PeopleService, type Player } from '../../people/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { sealJson, unseal } from '../../platform/sealing.js';
import { type Attempt, Door } from '../door.service.js';
import { AttemptEntity } from '../intake/attempt.entity.js';
import { AttemptsService } from '../intake/attempts.service.js';
import { withoutValues } from '../without-values.js';
import { kept, ThingLabels } from './thing-labels.service.js';
import { THING_AGENTS, type ThingAgent, type ThingContent, ThingEntity } from './thing.entity.js';

/** Things of one place that are listed, newest last. */
const LISTED = 200;

export interface ThingFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** How something is put somewhere, beside its content. */
export type Way = Omit<Attempt, 'person' | 'at' | 'texts' | 'files'>;

export interface Putting {
  readonly agent: ThingAgent;
  readonly place: string;
  readonly player: Player;
  readonly way: Way;
  readonly activity: Activity;
  /** The program it was taken from; empty where it was typed. */
  readonly takenFrom: string;
  readonly text: string;
  readonly files: readonly ThingFile[];
  /** The label that was chosen; null for none, left out where nobody was asked. */
  readonly label?: string | null;
  /** Given by what writes the past; else now. */
  readonly at?: Date;
}

/** What people put into rooms, pages, programs and devices: shown to readers when its verdict lets it. */
@Injectable()
export class ThingsService implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly attempts: AttemptsService,
    private readonly door: Door,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly labels: ThingLabels,
  ) {}

  onModuleInit(): void {
    for (const agent of THING_AGENTS)
      this.attempts.listen(agent, async (manager, verdict) => {
        const thing = await manager.findOneBy(ThingEntity, { attemptId: verdict.id });
        if (thing) await manager.save(ThingEntity, settled(thing, verdict.state));
      });
  }

  async put(putting: Putting): Promise<ThingView> {
    const { agent, place, player, text, files } = putting;
    const id = randomUUID();
    const at = putting.at ?? new Date();
    const own = await this.labels.chosen(agent, player, { ...putting, at });
    const attempt = this.attemptOf({ ...putting, way: { ...putting.way, own } });
    await this.attempts.take({ agent, key: id }, attempt, async (manager, verdict) => {
      const label = this.labels.after(own, verdict);
      const thing: ThingEntity = {
        id,
        agent,
        place,
        author: player.address,
        activity: putting.activity,
        takenFrom: putting.takenFrom,
        at,
        state: 'waiting',
        shown: null,
        pending: this.seal(id, { text, files: files.map(packed), label: kept(label, own, verdict.label) }),
        edits: 0,
        attemptId: verdict.id,
        reported: false,
      };
      await manager.insert(ThingEntity, settled(thing, verdict.state));
      await this.labels.record(manager, thing, { before: null, after: label });
    });
    this.live.publish({ kind: 'thing-changed', agent });
    return this.view(id, player);
  }

  /** Writes it anew: judged again as it then is. Until that goes through, readers see what they saw. */
  async edit(
    id: string,
    player: Player,
    { text, way, ...wish }: { readonly text: string; readonly way: Way } & LabelWish,
  ): Promise<ThingView> {
    const thing = await this.own(id, player);
    const { files, label: before = null } = this.open(thing);
    const own = this.labels.changed(before, wish, player);
    const key = `${id} ${thing.edits + 1}`;
    const attempt = this.attemptOf({ player, way: { ...way, own }, text, files: files.map(unpacked) });
    await this.attempts.take({ agent: thing.agent, key }, attempt, async (manager, verdict) => {
      const label = this.labels.after(own, verdict);
      const sealed = this.seal(id, { text, files, label: kept(label, own, verdict.label) });
      await this.labels.record(manager, thing, { before, after: label });
      const next = { ...thing, pending: sealed, edits: thing.edits + 1, attemptId: verdict.id };
      const { shown, pending, state } = settled(next, verdict.state);
      // Whoever edited it meanwhile, in another window, was first.
      const saved = await manager.update(
        ThingEntity,
        { id, edits: thing.edits },
        { shown, pending, state, edits: next.edits, attemptId: verdict.id, reported: false },
      );
      if (!saved.affected) throw new AppError('changed-meanwhile', 'It was changed in another window.');
    });
    this.live.publish({ kind: 'thing-changed', agent: thing.agent });
    return this.view(id, player);
  }

  /** The text without what the deciding rule found, for its author to go on with. Files stay as they are. */
  async cleaned(id: string, player: Player, way: Way): Promise<{ text: string; takenOut: number }> {
    const thing = await this.own(id, player);
    const { text, label = null } = this.open(thing);
    const own = this.labels.changed(label, {}, player);
    const judged = await this.door.judge(this.attemptOf({ player, way: { ...way, own }, text, files: [] }));
    return withoutValues(text, judged);
  }

  async remove(id: string, player: Player): Promise<void> {
    const thing = await this.own(id, player);
    if (thing.state === 'waiting')
      throw new AppError('act-refused', 'It waits for an answer; answer first, or take it back.');
    await this.manager.delete(ThingEntity, { id });
    this.live.publish({ kind: 'thing-changed', agent: thing.agent });
  }

  async list(agent: ThingAgent, place: string, reader: Player): Promise<ThingView[]> {
    const found = await this.manager.find(ThingEntity, {
      where: { agent, place },
      order: { at: 'DESC' },
      take: LISTED,
    });
    const seen = found.filter(({ author, shown }) => shown !== null || author === reader.address).reverse();
    return this.views(seen, reader);
  }

  async view(id: string, reader: Player): Promise<ThingView> {
    const thing = await this.manager.findOneBy(ThingEntity, { id });
    const [view] = thing ? await this.views([thing], reader) : [];
    if (!view) throw new AppError('not-found', 'This is not there any more.');
    return view;
  }

  /** A file of a thing that this reader sees. */
  async file(id: string, index: number, reader: Player): Promise<ThingFile> {
    const thing = await this.manager.findOneBy(ThingEntity, { id });
    const mine = thing?.author === reader.address;
    const sealed = thing && (mine ? (thing.pending ?? thing.shown) : thing.shown);
    const content = thing && sealed ? this.unsealed(thing.id, sealed) : undefined;
    const closed = thing && content ? this.labels.closed(thing, content.label ?? null, reader) : null;
    if (closed) throw new AppError('label-forbids', closed);
    const file = content?.files[index];
    if (!file) throw new AppError('not-found', 'This file is not there any more.');
    return unpacked(file);
  }

  /** The thing of an author, with the attempt that decided about it. */
  async own(id: string, player: Player): Promise<ThingEntity> {
    const thing = await this.manager.findOneBy(ThingEntity, { id, author: player.address });
    if (!thing) throw new AppError('not-found', 'This is not there any more.');
    return thing;
  }

  async markReported(manager: EntityManager, id: string): Promise<void> {
    await manager.update(ThingEntity, { id }, { reported: true });
  }

  private attemptOf({
    player,
    way,
    text,
    files,
    at,
  }: Pick<Putting, 'player' | 'way' | 'text' | 'files' | 'at'>): Attempt {
    return {
      ...way,
      person: player.person ?? { address: player.address },
      at: at ?? new Date(),
      texts: text === '' ? [] : [{ role: 'body', path: ['text'], text }],
      files,
    };
  }

  private async views(things: readonly ThingEntity[], reader: Player): Promise<ThingView[]> {
    const names = await this.people.namesOf(things.map(({ author }) => author));
    const attempts = await this.manager.findBy(AttemptEntity, {
      id: In(things.map(({ attemptId }) => attemptId)),
    });
    const notices = new Map(attempts.map(({ id, notice }) => [id, notice]));
    return things.map((thing): ThingView => {
      const mine = thing.author === reader.address;
      const content = mine ? this.open(thing) : this.unsealed(thing.id, thing.shown ?? thing.pending);
      const known = names.get(thing.author);
      const { label = null } = content;
      const closed = this.labels.closed(thing, label, reader);
      return {
        id: thing.id,
        at: thing.at.toISOString(),
        author: {
          name: known?.name ?? thing.author,
          address: thing.author,
          outside: known?.outside ?? true,
        },
        text: closed === null ? content.text : '',
        label: label && { id: label.id, name: label.name, colour: this.labels.colourOf(label) },
        closed,
        files: (closed === null ? content.files : []).map(({ name, base64 }) => ({
          name,
          size: Math.floor((base64.length * 3) / 4),
        })),
        state: mine ? thing.state : 'shown',
        edited: thing.edits > 0,
        stillShown: mine && thing.pending && thing.shown ? this.unsealed(thing.id, thing.shown).text : null,
        notice: mine ? (notices.get(thing.attemptId) ?? null) : null,
        reported: mine && thing.reported,
      };
    });
  }

  private open(thing: ThingEntity): ThingContent {
    return this.unsealed(thing.id, thing.pending ?? thing.shown);
  }

  private seal(id: string, content: ThingContent): Buffer {
    return sealJson(this.config.evidenceKey, `thing ${id}`, content);
  }

  private unsealed(id: string, sealed: Buffer | null): ThingContent {
    if (!sealed) return { text: '', files: [] };
    return JSON.parse(
      unseal(this.config.evidenceKey, `thing ${id}`, sealed).toString('utf8'),
    ) as ThingContent;
  }
}

/** Where a thing stands after its verdict or an outcome: what goes on is what readers see. */
function settled(thing: ThingEntity, state: IntakeVerdict['state']): ThingEntity {
  if (state === 'went-on')
    return { ...thing, state: 'shown', shown: thing.pending ?? thing.shown, pending: null };
  return { ...thing, state: state === 'waiting' ? 'waiting' : 'withheld' };
}

const packed = ({ name, bytes }: ThingFile) => ({ name, base64: Buffer.from(bytes).toString('base64') });
const unpacked = ({ name, base64 }: ThingContent['files'][number]): ThingFile => ({
  name,
  bytes: Buffer.from(base64, 'base64'),
});
