import { createHash } from 'node:crypto';
import type { Comparison, DraftView, PublishRequest, RevisionView } from '@lantern/contracts';
import { labelGravity } from '@lantern/core/labels';
import { gravityOf } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { InspectionService } from '../inspection/inspection.service.js';
import { OwnPatternsService } from '../patterns/own-patterns.service.js';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { LabelTelling } from '../labels/label-telling.service.js';
import { Automations } from '../crossings/automations.service.js';
import { CrossingDrafts } from '../crossings/crossing-drafts.service.js';
import { crossingsOf } from '../published/published-crossings.js';
import { labelsOf } from '../published/published-labels.js';
import { SpecimensService } from '../patterns/specimens.service.js';
import { type Consent, TwoPeople } from '../accounts/access/two-people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { changesBetween, NOTHING } from './changes.js';
import { stable } from '../published/draft-state.js';
import { DraftSetService } from '../policies/draft-set.service.js';
import { type RevisionDocument, RevisionEntity, setOf } from '../published/revision.entity.js';
import { PublishedRevision } from '../published/published-revision.js';

@Injectable()
export class RevisionsService {
  /** Publishing is one at a time, so that every revision is a whole set that somebody looked at. */
  private publishing: Promise<unknown> = Promise.resolve();
  /** The outline of the drafts as they were last asked about. */
  private outlined: { readonly key: string; readonly outline: Omit<DraftView, 'broken'> } | undefined;

  constructor(
    @InjectRepository(RevisionEntity) private readonly revisions: Repository<RevisionEntity>,
    private readonly ownPatterns: OwnPatternsService,
    private readonly drafts: DraftSetService,
    private readonly published: PublishedRevision,
    private readonly inspection: InspectionService,
    private readonly live: LiveEvents,
    private readonly specimens: SpecimensService,
    private readonly labels: LabelDraftsService,
    private readonly crossings: CrossingDrafts,
    private readonly automations: Automations,
    private readonly telling: LabelTelling,
    private readonly twoPeople: TwoPeople,
  ) {}

  async list(): Promise<RevisionView[]> {
    const found = await this.revisions.find({
      select: {
        number: true,
        name: true,
        reason: true,
        publishedAt: true,
        publishedBy: true,
        brokenSpecimens: true,
      },
      order: { number: 'DESC' },
      take: 500,
    });
    return found.map(toView);
  }

  get(number: number): Promise<RevisionEntity> {
    return this.published.get(number);
  }

  /** What the drafts would change, and what keeps them from being published. */
  async draft(): Promise<DraftView> {
    return this.examined(await this.document());
  }

  /** The same without the specimens, which take a while: what the strip shows of the drafts. */
  async outline(): Promise<Omit<DraftView, 'broken'>> {
    const document = await this.document();
    const fingerprint = fingerprintOf(document);
    const before = this.published.current;
    const key = `${fingerprint} ${before?.number ?? 0}`;
    if (this.outlined?.key === key) return this.outlined.outline;
    const outline = {
      changes: changesBetween(before?.document ?? NOTHING, document),
      problems: await this.drafts.problems(setOf(document)),
      labelProblems: await this.labels.problems(labelsOf(document)),
      crossingProblems: await this.crossings.problems(crossingsOf(document)),
      follows: before?.number ?? null,
      fingerprint,
    };
    this.outlined = { key, outline };
    return outline;
  }

  private async examined(document: RevisionDocument): Promise<DraftView> {
    const before = this.published.current?.document ?? NOTHING;
    return {
      changes: changesBetween(before, document),
      problems: await this.drafts.problems(setOf(document)),
      labelProblems: await this.labels.problems(labelsOf(document)),
      crossingProblems: await this.crossings.problems(crossingsOf(document)),
      broken: await this.specimens.broken(document.patterns, before.patterns),
      follows: this.published.current?.number ?? null,
      fingerprint: fingerprintOf(document),
    };
  }

  /** What differs between two revisions, or between one and the drafts where `to` is null. */
  async compare(from: number, to: number | null): Promise<Comparison> {
    const before = (await this.get(from)).document;
    const after = to === null ? await this.document() : (await this.get(to)).document;
    return { from, to, changes: changesBetween(before, after) };
  }

  publish(request: PublishRequest, caller: Caller): Promise<RevisionView> {
    return this.oneAtATime(() => this.publishNow(request, caller));
  }

  /** Publishes what an old revision holds once more. The drafts stay as they are, and differ from it afterwards. */
  rollBack(number: number, reason: string, caller: Caller): Promise<RevisionView> {
    return this.oneAtATime(async () => {
      const old = await this.get(number);
      if (this.published.current?.number === number)
        throw new AppError('nothing-to-publish', `Revision ${number} is already in force.`);
      refuseProblems(await this.mustMend(old.document), `Revision ${number} cannot be published again`);
      const first = await this.twoPeople.demand('publish', `revision ${number}`, caller, WAITS);
      const name = `Back to ${number}: ${old.name}`.slice(0, 120);
      const fields = { name, reason, document: old.document, brokenSpecimens: [] };
      return this.putInForce(fields, publisher(first, caller));
    });
  }

