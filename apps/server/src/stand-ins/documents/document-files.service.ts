import { labelsOf, labelById } from '../../published/published-labels.js';
import { emptyDocx } from '@lantern/files';
import { FileWork } from '../../inspection/file-work.service.js';
import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../published/published-revision.js';
import type { DocumentEntity } from './document.entity.js';
import { labelToWrite } from '../../labels/carried-label.js';

/** The real files behind documents: their text, their label in them, and their seal. */
@Injectable()
export class DocumentFiles {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly published: PublishedRevision,
    private readonly work: FileWork,
  ) {}

  /** The text in its file; everything else in the file stays. */
  async written(old: DocumentEntity | null, paragraphs: readonly string[]): Promise<Uint8Array> {
    return this.work.writeParagraphs(old ? await this.open(old) : emptyDocx(), paragraphs);
  }

  /** The file with its label in it, sealed: to be put into its document. */
  async sealed(document: DocumentEntity, bytes: Uint8Array): Promise<Buffer> {
    const label = labelById(labelsOf(this.published.current?.document), document.label?.id);
    const change = document.label && labelToWrite(document.label, document.ownerAddress, label);
    const writing = await this.work.writeLabel({ name: document.name, bytes }, change);
    if (writing.status === 'refused')
      throw new AppError(
        'file-refused',
        `The file cannot be labelled (${writing.reason}). Nothing was saved. The file is unchanged.`,
        {
          details: { reason: writing.reason },
        },
      );
    const content = writing.status === 'written' ? writing.bytes : bytes;
    return seal(this.config.keys.installation, `document ${document.id}`, content);
  }

  open(document: DocumentEntity): Promise<Buffer> {
    return unseal(this.config.keys.installation, `document ${document.id}`, document.sealed);
  }
}
