import { labelsOf, labelById } from '../published-labels.js';
import { emptyDocx, writeDocxParagraphs, writeFileLabel } from '@lantern/files';
import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import type { DocumentEntity } from './document.entity.js';
import { labelToWrite } from './document-labels.js';

/** The real files behind documents: their text, their label in them, and their seal. */
@Injectable()
export class DocumentFiles {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly published: PublishedRevision,
  ) {}

  /** The text in its file; everything else in the file stays. */
  async written(old: DocumentEntity | null, paragraphs: readonly string[]): Promise<Uint8Array> {
    const bytes = await writeDocxParagraphs(old ? this.open(old) : emptyDocx(), paragraphs);
    if (typeof bytes !== 'string') return bytes;
    throw new AppError(
      'file-refused',
      `The file cannot be changed (${bytes}). Nothing was saved; the file stays as it is.`,
      {
        details: { reason: bytes },
      },
    );
  }

  /** Writes the label into the file and seals it. */
  async seal(document: DocumentEntity, bytes: Uint8Array): Promise<void> {
    const label = labelById(labelsOf(this.published.current?.document), document.label?.id);
    const change = document.label && labelToWrite(document.label, document.ownerAddress, label);
    const writing = await writeFileLabel({ name: document.name, bytes }, change);
    if (writing.status === 'refused')
      throw new AppError(
        'file-refused',
        `The file cannot be labelled (${writing.reason}). Nothing was saved; the file stays as it is.`,
        {
          details: { reason: writing.reason },
        },
      );
    document.sealed = seal(
      this.config.evidenceKey,
      `document ${document.id}`,
      writing.status === 'written' ? writing.bytes : bytes,
    );
  }

  open(document: DocumentEntity): Uint8Array {
    return unseal(this.config.evidenceKey, `document ${document.id}`, document.sealed);
  }
}
