import { createHmac } from 'node:crypto';
import type { RecordSource } from '@lantern/core/detection';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { type Config, CONFIG } from '../../platform/config.js';
import { RecordChunkEntity, RecordSourceEntity } from './record-source.entity.js';

/** The hashes of all records in memory that threads share; the ones in use serve until new ones are whole. */
@Injectable()
export class RecordSources implements OnModuleInit {
  private readonly sources = new Map<string, { version: number; source: RecordSource }>();
  /** Key of the hashes: made from the one that stands outside the database, and never that one itself. */
  get key(): Uint8Array {
    const digest = createHmac('sha256', this.config.keys.installation).update('records').digest();
    return new Uint8Array(digest.subarray(0, 16));
  }

  constructor(
    @InjectRepository(RecordSourceEntity) private readonly entities: Repository<RecordSourceEntity>,
    @InjectRepository(RecordChunkEntity) private readonly chunks: Repository<RecordChunkEntity>,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async onModuleInit(): Promise<void> {
    for (const entity of await this.entities.find()) await this.load(entity);
  }

  /** What threads are given; changes with {@link state}. */
  all(): [string, RecordSource][] {
    return [...this.sources].map(([id, { source }]) => [id, source]);
  }

  /** Changes whenever any records do. */
  get state(): string {
    return [...this.sources].map(([id, { version }]) => `${id} ${version}`).join(' ');
  }

  put(id: string, version: number, source: RecordSource): void {
    this.sources.set(id, { version, source });
  }

  remove(id: string): void {
    this.sources.delete(id);
  }

  private async load({ id, version, shape, facts }: RecordSourceEntity): Promise<void> {
    const numbers = await this.chunks.find({
      select: { number: true },
      where: { source: id, version },
      order: { number: 'ASC' },
    });
    const pieces: Buffer[] = [];
    for (const { number } of numbers) {
      const chunk = await this.chunks.findOneByOrFail({ source: id, version, number });
      pieces.push(chunk.bytes);
    }
    const buffer = new ArrayBuffer(pieces.reduce((sum, piece) => sum + piece.length, 0));
    const bytes = new Uint8Array(buffer);
    let at = 0;
    for (const piece of pieces) {
      bytes.set(piece, at);
      at += piece.length;
    }
    this.put(id, version, { index: { shape, ...facts, buffer }, key: this.key });
  }
}
