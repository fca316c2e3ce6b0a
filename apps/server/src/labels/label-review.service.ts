import { createHash, randomUUID } from 'node:crypto';
import type {
  ImportLabelsResult,
  LabelReview,
  LabelSetText,
  SignOffRequest,
  SignOffView,
} from '@lantern/contracts';
import { changesForPeople, disagreements, labelGravity, type WholeLabelSet } from '@lantern/core/labels';
import { readLabelSet, writeLabelSet } from '@lantern/set-files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { factsOf, PeopleService } from '../directory/people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { PatternNames } from '../patterns/pattern-names.js';
import { stable, stateOf } from '../published/draft-state.js';
import { PublishedRevision } from '../published/published-revision.js';
import { LabelDraftsService } from './label-drafts.service.js';
import { SignOffEntity } from './label.entity.js';
import { labelsOf } from '../published/published-labels.js';

/** Offers that begin later change something on their day: looked at far enough ahead, all of them have begun. */
const FAR_AHEAD_MS = 10 * 365 * 86_400_000;
/** People listed in a review; the count says how many there are. */
const MOST_PEOPLE = 5_000;

/** What publishing labels would change, what the business says about them, and the set as a file. */
@Injectable()
export class LabelReviewService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly drafts: LabelDraftsService,
    private readonly names: PatternNames,
    private readonly people: PeopleService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async review(): Promise<LabelReview> {
    const set = await this.drafts.set();
    const people = await this.people.all();
    const names = new Map(people.map(({ address, name }) => [address, name]));
    const offerNames = new Map(set.offers.map(({ id, name }) => [String(id), name]));
    const facts = people.map(factsOf);
    const changed = changesForPeople(
      labelsOf(this.published.current?.document),
      set,
      facts,
      Date.now() + FAR_AHEAD_MS,
    );
    return {
      problems: await this.drafts.problems(set),
      people: changed.slice(0, MOST_PEOPLE).map(({ offer, ...change }) => ({
        ...change,
        name: names.get(change.address) ?? change.address,
        from: offer?.from ?? null,
        telling: offer?.telling ?? '',
      })),
      disagreements: disagreements(set.offers, facts).map(({ carrier, first, second, people: both }) => ({
        carrier,
        first: offerNames.get(first) ?? first,
        second: offerNames.get(second) ?? second,
        people: both.map((address) => names.get(address) ?? address),
      })),
      signOffs: await this.signOffs(set),
      fingerprint: fingerprintOf(set),
    };
  }

  async sign({ agrees, words, fingerprint }: SignOffRequest, caller: Caller): Promise<SignOffView[]> {
    const set = await this.drafts.set();
    if (fingerprint !== fingerprintOf(set))
      throw new AppError(
        'changed-meanwhile',
        'The labels changed after you read them. Nothing was recorded. Read them again.',
      );
    if (!agrees && words.trim() === '')
      throw new AppError('invalid-request', 'Say what is wrong, so that the authors can fix it.', {
        fields: [{ field: 'words', message: 'must not be empty' }],
      });
    await this.manager.insert(SignOffEntity, { fingerprint, at: new Date(), by: caller.name, agrees, words });
    this.live.publish({ kind: 'drafts-changed' });
    return this.signOffs(set);
  }

  async text(): Promise<LabelSetText> {
    const set = await this.drafts.set();
    return { text: writeLabelSet(set, await this.patternNames()), fingerprint: fingerprintOf(set) };
  }

  /** Puts a file in the place of the drafts, or only says what would change. */
  async read(text: string, onlyLook: boolean, caller: Caller): Promise<ImportLabelsResult> {
    const before = await this.drafts.set();
    const parts = { labels: before.labels, offers: before.offers, automatic: before.automatic };
    const reading = readLabelSet(text, {
      patterns: await this.patternNames(),
      knowsPatterns: true,
      idFor: (kind, name) => {
        const known: readonly { id: string; name: string }[] = parts[kind];
        return known.find((each) => each.name.trim() === name.trim())?.id ?? randomUUID();
      },
    });
    if (reading.status === 'faulty') return { faults: reading.faults, changes: [] };
    const changes = (['labels', 'offers', 'automatic'] as const).flatMap((kind) =>
      changesOf(kind, parts[kind], reading.set[kind]),
    );
    if (!onlyLook && changes.length > 0) await this.drafts.replace(reading.set, caller);
    return { faults: [], changes };
  }

  /** How many things keep the drafts from being published. */
  async mustMend(set: WholeLabelSet): Promise<number> {
    return (await this.drafts.problems(set)).filter(({ code }) => labelGravity(code) === 'must').length;
  }

  private async patternNames(): Promise<{ id: string; name: string }[]> {
    return [...(await this.names.all())]
      .filter(([id]) => /^[0-9a-f]{8}-/.test(id))
      .map(([id, name]) => ({ id, name }));
  }

  private async signOffs(set: WholeLabelSet): Promise<SignOffView[]> {
    const fingerprint = fingerprintOf(set);
    const rows = await this.manager.find(SignOffEntity, { order: { id: 'DESC' }, take: 50 });
    return rows.map(({ by, at, agrees, words, fingerprint: of }) => ({
      by,
      at: at.toISOString(),
      agrees,
      words,
      current: of === fingerprint,
    }));
  }
}

/** Changes whenever labels or offers do: what the business reads. */
export function fingerprintOf({ labels, offers }: WholeLabelSet): string {
  return createHash('sha256').update(stable({ labels, offers })).digest('hex');
}

function changesOf(
  kind: string,
  before: readonly { readonly id: string; readonly name: string }[],
  after: readonly { readonly id: string; readonly name: string }[],
): ImportLabelsResult['changes'] {
  const changed = after.flatMap((thing) => {
    const state = stateOf(thing, before);
    return state === 'published' || state === 'removed' ? [] : [{ kind, name: thing.name, state }];
  });
  const gone = before.filter((thing) => !after.some(({ id }) => id === thing.id));
  return [...changed, ...gone.map(({ name }) => ({ kind, name, state: 'removed' as const }))];
}
