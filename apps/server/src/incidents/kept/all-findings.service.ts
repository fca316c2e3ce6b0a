import type { EvidencePart } from '@lantern/contracts';
import { PART_ROLES, type PartRole } from '@lantern/core/movement';
import { patternsOfRule } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InspectionService } from '../../inspection/inspection.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { toEvidenceParts, toStoredEvidence } from '../evidence.js';
import { KeptCopies } from './kept-copies.service.js';
import { unpacked } from './packing.js';

const roleOf = (role: string): PartRole => PART_ROLES.find((known) => known === role) ?? 'body';

/** Everything that was found in an incident, and not only the first of it that is kept as evidence. */
@Injectable()
export class AllFindings {
  constructor(
    private readonly copies: KeptCopies,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
  ) {}

  /**
   * Reads the original again with the patterns of its revision, and gives what stands around each finding, masked. Throws
   * `not-found` where no original is kept.
   */
  async of({
    movementId,
    revision,
  }: {
    readonly movementId: string;
    readonly revision: number | null;
  }): Promise<EvidencePart[]> {
    const archive = await this.copies.original(movementId);
    if (!archive)
      throw new AppError('not-found', 'The original is not kept, so only the first findings can be shown.');
    const { texts, files, mail } = unpacked(archive);
    const document = revision === null ? null : (await this.published.get(revision)).document;
    const rules = document?.policies.flatMap((policy) => policy.rules) ?? [];
    const item = {
      texts: texts.map(({ role, text }) => ({ role: roleOf(role), path: [role], text })),
      files: files.map((file) => ({ role: 'attachment' as const, ...file })),
      ...(mail ? { mail } : {}),
      ...{ keepTexts: 0, allExcerpts: true },
    };
    const wanted = [...new Set(rules.flatMap(patternsOfRule))];
    const read = await this.inspection.inspectWith(
      `revision ${revision ?? 0}`,
      document?.patterns ?? [],
      item,
      wanted,
    );
    return toEvidenceParts(toStoredEvidence(read.parts), false);
  }
}
