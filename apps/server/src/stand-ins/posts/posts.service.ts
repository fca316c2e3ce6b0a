import { randomUUID } from 'node:crypto';
import type { Activity, IntakeVerdict, ThingView } from '@lantern/contracts';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import type { LabelWish } from '../../labels/label-step.js';
import { PeopleService, type Player } from '../../directory/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { seal, sealJson, unseal, unsealJson } from '../../platform/sealing.js';
import { MovementJudge } from '../../movements/judge.service.js';
import type { Submission } from '../../movements/submission.js';
import { SubmissionEntity } from '../../movements/submission.entity.js';
import { Movements } from '../../movements/movements.service.js';
import { withoutValues } from '../../movements/notice/without-values.js';
import { kept, PostLabels } from './post-labels.service.js';
import {
  type KeptFile,
  POST_WINDOWS,
  type PostWindow,
  type PostContent,
  PostEntity,
  PostFileEntity,
} from './post.entity.js';

/** Of a post that nobody judged. */
const NO_SUBMISSION = '00000000-0000-0000-0000-000000000000';
/** Things of one place that are listed, newest last. */
const LISTED = 200;

export interface PostFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** How something is put somewhere, beside its content. */
export type Way = Omit<Submission, 'person' | 'at' | 'texts' | 'files'>;

export interface Putting {
  readonly window: PostWindow;
  readonly place: string;
  readonly player: Player;
  readonly way: Way;
  readonly activity: Activity;
  /** The program it was taken from; empty where it was typed. */
  readonly takenFrom: string;
  readonly text: string;
  readonly files: readonly PostFile[];
  /** The label that was chosen; null for none, left out where nobody was asked. */
  readonly label?: string | null;
  /** No agent can see it, so nobody judges it. */
  readonly unwatched?: boolean;
  /** Given by what writes the past; else now. */
  readonly at?: Date;
}

