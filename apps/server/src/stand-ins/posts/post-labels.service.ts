import type { IntakeVerdict } from '@lantern/contracts';
import { type ItemOnItsWay, type Label, mayDo, type StandingLabel } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { labelStep, type LabelWish } from '../../labels/label-step.js';
import { LabelsAtWork } from '../../labels/labels-at-work.service.js';
import { labelById } from '../../published/published-labels.js';
import { handlerOf, type Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { LabelOfPost, PostWindow, PostEntity } from './post.entity.js';

/** Where what people put can carry a label of its own: a message of the chat. */
const CARRIES: Readonly<Record<PostWindow, boolean>> = {
  chat: true,
  browser: false,
  endpoint: false,
  business: false,
};

/** Labels of messages: chosen, set by rules or by a verdict, and what they let their readers do. */
@Injectable()
export class PostLabels {
  constructor(private readonly labels: LabelsAtWork) {}

  /** The label of something new. */
  chosen(
    window: PostWindow,
    player: Player,
    {
      label,
      ofParts: ofFiles,
      at,
    }: { readonly label?: string | null; readonly ofParts: readonly Label[]; readonly at: Date },
  ): ItemOnItsWay['own'] {
    if (!CARRIES[window]) return null;
    const choice = { person: player.person, carrier: 'chat' as const, at, ofFiles };
    return this.labels.chosen({ ...choice, ...(label === undefined ? {} : { label }) });
  }

  /** The label of something that is written anew: as it was, or as its author wants it now. */
  changed(before: LabelOfPost | null, { label, reason }: LabelWish, player: Player): ItemOnItsWay['own'] {
    const { set } = this.labels;
    // What a rule set is asked about anew.
    const stood = before?.over === undefined ? before : before.over;
    const known = labelById(set, stood?.id);
    const asBefore: ItemOnItsWay['own'] = known && { label: known, how: stood?.how ?? 'by-hand' };
    if (label === undefined || label === (before?.id ?? null)) return asBefore;
    const offered = this.labels.offered(player.person, 'chat');
    const step = labelStep({ label, ...(reason ? { reason } : {}) }, { label: before }, set, offered);
    if (step.waits)
      throw new AppError(
        'act-refused',
        'A lower label needs a colleague’s agreement, which is not possible for messages. Nothing was changed. Write a new message with the label it needs.',
      );
    return step.after && { label: step.after, how: 'by-hand' };
  }

  /** The label with which it stands after a verdict; what is withheld keeps its own. */
  after(own: ItemOnItsWay['own'], verdict: IntakeVerdict): StandingLabel | null {
    if (verdict.state === 'refused') return own && { ...own, rule: null };
    return this.labels.after(own, verdict);
  }

  async record(
    manager: EntityManager,
    { id, author }: Pick<PostEntity, 'id' | 'author'>,
    {
      before,
      after,
      reason = '',
    }: {
      readonly before: LabelOfPost | null;
      readonly after: StandingLabel | null;
      /** Why it goes down, in its author's words. */
      readonly reason?: string;
    },
  ): Promise<void> {
    await this.labels.record(manager, {
      carrier: 'chat',
      // What was written is content and is not written down here.
      item: 'a message',
      itemId: id,
      by: author,
      at: new Date(),
      before,
      after,
      reason,
    });
  }

  colourOf(label: LabelOfPost): string {
    return this.labels.colourOf(label.id);
  }

  /** Why a reader may not read something; null where they may. */
  closed(
    { author, at }: Pick<PostEntity, 'author' | 'at'>,
    label: LabelOfPost | null,
    reader: Player,
  ): string | null {
    const known = labelById(this.labels.set, label?.id);
    if (!known || reader.address === author) return null;
    const item = { owner: author, handling: known.handling, since: at.getTime(), named: {} };
    return mayDo('read', handlerOf(reader), item, Date.now()).allowed
      ? null
      : `Its label "${known.name}" does not let you read it. Ask its author.`;
  }
}

/** A label as a thing keeps it. */
export function kept(
  standing: StandingLabel | null,
  own: ItemOnItsWay['own'],
  byRules: IntakeVerdict['label'],
): LabelOfPost | null {
  if (!standing) return null;
  const label = remembered(standing);
  return byRules?.id === label.id ? { ...label, over: own && remembered(own) } : label;
}

function remembered({ label, how }: Omit<StandingLabel, 'rule'>): LabelOfPost {
  return { id: label.id, name: label.name, rank: label.rank, how };
}
