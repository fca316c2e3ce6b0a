import type { ChooserView, IntakeVerdict, LabelSuggestion } from '@lantern/contracts';
import {
  type Automatic,
  type Carrier,
  highest,
  type ItemOnItsWay,
  type Label,
  labelAfter,
  type LabelledHow,
  labelOnItsWay,
  labelShift,
  offeredTo,
  type Offered,
  type StandingLabel,
  suggestedLabel,
  type WholeLabelSet,
} from '@lantern/core/labels';
import { type LabelId } from '@lantern/core/shared';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { InspectionService } from '../inspection/inspection.service.js';
import { factsOf, type Player } from '../directory/people.service.js';
import type { PersonEntity } from '../directory/person.entity.js';
import { AppError } from '../platform/errors/app-error.js';
import { PublishedRevision } from '../published/published-revision.js';
import { chooserOf } from './carried-label.js';
import type { LabelChangeEntity } from './label-change.entity.js';
import { LabelChangesService } from './label-changes.service.js';
import { labelById, labelsOf } from '../published/published-labels.js';

/** Of a label that is carried and that the set no longer has. */
const UNKNOWN_COLOUR = '#5a6472';

/** What an item says, to be looked at by automatic rules. */
export interface Written {
  readonly texts: readonly string[];
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
}

interface Choice {
  readonly person: PersonEntity | null;
  readonly carrier: Carrier;
  readonly at: Date;
  /** What was chosen; null for none, left out where nobody was asked. */
  readonly label?: string | null;
  /** Labels of the parts of a whole. */
  readonly ofFiles: readonly Label[];
}

/** Labels as people at work meet them, on whatever they write: what they can choose, and what machines make of it. */
@Injectable()
export class LabelsAtWork {
  constructor(
    private readonly published: PublishedRevision,
    private readonly inspection: InspectionService,
    private readonly changes: LabelChangesService,
  ) {}

  get set(): WholeLabelSet {
    return labelsOf(this.published.current?.document);
  }

  /** What somebody is offered for a carrier now; people outside are offered nothing. */
  offered(person: PersonEntity | null, carrier: Carrier, at: Date = new Date()): Offered | null {
    return person && offeredTo(this.set, factsOf(person), carrier, at.getTime());
  }

  chooser({ person }: Pick<Player, 'person'>, carrier: Carrier): ChooserView {
    return chooserOf(this.offered(person, carrier), person?.language ?? 'en');
  }

  /** What a person chose for something they send, or the highest of its parts where the offer says so. */
  chosen(choice: Choice): Omit<StandingLabel, 'rule'> | null {
    const offered = this.offered(choice.person, choice.carrier, choice.at);
    if (!offered) return null;
    const chosen = labelById({ ...this.set, labels: offered.labels }, choice.label);
    if (choice.label && !chosen)
      throw new AppError('label-not-offered', 'You cannot choose this label. Nothing was sent.');
    const parts = offered.offer.follows === 'takes-highest' ? highest(choice.ofFiles) : null;
    const won = highest([chosen, parts]);
    if (!won && choice.label !== undefined && offered.offer.needs === 'a-label')
      throw new AppError('label-needed', 'Choose a label first. Nothing was sent, and nothing was lost.');
    return won && { label: won, how: won === chosen ? 'by-hand' : 'inherited' };
  }

  /** The label that a text calls for while it is written. Nothing of it is kept. */
  async suggested(
    owner: string,
    given: {
      readonly carrier: Carrier;
      readonly text: string;
      readonly label: string | null;
      readonly sharedOutside?: boolean;
    },
  ): Promise<LabelSuggestion | null> {
    if (this.set.automatic.length === 0) return null;
    const own = labelById(this.set, given.label);
    const found = suggestedLabel(this.set, {
      ...(await this.item({ texts: [given.text], files: [] })),
      carrier: given.carrier,
      own: own && { label: own, how: 'by-hand' },
      kind: given.carrier === 'document' ? 'office' : 'other',
      place: '',
      owner,
      sharedOutside: given.sharedOutside ?? false,
    });
    return found && toSuggestion(found);
  }

  /** The label with which something stands after automatic rules were asked about what was found in it. */
  standing(item: ItemOnItsWay): StandingLabel | null {
    if (this.set.automatic.length === 0) return item.own && { ...item.own, rule: null };
    return labelOnItsWay(this.set, item);
  }

  /** The same for texts that nobody has looked at yet. */
  async standingOf(
    texts: readonly string[],
    item: Omit<ItemOnItsWay, 'findings'>,
  ): Promise<StandingLabel | null> {
    if (this.set.automatic.length === 0) return item.own && { ...item.own, rule: null };
    return this.standing({ ...item, ...(await this.item({ texts, files: [] })) });
  }

  /** The label of something after its verdict: what rules set before it, and what its treatments set. */
  after(
    own: ItemOnItsWay['own'],
    { label, treatments }: Pick<IntakeVerdict, 'label' | 'treatments'>,
  ): StandingLabel | null {
    const byRules = labelById(this.set, label?.id);
    const before: StandingLabel | null = byRules
      ? { label: byRules, how: 'automatically', rule: null }
      : own && { ...own, rule: null };
    return labelAfter(this.set, before, treatments);
  }

  /** Keeps what became of a label with every other change of one; what stays the same is none. */
  async record(
    manager: EntityManager,
    {
      before,
      after,
      by,
      reason,
      how = after?.how ?? 'by-hand',
      ...item
    }: Pick<LabelChangeEntity, 'carrier' | 'item' | 'itemId' | 'by' | 'at' | 'reason'> & {
      readonly before: { readonly id: string; readonly name: string; readonly rank: number } | null;
      readonly after: StandingLabel | null;
      readonly how?: LabelledHow;
    },
  ): Promise<void> {
    const short = (label: { readonly id: string; readonly name: string; readonly rank: number } | null) =>
      label && { id: label.id, name: label.name, rank: label.rank };
    const shift = labelShift(before && { ...before, id: before.id as LabelId }, after?.label ?? null);
    if (shift === 'same') return;
    const rule = this.ruleName(after?.rule ?? null);
    await this.changes.record(manager, {
      ...item,
      by: rule ?? by,
      how,
      shift,
      runId: null,
      before: short(before),
      after: short(after?.label ?? null),
      reason: rule ? `Rule "${rule}"` : reason,
    });
  }

  colourOf(id: string): string {
    return labelById(this.set, id)?.colour ?? UNKNOWN_COLOUR;
  }

  /** Name of a rule, for whoever reads what it did. */
  ruleName(id: StandingLabel['rule']): string | null {
    return this.set.automatic.find((rule) => rule.id === id)?.name ?? null;
  }

  private async item({ texts, files }: Written): Promise<Pick<ItemOnItsWay, 'findings'>> {
    const { parts } = await this.inspection.inspect({
      texts: texts.map((text) => ({ role: 'body', path: ['text'], text })),
      files: files.map(({ name, bytes }) => ({ role: 'attachment', name, bytes })),
      keepTexts: 0,
    });
    return { findings: parts.flatMap(({ part }) => (part.status === 'read' ? part.findings : [])) };
  }
}

/** A label that something calls for, as its author reads it. */
export function toSuggestion({
  label,
  rule,
}: {
  readonly label: Label;
  readonly rule: Automatic;
}): LabelSuggestion {
  return { label: label.id, name: label.name, rule: rule.name, applied: rule.does === 'apply' };
}
