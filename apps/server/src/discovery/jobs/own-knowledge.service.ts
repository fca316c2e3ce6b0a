import { createCipheriv, createHash, randomBytes } from 'node:crypto';
import { serialize } from 'node:v8';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { DocumentSources } from '../../inspection/sources/document-sources.js';
import { RecordSources } from '../../inspection/sources/record-sources.js';
import { AppError } from '../../platform/errors/app-error.js';
import { DiscoveryContext } from '../discovery-context.js';
import { Parts } from '../parts/parts.service.js';
import { Readers } from '../readers/readers.service.js';
import { sealedFor } from '../readers/reader-tokens.js';
import type { ReaderEntity } from '../readers/reader.entity.js';

const KEY_BYTES = 32;
const NONCE_BYTES = 12;

/**
 * Hashes of own records with their key, and what was learnt from sample documents: for readers that may look for them,
 * for as long as they have a part of a run in hand, and written for that reader alone.
 */
@Injectable()
export class OwnKnowledge {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly records: RecordSources,
    private readonly documents: DocumentSources,
    private readonly readers: Readers,
    private readonly parts: Parts,
  ) {}

  /** Names what a reader would be given; null where there is nothing, or the reader may not have it. */
  stateFor(reader: Pick<ReaderEntity, 'holdsRecords'>): string | null {
    if (!reader.holdsRecords || this.context.kept.length === 0) return null;
    const known = JSON.stringify([this.context.kept, this.records.state, this.documents.state]);
    return createHash('sha256').update(known).digest('hex');
  }

  /** The same for runs: what counts is whether any reader may look for them. */
  async stateForRuns(): Promise<string | null> {
    return this.stateFor({ holdsRecords: await this.readers.anyHoldsRecords() });
  }

  /** Whether a reader looks for all that its run does. */
  async looksForAll(reader: ReaderEntity): Promise<boolean> {
    return reader.holdsRecords || this.context.kept.length === 0 || !(await this.readers.anyHoldsRecords());
  }

  /**
   * AES-256-GCM (NIST SP 800-38D) under a key that is made for this answer and sealed for the reader: nonce, content, tag.
   * Throws `not-permitted` for a reader that may not, and `changed-meanwhile` for one that has no such part in hand.
   */
  async sealed(
    reader: ReaderEntity,
    partId: string,
  ): Promise<{ readonly key: string; readonly bytes: Buffer }> {
    if (this.stateFor(reader) === null)
      throw new AppError('not-permitted', 'This reader may not look for own records and documents.');
    await this.manager.transaction((manager) => this.parts.held(manager, partId, reader));
    const wanted = new Set(this.context.kept.map(({ id }) => String(id)));
    const among = <Source>(all: readonly [string, Source][]) => all.filter(([id]) => wanted.has(id));
    const content = serialize({
      own: this.context.kept,
      records: among(this.records.all()),
      documents: among(this.documents.all()),
    });
    const key = randomBytes(KEY_BYTES);
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', key, nonce);
    const bytes = Buffer.concat([nonce, cipher.update(content), cipher.final(), cipher.getAuthTag()]);
    return { key: await sealedFor(reader.sealingKey, key.toString('base64')), bytes };
  }
}
