import type { DocumentSource, LikenessSample } from '@lantern/core/detection';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { type Config, CONFIG } from '../../platform/config.js';
import { seal, unseal } from '../../platform/sealing.js';
import { DocumentPatternEntity, DocumentPieceEntity } from './document-pattern.entity.js';

/** Pieces of what was learnt in the database: well below what one packet takes. */
const PIECE_BYTES = 4 * 1024 * 1024;

const placeOf = (id: string, version: number): string => `learnt ${id} ${version}`;

/** What all patterns learnt from their samples, in memory; the one in use serves until a new one is whole. */
@Injectable()
export class DocumentSources implements OnModuleInit {
  private readonly sources = new Map<string, { version: number; source: DocumentSource }>();

  constructor(
    @InjectRepository(DocumentPatternEntity) private readonly entities: Repository<DocumentPatternEntity>,
    @InjectRepository(DocumentPieceEntity) private readonly pieces: Repository<DocumentPieceEntity>,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async onModuleInit(): Promise<void> {
    for (const { id, version } of await this.entities.find()) {
      const pieces = await this.pieces.find({ where: { pattern: id, version }, order: { number: 'ASC' } });
      const sealed = Buffer.concat(pieces.map(({ bytes }) => bytes));
      this.put(id, version, read(await unseal(this.config.keys.installation, placeOf(id, version), sealed)));
    }
  }

  /** What threads are given; changes with {@link state}. */
  all(): [string, DocumentSource][] {
    return [...this.sources].map(([id, { source }]) => [id, source]);
  }

  /** Changes whenever anything was learnt. */
  get state(): string {
    return [...this.sources].map(([id, { version }]) => `${id} ${version}`).join(' ');
  }

  /** Rows that keep what was learnt. */
  async piecesOf(id: string, version: number, source: DocumentSource): Promise<DocumentPieceEntity[]> {
    const sealed = await seal(this.config.keys.installation, placeOf(id, version), written(source));
    return Array.from({ length: Math.ceil(sealed.length / PIECE_BYTES) }, (_unused, number) => ({
      pattern: id,
      version,
      number,
      bytes: Buffer.from(sealed.subarray(number * PIECE_BYTES, (number + 1) * PIECE_BYTES)),
    }));
  }

  put(id: string, version: number, source: DocumentSource): void {
    this.sources.set(id, { version, source });
  }

  remove(id: string): void {
    this.sources.delete(id);
  }
}

/** Length of the JSON in front, the JSON, and for likeness its hashes and owners. */
function written(source: DocumentSource): Buffer {
  const head = Buffer.from(
    JSON.stringify(
      source.learns === 'category' ? source : { learns: 'likeness', samples: source.index.samples },
    ),
  );
  const size = Buffer.alloc(4);
  size.writeUInt32LE(head.length);
  if (source.learns === 'category') return Buffer.concat([size, head]);
  const { hashes, owners } = source.index;
  return Buffer.concat([
    size,
    head,
    Buffer.from(hashes.buffer, hashes.byteOffset, hashes.byteLength),
    Buffer.from(owners.buffer, owners.byteOffset, owners.byteLength),
  ]);
}

function read(bytes: Buffer): DocumentSource {
  const size = bytes.readUInt32LE(0);
  const head = JSON.parse(bytes.subarray(4, 4 + size).toString('utf8')) as
    Extract<DocumentSource, { learns: 'category' }> | { learns: 'likeness'; samples: LikenessSample[] };
  if (head.learns === 'category') return head;
  const rest = Uint8Array.from(bytes.subarray(4 + size));
  // Four bytes a hash and two an owner.
  const count = rest.length / 6;
  return {
    learns: 'likeness',
    index: {
      samples: head.samples,
      hashes: new Uint32Array(rest.buffer, 0, count),
      owners: new Uint16Array(rest.buffer, count * 4, count),
    },
  };
}
