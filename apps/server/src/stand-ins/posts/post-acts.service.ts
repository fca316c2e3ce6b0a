import type { ThingView } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import type { Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { NOTE_WAY } from './ledger-notes.js';
import { ChatService } from './chat.service.js';
import { DeskService } from './desk.service.js';
import { Movements } from '../../movements/movements.service.js';
import { PersonAnswers, type SubmissionRef } from '../../movements/person-answers.service.js';
import type { LabelWish } from '../../labels/label-step.js';
import type { PostEntity } from './post.entity.js';
import { PostsService, type Way } from './posts.service.js';

/** What a person does about a post of theirs that was stopped or asked about. */
@Injectable()
export class PostActs {
  constructor(
    private readonly posts: PostsService,
    private readonly chat: ChatService,
    private readonly desk: DeskService,
    private readonly movements: Movements,
    private readonly answers: PersonAnswers,
  ) {}

  async edit(id: string, player: Player, change: { readonly text: string } & LabelWish): Promise<ThingView> {
    const post = await this.posts.own(id, player);
    if (post.state === 'waiting')
      throw new AppError('act-refused', 'A question is open. Answer it or cancel.');
    return this.posts.edit(id, player, { ...change, way: await this.wayOf(post, player) });
  }

  async takeOutValues(id: string, player: Player): Promise<ThingView> {
    const post = await this.posts.own(id, player);
    const { text, takenOut } = await this.posts.cleaned(id, player, await this.wayOf(post, player));
    if (takenOut === 0)
      throw new AppError(
        'act-refused',
        'The findings are in a file, not in the text. Change the file and try again.',
      );
    return this.edit(id, player, { text });
  }

  async reply(
    id: string,
    player: Player,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    await this.answers.reply(await this.refOf(id, player), reply);
  }

  /** The page that asks about it is open, or closes. */
  async page(id: string, player: Player, isOpen: boolean): Promise<void> {
    const { submitter, id: submission } = await this.refOf(id, player);
    await this.movements.page(submitter, submission, isOpen);
  }

  async askOverride(id: string, player: Player, words: string): Promise<void> {
    await this.answers.askOverride(await this.refOf(id, player), words);
  }

  async report(id: string, player: Player, words: string): Promise<void> {
    const ref = await this.refOf(id, player);
    await this.answers.report(ref, words, (manager) => this.posts.markReported(manager, id));
  }

  /** The submission that decided about what its author wrote last. */
  private async refOf(id: string, player: Player): Promise<SubmissionRef> {
    const { window, submissionId } = await this.posts.own(id, player);
    return { submitter: window, id: submissionId };
  }

  /** How it moves now: a room may have lost its guests since. */
  private async wayOf(post: PostEntity, player: Player): Promise<Way> {
    if (post.window === 'chat')
      return this.chat.wayOf(await this.chat.room(post.place, player), player, 'write');
    if (post.window === 'business') return NOTE_WAY;
    const { window: agent, activity, takenFrom } = post;
    return this.desk.wayOf(this.desk.target(agent, post.place), player, { agent, activity, takenFrom });
  }
}
