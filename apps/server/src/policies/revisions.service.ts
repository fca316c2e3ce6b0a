import type { DraftChange, DraftView, PublishRequest, RevisionView } from '@lantern/contracts';
import type { OwnPattern, Policy } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { InspectionService } from '../inspection/inspection.service.js';
import { OwnPatternsService } from '../patterns/own-patterns.service.js';
import { SpecimensService } from '../patterns/specimens.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { stateOf } from './draft-state.js';
import { PoliciesService } from './policies.service.js';
import { type RevisionDocument, RevisionEntity } from './policy.entity.js';
import { PublishedRevision } from './published-revision.js';

@Injectable()
export class RevisionsService {
  /** Publishing is one at a time, so that every revision is a whole set that somebody looked at. */
  private publishing: Promise<unknown> = Promise.resolve();

  constructor(
    @InjectRepository(RevisionEntity) private readonly revisions: Repository<RevisionEntity>,
    private readonly ownPatterns: OwnPatternsService,
    private readonly policies: PoliciesService,
    private readonly published: PublishedRevision,
    private readonly inspection: InspectionService,
    private readonly live: LiveEvents,
    private readonly specimens: SpecimensService,
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

  async get(number: number): Promise<RevisionEntity> {
    const revision = await this.revisions.findOneBy({ number });
    if (!revision) throw new AppError('not-found', `There is no revision ${number}.`);
    return revision;
  }

  /** What the drafts would change, and what keeps them from being published. */
  async draft(): Promise<DraftView> {
    const document = await this.document();
    const before = this.published.current?.document ?? { patterns: [], policies: [] };
    const problems = (await this.policies.list()).flatMap((view) =>
      view.problems.map((problem) => ({ policy: view.policy.id, problem })),
    );
    return {
      changes: [
        ...patternChanges(before.patterns, document.patterns),
        ...policyChanges(before.policies, document.policies),
      ],
      problems,
      broken: await this.specimens.broken(document.patterns, before.patterns),
    };
  }

  publish(request: PublishRequest, caller: Caller): Promise<RevisionView> {
    const next = this.publishing.then(() => this.publishNow(request, caller));
    this.publishing = next.catch(() => undefined);
    return next;
  }

  private async publishNow(request: PublishRequest, caller: Caller): Promise<RevisionView> {
    const { changes, problems, broken } = await this.draft();
    if (problems.length > 0) {
      throw new AppError(
        'problems-remain',
        `${problems.length} problems must be mended before the drafts can be published.`,
        { details: { problems: problems.length } },
      );
    }
    if (changes.length === 0)
      throw new AppError('nothing-to-publish', 'The drafts are the same as the published revision.');
    const seen = new Set(request.brokenSpecimens ?? []);
    if (broken.some(({ id }) => !seen.has(id)))
      throw new AppError(
        'specimens-change',
        `${broken.length} specimens no longer give what they should. Look at them, then mend the patterns or say that you publish all the same. Nothing was published.`,
        { details: { specimens: broken.length } },
      );
    const revision = await this.revisions.save(
      this.revisions.create({
        name: request.name.trim() || `Revision of ${new Date().toISOString().slice(0, 10)}`,
        reason: request.reason,
        document: await this.document(),
        publishedAt: new Date(),
        publishedBy: caller.name,
        brokenSpecimens: [...new Set(broken.map((each) => each.name))],
      }),
    );
    this.published.swap(revision);
    this.inspection.refresh();
    this.live.publish({ kind: 'revision-published', revision: revision.number });
    return toView(revision);
  }

  private async document(): Promise<RevisionDocument> {
    return { patterns: await this.ownPatterns.drafts(), policies: await this.policies.drafts() };
  }
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

function policyChanges(before: readonly Policy[], after: readonly Policy[]): DraftChange[] {
  const changed = after.flatMap((policy): DraftChange[] => {
    const state = stateOf(policy, before);
    if (state === 'published' || state === 'removed') return [];
    const previous = before.find((other) => other.id === policy.id) ?? null;
    return [{ subject: 'policy', id: policy.id, name: policy.name, state, before: previous, after: policy }];
  });
  const removed = before
    .filter((policy) => !after.some((other) => other.id === policy.id))
    .map((policy): DraftChange => ({
      subject: 'policy',
      id: policy.id,
      name: policy.name,
      state: 'removed',
      before: policy,
      after: null,
    }));
  return [...changed, ...removed];
}

function patternChanges(before: readonly OwnPattern[], after: readonly OwnPattern[]): DraftChange[] {
  const entry = (list: OwnPattern, state: DraftChange['state']): DraftChange => ({
    subject: 'pattern',
    id: list.id,
    name: list.name,
    state,
    before: null,
    after: null,
  });
  const changed = after.flatMap((list) => {
    const state = stateOf(list, before);
    return state === 'published' || state === 'removed' ? [] : [entry(list, state)];
  });
  const removed = before
    .filter((list) => !after.some((other) => other.id === list.id))
    .map((list) => entry(list, 'removed'));
  return [...changed, ...removed];
}
