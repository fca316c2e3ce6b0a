import { type Label, labelOfForeign, type MovedLabel } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InspectionService } from '../inspection/inspection.service.js';
import { labelsOf } from '../labels/published-labels.js';
import { PublishedRevision } from '../policies/published-revision.js';

/** Labels that files carry, of those the published set knows. */
@Injectable()
export class LabelsOfFiles {
  constructor(
    private readonly published: PublishedRevision,
    private readonly inspection: InspectionService,
  ) {}

  async of(files: readonly { readonly name: string; readonly bytes: Uint8Array }[]): Promise<Label[]> {
    const { labels } = labelsOf(this.published.current?.document);
    if (files.length === 0 || labels.length === 0) return [];
    const found = await this.inspection.labelsOf(files);
    return found
      .flatMap(({ own, foreign }) => [
        labels.find(({ id }) => id === own?.id) ?? null,
        ...foreign.map(({ field, value }) => labelOfForeign(labels, field, value)),
      ])
      .filter((label) => label !== null);
  }

  async carriedBy(
    files: readonly { readonly name: string; readonly bytes: Uint8Array }[],
  ): Promise<MovedLabel[]> {
    return (await this.of(files)).map(({ id, name }) => ({ id: String(id), name }));
  }
}