/** What people put into rooms, pages, programs and devices: shown to readers when its verdict lets it. */
@Injectable()
export class PostsService implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly movements: Movements,
    private readonly judge: MovementJudge,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly labels: PostLabels,
  ) {}

  onModuleInit(): void {
    for (const window of POST_WINDOWS)
      this.movements.listen(window, async (manager, verdict) => {
        const post = await manager.findOneBy(PostEntity, { submissionId: verdict.id });
        if (post) await manager.save(PostEntity, settled(post, verdict.state));
      });
  }

  async put(putting: Putting): Promise<ThingView> {
    if (putting.unwatched === true) return this.putUnwatched(putting);
    const { window, place, player, text, files } = putting;
    const id = randomUUID();
    const at = putting.at ?? new Date();
    const submission: Submission = {
      ...this.submissionOf(putting),
      chooses: (ofParts) => this.labels.chosen(window, player, { ...putting, ofParts, at }),
    };
    const keptFiles = await Promise.all(files.map((file) => this.keptFile(id, file)));
    await this.movements.submit<Buffer>({ submitter: window, key: id }, submission, {
      prepare: (verdict, { own }) => {
        const label = kept(this.labels.after(own, verdict), own, verdict.label);
        const named = files.map(({ name, bytes }, at) => ({
          name,
          size: bytes.length,
          id: keptFiles[at]?.id ?? '',
        }));
        return this.seal(id, { text, files: named, label });
      },
      apply: async (manager, verdict, { judged: { own }, prepared }) => {
        const post: PostEntity = {
          id,
          window,
          place,
          author: player.address,
          activity: putting.activity,
          takenFrom: putting.takenFrom,
          at,
          state: 'waiting',
          shown: null,
          pending: prepared,
          edits: 0,
          submissionId: verdict.id,
          reported: false,
        };
        await manager.insert(PostEntity, settled(post, verdict.state));
        for (const file of keptFiles) await manager.insert(PostFileEntity, file);
        await this.labels.record(manager, post, { before: null, after: this.labels.after(own, verdict) });
        this.live.publish({ kind: 'thing-changed', agent: window });
      },
    });
    return this.view(id, player);
  }

  /** Keeps what somebody typed where no agent looks: there is no movement of it. */
  private async putUnwatched({ window, place, player, activity, text }: Putting): Promise<ThingView> {
    const id = randomUUID();
    await this.manager.insert(PostEntity, {
      ...{ id, window, place, author: player.address, activity, takenFrom: '', at: new Date() },
      ...{ state: 'shown', pending: null, edits: 0, submissionId: NO_SUBMISSION, reported: false },
      shown: await this.seal(id, { text, files: [], label: null }),
    });
    this.live.publish({ kind: 'thing-changed', agent: window });
    return this.view(id, player);
  }

  /** Writes it anew: judged again as it then is. Until that goes through, readers see what they saw. */
  async edit(
    id: string,
    player: Player,
    { text, way, reason = '', ...wish }: { readonly text: string; readonly way: Way } & LabelWish,
  ): Promise<ThingView> {
    const post = await this.own(id, player);
    const { files, label: before = null } = await this.open(post);
    const bytes = await Promise.all(files.map((file) => this.fileOf(file)));
    const own = this.labels.changed(before, { ...wish, reason }, player);
    const key = `${id} ${post.edits + 1}`;
    const submission = this.submissionOf({ player, way: { ...way, own }, text, files: bytes });
    await this.movements.submit<Buffer>({ submitter: post.window, key }, submission, {
      prepare: (verdict) =>
        this.seal(id, { text, files, label: kept(this.labels.after(own, verdict), own, verdict.label) }),
      apply: async (manager, verdict, { prepared }) => {
        await this.labels.record(manager, post, { before, after: this.labels.after(own, verdict), reason });
        const next = { ...post, pending: prepared, edits: post.edits + 1, submissionId: verdict.id };
        const { shown, pending, state } = settled(next, verdict.state);
        // Whoever edited it meanwhile, in another window, was first.
        const saved = await manager.update(
          PostEntity,
          { id, edits: post.edits },
          { shown, pending, state, edits: next.edits, submissionId: verdict.id, reported: false },
        );
        if (!saved.affected) throw new AppError('changed-meanwhile', 'It was changed in another window.');
        this.live.publish({ kind: 'thing-changed', agent: post.window });
      },
    });
    return this.view(id, player);
  }

  /** The text without what the deciding rule found, for its author to go on with. Files stay as they are. */
  async cleaned(id: string, player: Player, way: Way): Promise<{ text: string; takenOut: number }> {
    const post = await this.own(id, player);
    const { text, label = null } = await this.open(post);
    const own = this.labels.changed(label, {}, player);
    const judged = await this.judge.judge(
      this.submissionOf({ player, way: { ...way, own }, text, files: [] }),
    );
    return withoutValues(text, judged);
  }

  async remove(id: string, player: Player): Promise<void> {
    const post = await this.own(id, player);
    if (post.state === 'waiting')
      throw new AppError('act-refused', 'A question is open. Answer it or cancel.');
    await this.manager.transaction(async (manager) => {
      await manager.delete(PostEntity, { id });
      await manager.delete(PostFileEntity, { postId: id });
    });
    this.live.publish({ kind: 'thing-changed', agent: post.window });
  }

  async list(window: PostWindow, place: string, reader: Player): Promise<ThingView[]> {
    const found = await this.manager.find(PostEntity, {
      where: { window, place },
      order: { at: 'DESC' },
      take: LISTED,
    });
    const seen = found.filter(({ author, shown }) => shown !== null || author === reader.address).reverse();
    return this.views(seen, reader);
  }

  async view(id: string, reader: Player): Promise<ThingView> {
    const post = await this.manager.findOneBy(PostEntity, { id });
    const [view] = post ? await this.views([post], reader) : [];
    if (!view) throw new AppError('not-found', 'This no longer exists.');
    return view;
  }

  /** A file of a post that this reader sees. */
  async file(id: string, index: number, reader: Player): Promise<PostFile> {
    const post = await this.manager.findOneBy(PostEntity, { id });
    const mine = post?.author === reader.address;
    const sealed = post && (mine ? (post.pending ?? post.shown) : post.shown);
    const content = post && sealed ? await this.unsealed(post.id, sealed) : undefined;
    const closed = post && content ? this.labels.closed(post, content.label ?? null, reader) : null;
    if (closed) throw new AppError('label-forbids', closed);
    const file = content?.files[index];
    if (!file) throw new AppError('not-found', 'This file no longer exists.');
    return this.fileOf(file);
  }

  /** The post of an author. */
  async own(id: string, player: Player): Promise<PostEntity> {
    const post = await this.manager.findOneBy(PostEntity, { id, author: player.address });
    if (!post) throw new AppError('not-found', 'This no longer exists.');
    return post;
  }

  async markReported(manager: EntityManager, id: string): Promise<void> {
    await manager.update(PostEntity, { id }, { reported: true });
  }

  private submissionOf({
    player,
    way,
    text,
    files,
    at,
  }: Pick<Putting, 'player' | 'way' | 'text' | 'files' | 'at'>): Submission {
    return {
      ...way,
      person: player.person ?? { address: player.address },
      at: at ?? new Date(),
      texts: text === '' ? [] : [{ role: 'body', path: ['text'], text }],
      files,
    };
  }

  private async views(things: readonly PostEntity[], reader: Player): Promise<ThingView[]> {
    const names = await this.people.namesOf(things.map(({ author }) => author));
    const attempts = await this.manager.findBy(SubmissionEntity, {
      id: In(things.map(({ submissionId }) => submissionId)),
    });
    const notices = new Map(attempts.map(({ id, notice }) => [id, notice]));
    const view = async (thing: PostEntity): Promise<ThingView> => {
      const mine = thing.author === reader.address;
      const content = await (mine ? this.open(thing) : this.unsealed(thing.id, thing.shown ?? thing.pending));
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
        files: (closed === null ? content.files : []).map((file) => ({
          name: file.name,
          size: sizeOf(file),
        })),
        state: mine ? thing.state : 'shown',
        edited: thing.edits > 0,
        stillShown:
          mine && thing.pending && thing.shown ? (await this.unsealed(thing.id, thing.shown)).text : null,
        notice: mine ? (notices.get(thing.submissionId) ?? null) : null,
        reported: mine && thing.reported,
      };
    };
    return Promise.all(things.map(view));
  }

  private open(post: PostEntity): Promise<PostContent> {
    return this.unsealed(post.id, post.pending ?? post.shown);
  }

  // Sealed under the word that posts once went by, so that what was kept before can be opened.
  private seal(id: string, content: PostContent): Promise<Buffer> {
    return sealJson(this.config.keys.installation, `thing ${id}`, content);
  }

  private async unsealed(id: string, sealed: Buffer | null): Promise<PostContent> {
    if (!sealed) return { text: '', files: [] };
    return (await unsealJson(this.config.keys.installation, `thing ${id}`, sealed)) as PostContent;
  }

  private async keptFile(postId: string, { bytes }: PostFile): Promise<PostFileEntity> {
    const id = randomUUID();
    return { id, postId, sealed: await seal(this.config.keys.installation, `post file ${id}`, bytes) };
  }

  private async fileOf(file: KeptFile): Promise<PostFile> {
    if ('base64' in file) return { name: file.name, bytes: Buffer.from(file.base64, 'base64') };
    const { sealed } = await this.manager.findOneByOrFail(PostFileEntity, { id: file.id });
    return {
      name: file.name,
      bytes: await unseal(this.config.keys.installation, `post file ${file.id}`, sealed),
    };
  }
}

/** Where a post stands after its verdict or an outcome: what goes on is what readers see. */
function settled(post: PostEntity, state: IntakeVerdict['state']): PostEntity {
  if (state === 'went-on')
    return { ...post, state: 'shown', shown: post.pending ?? post.shown, pending: null };
  return { ...post, state: state === 'waiting' ? 'waiting' : 'withheld' };
}

const sizeOf = (file: KeptFile): number =>
  'size' in file ? file.size : Math.floor((file.base64.length * 3) / 4);
