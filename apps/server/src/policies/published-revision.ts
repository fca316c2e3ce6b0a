import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { type RevisionDocument, RevisionEntity } from './policy.entity.js';

export interface CurrentRevision {
  readonly number: number;
  readonly name: string;
  readonly document: RevisionDocument;
}

/** The revision in force, whole in memory; a movement sees the one that was current when it began. */
@Injectable()
export class PublishedRevision implements OnModuleInit {
  private revision: CurrentRevision | null = null;

  constructor(@InjectRepository(RevisionEntity) private readonly revisions: Repository<RevisionEntity>) {}

  get current(): CurrentRevision | null {
    return this.revision;
  }

  async onModuleInit(): Promise<void> {
    const [newest] = await this.revisions.find({ order: { number: 'DESC' }, take: 1 });
    if (newest) this.swap(newest);
  }

  /** Puts a committed revision in force at once. */
  swap(revision: CurrentRevision): void {
    if (this.revision && this.revision.number > revision.number) return;
    this.revision = { number: revision.number, name: revision.name, document: revision.document };
  }
}
