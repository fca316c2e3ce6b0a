import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { AppError } from '../platform/errors/app-error.js';
import { type RevisionDocument, RevisionEntity } from './revision.entity.js';

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

  /** Any revision by its number; throws `not-found` for one that there is not. */
  async get(number: number): Promise<RevisionEntity> {
    const revision = await this.revisions.findOneBy({ number });
    if (!revision) throw new AppError('not-found', `There is no revision ${number}.`);
    return revision;
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
