import type { Work, WorkAnswer, WorkPlace, WorkRequest } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { DiscoveryContext, type LookedFor } from '../discovery-context.js';
import type { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { DiscoveryPlaces } from '../places/places.service.js';
import { ReaderCosts } from '../readers/reader-costs.service.js';
import { Readers } from '../readers/readers.service.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import { sealedFor, unknown } from '../readers/reader-tokens.js';
import { ActEntity, ItemEntity } from '../results/item.entity.js';
import type { PartEntity } from '../parts/part.entity.js';
import { MOST_TAKEN, Parts } from '../parts/parts.service.js';
import { OwnKnowledge } from './own-knowledge.service.js';
import { RunEntity } from './job.entity.js';
import { Watching } from '../watching/watching.service.js';
import { Readings } from './reading.service.js';

/** Hands readers their next piece of work, with all that it takes and nothing more. */
@Injectable()
export class WorkService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly readers: Readers,
    private readonly places: DiscoveryPlaces,
    private readonly parts: Parts,
    private readonly readings: Readings,
    private readonly watching: Watching,
    private readonly knowledge: OwnKnowledge,
    private readonly costs: ReaderCosts,
  ) {}

  lookedFor(): LookedFor {
    return this.context.lookedFor;
  }

  /** Notes what the reader says of itself, and answers with work as soon as there is some. */
  async next(
    reader: ReaderEntity,
    said: WorkRequest,
    { isGone, through }: { readonly isGone: () => boolean; readonly through: string | null },
  ): Promise<WorkAnswer> {
    await this.readers.saw(reader, said, through);
    if (said.isFresh) await this.parts.giveBack(reader.id);
    const held = said.watching?.version ?? 0;
    const version = await this.watching.versionFor(reader);
    // What it does not hold yet is worth an answer of its own.
    const mark = this.costs.mark(reader);
    const isOld = (): boolean =>
      this.costs.mark(reader) !== mark ||
      said.revision !== this.context.lookedFor.revision ||
      held !== (this.watching.savedFor(reader) ?? version);
    const isOver = (): boolean => isGone() || this.readers.isWithdrawn(reader.id);
    const part = await this.takeWhole(reader, said.wait, {
      ...{ isGone: isOver, isDue: isOld, onlyAwaited: Boolean(said.told?.resting) },
    });
    if (this.readers.isWithdrawn(reader.id)) throw unknown();
    const work = part ? await this.workOf(part, reader) : null;
    return {
      ...{ work, revision: this.context.lookedFor.revision, cost: await this.costs.of(reader) },
      keyEndsAt: reader.keyEndsAt.toISOString(),
      watchVersion: await this.watching.versionFor(reader),
    };
  }

  /** The next part that is worth another attempt; those that came to no end too often are given up on the way. */
  private async takeWhole(
    reader: ReaderEntity,
    seconds: number,
    waits: {
      readonly isGone: () => boolean;
      readonly isDue: () => boolean;
      readonly onlyAwaited: boolean;
    },
  ): Promise<PartEntity | null> {
    for (;;) {
      const part = await this.parts.take(reader, seconds, waits);
      if (!part || part.taken <= MOST_TAKEN) return part;
      await this.readings.failed(reader, part.id, { problem: 'took-too-long' });
    }
  }

  private async workOf(part: PartEntity, reader: ReaderEntity): Promise<Work> {
    const place = await this.places.get(part.placeId);
    const base = { id: part.id, place: await this.workPlace(place, reader) };
    switch (part.kind) {
      case 'check':
        return { ...base, kind: 'check' };
      case 'list': {
        const run = await this.runOf(part);
        return { ...base, kind: 'list', runId: run.id, scope: run.definition.scope };
      }
      case 'read': {
        const run = await this.runOf(part);
        const items = await this.manager.find(ItemEntity, {
          where: { id: In([...(part.content.items ?? [])]), dueRun: run.id },
          select: { id: true, path: true, bytes: true },
        });
        const knowledge = this.knowledge.stateFor(reader);
        return { ...base, kind: 'read', runId: run.id, step: run.definition.step, items, knowledge };
      }
      case 'act':
        return { ...base, kind: 'act', ...(await this.actOf(part)) };
      case 'fetch': {
        const [id = ''] = part.content.items ?? [];
        const { path } = await this.manager.findOneByOrFail(ItemEntity, { id });
        return { ...base, kind: 'fetch', item: { id, path } };
      }
    }
  }

  private async actOf(part: PartEntity) {
    const act = await this.manager.findOneByOrFail(ActEntity, { id: part.content.act ?? '' });
    const label = this.context.labels().labels.find(({ id }) => id === act.labelId);
    const items = await this.manager.find(ItemEntity, {
      where: { id: In([...(part.content.items ?? [])]) },
      select: { id: true, path: true },
    });
    // A place that was removed meanwhile opens nowhere, which the reader says.
    const [to] = await this.places.find(act.toPlaceId === null ? [] : [act.toPlaceId]);
    return {
      ...{ act: act.act, by: act.actor, items, to: to?.address ?? null },
      label: label ? { id: label.id, name: label.name, rank: label.rank } : null,
    };
  }

  private runOf(part: PartEntity): Promise<RunEntity> {
    return this.manager.findOneByOrFail(RunEntity, { id: part.runId ?? '' });
  }

  private async workPlace(place: DiscoveryPlaceEntity, reader: ReaderEntity): Promise<WorkPlace> {
    const secret = await this.places.secretOf(place);
    return {
      ...{ id: place.id, name: place.name, store: place.store, address: place.address, owner: place.owner },
      secret: secret === null ? null : await sealedFor(reader.sealingKey, secret),
      reach: await this.places.reachOf(place),
    };
  }
}
