import type { LanternFileResult, LanternPart, LanternSet } from '@lantern/contracts';
import { NO_WIRE_FINDINGS } from '../inspection/wire-findings.js';
import { Injectable } from '@nestjs/common';
import { InspectionService, patternsKey } from '../inspection/inspection.service.js';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { labelsOf } from '../published/published-labels.js';
import { asMoved, labelsCarried } from '@lantern/files/inspect';
import { OwnPatternsService } from '../patterns/own-patterns.service.js';
import { PeopleService } from '../directory/people.service.js';
import { DraftSetService } from '../policies/draft-set.service.js';
import { setOf } from '../published/revision.entity.js';
import { setSeenBy } from '../published/silence.js';
import type { Caller } from '../platform/auth/permit.js';
import { PublishedRevision } from '../published/published-revision.js';

/** Text of one part that is sent back to be shown; findings behind it are counted, not shown. */
const SHOWN_CHARACTERS = 200_000;
/** Text of all parts together that is sent back: a file with thousands of parts is listed, not shown whole. */
const SHOWN_TOGETHER = 2_000_000;
/** Findings whose evidence is sent back; nobody reads more of them in a panel. */
const SHOWN_FINDINGS = 2_000;

@Injectable()
export class LanternService {
  constructor(
    private readonly own: OwnPatternsService,
    private readonly drafts: DraftSetService,
    private readonly published: PublishedRevision,
    private readonly people: PeopleService,
    private readonly inspection: InspectionService,
    private readonly labelDrafts: LabelDraftsService,
  ) {}

  /** Without the silent rules that this account may not see: what they would do is not shown to it. */
  async set(caller: Caller): Promise<LanternSet> {
    const revision = this.published.current;
    const { domains } = await this.people.getOrganisation();
    return {
      published: revision && {
        revision: revision.number,
        own: revision.document.patterns,
        set: setSeenBy(setOf(revision.document), caller),
        labels: labelsOf(revision.document),
      },
      drafts: {
        revision: null,
        own: await this.own.drafts(),
        set: setSeenBy(await this.drafts.set(), caller),
        labels: await this.labelDrafts.set(),
      },
      ownDomains: domains,
    };
  }

  async file(name: string, bytes: Uint8Array): Promise<LanternFileResult> {
    const lists = await this.own.drafts();
    const before = this.published.current?.document.patterns ?? [];
    const item = {
      texts: [],
      files: [{ role: 'attachment' as const, name, bytes }],
      keepTexts: SHOWN_CHARACTERS,
      keepTextsTogether: SHOWN_TOGETHER,
      evidence: SHOWN_FINDINGS,
    };
    const [inspected, published] = await Promise.all([
      this.inspection.look(patternsKey(lists), lists, item),
      this.inspection.look(patternsKey(before), before, { ...item, keepTexts: 0, evidence: 0 }),
    ]);
    const parts = inspected.parts.map(({ part, text, wire }, index): LanternPart => {
      if (part.status === 'unreadable') return { status: 'unreadable', path: part.path, reason: part.reason };
      return {
        status: 'read',
        path: part.path,
        rows: part.rows ?? 0,
        ...(part.inner === undefined ? {} : { inner: part.inner }),
        text: text ?? '',
        cut: part.characters > (text ?? '').length,
        findings: part.findings,
        others: wire,
        // Both readings give the same parts in the same order; one that could not finish a part found nothing in it.
        published: published.parts[index]?.wire ?? NO_WIRE_FINDINGS,
      };
    });
    const labels = labelsOf(this.published.current?.document);
    return {
      name,
      parts,
      facts: inspected.files[0] ?? { name, kind: 'other', bytes: bytes.length, misnamed: false },
      labels: asMoved(labelsCarried(labels, inspected.files, inspected.labels)),
    };
  }
}