  /** All that is drafted, as it stood at one moment: what somebody saves meanwhile is in it whole or not at all. */
  document(): Promise<RevisionDocument> {
    return this.revisions.manager.transaction(async () => ({
      patterns: await this.ownPatterns.drafts(),
      ...(await this.drafts.set()),
      labels: await this.labels.set(),
      crossings: await this.crossings.all(),
    }));
  }

  private oneAtATime(work: () => Promise<RevisionView>): Promise<RevisionView> {
    const next = this.publishing.then(work);
    this.publishing = next.catch(() => undefined);
    return next;
  }

  private async mustMend(document: RevisionDocument): Promise<number> {
    const problems = await this.drafts.problems(setOf(document));
    const labelProblems = await this.labels.problems(labelsOf(document));
    const crossingProblems = await this.crossings.problems(crossingsOf(document));
    return gravest({ problems, labelProblems, crossingProblems });
  }

  private async publishNow(request: PublishRequest, caller: Caller): Promise<RevisionView> {
    // Read once: what is checked is what is stored.
    const document = await this.document();
    const examined = await this.examined(document);
    const { changes, broken, follows, fingerprint } = examined;
    if (request.fingerprint !== undefined && request.fingerprint !== fingerprint)
      throw new AppError(
        'changed-meanwhile',
        'The drafts changed after you reviewed them. Nothing was published. Review them again.',
        { details: { revision: follows ?? 0 } },
      );
    if (request.follows !== undefined && request.follows !== (follows ?? 0)) {
      const newer = this.published.current;
      throw new AppError(
        'changed-meanwhile',
        `Revision ${newer?.number ?? 0} was published after you reviewed these changes. Nothing was published. Review the remaining changes.`,
        { details: { revision: newer?.number ?? 0 } },
      );
    }
    refuseProblems(gravest(examined), 'The drafts cannot be published');
    if (changes.length === 0)
      throw new AppError('nothing-to-publish', 'The drafts are the same as the published revision.');
    const seen = new Set(request.brokenSpecimens ?? []);
    if (broken.some(({ id }) => !seen.has(id)))
      throw new AppError(
        'specimens-change',
        `${broken.length} specimens would fail. Nothing was published. Fix the patterns, or confirm that you publish anyway.`,
        { details: { specimens: broken.length } },
      );
    const first = await this.twoPeople.demand('publish', fingerprint, caller, WAITS);
    const name = request.name.trim() || `Revision of ${new Date().toISOString().slice(0, 10)}`;
    const brokenSpecimens = [...new Set(broken.map((each) => each.name))];
    const fields = { name, reason: request.reason, document, brokenSpecimens };
    return this.putInForce(fields, publisher(first, caller));
  }

  /** One transaction, so that a server that dies here has published all of it, and told people, or nothing. */
  private async putInForce(
    fields: Pick<RevisionEntity, 'name' | 'reason' | 'document' | 'brokenSpecimens'>,
    publishedBy: string,
  ): Promise<RevisionView> {
    const publishedAt = new Date();
    const before = labelsOf(this.published.current?.document);
    const revision = await this.revisions.manager.transaction(async (manager) => {
      await this.telling.tell(manager, before, labelsOf(fields.document), publishedAt);
      return manager.save(this.revisions.create({ ...fields, publishedAt, publishedBy }));
    });
    this.published.swap(revision);
    this.inspection.refresh();
    this.live.publish({ kind: 'revision-published', revision: revision.number });
    // What runs and may no longer stops before anybody reads that the revision is in force.
    await this.automations.stopInBreach();
    return toView(revision);
  }
}

/** Room for the names of whoever published. */
const MOST_NAMES = 120;
const WAITS =
  'Your approval is kept for 24 hours. Nothing is published yet. A second person with the permission to publish must publish the same changes.';

/** Who put something in force: both, where it took two. */
const publisher = (first: Consent | null, { name }: Caller): string =>
  (first ? `${first.by} and ${name}` : name).slice(0, MOST_NAMES);

/** How many problems must be solved before publishing. */
function gravest({
  problems,
  labelProblems,
  crossingProblems,
}: Pick<DraftView, 'problems' | 'labelProblems' | 'crossingProblems'>): number {
  return (
    crossingProblems.filter(({ gravity }) => gravity === 'must').length +
    problems.filter(({ problem }) => gravityOf(problem.code) === 'must').length +
    labelProblems.filter(({ code }) => labelGravity(code) === 'must').length
  );
}

function fingerprintOf(document: RevisionDocument): string {
  return createHash('sha256').update(stable(document)).digest('hex');
}

function refuseProblems(problems: number, what: string): void {
  if (problems === 0) return;
  const count = problems === 1 ? 'one thing must' : `${problems} things must`;
  throw new AppError('problems-remain', `${what}: ${count} be fixed first. Nothing was published.`, {
    details: { problems },
  });
}

function toView(revision: RevisionEntity): RevisionView {
  const { number, name, reason, publishedBy, brokenSpecimens } = revision;
  return {
    number,
    name,
    reason,
    publishedAt: revision.publishedAt.toISOString(),
    publishedBy,
    brokenSpecimens,
  };
}
