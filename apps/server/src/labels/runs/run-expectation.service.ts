import type { LabelRunExpectation } from '@lantern/contracts';
import { isPersonsStore } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, MoreThan } from 'typeorm';
import { LabelDraftsService } from '../label-drafts.service.js';
import { LabelRunEntity } from './label-run.entity.js';
import { PlacesService } from './places.service.js';

/** Files a second where no run has been measured yet: a careful guess for a small machine. */
const GUESSED_PACE = 40;

/** Estimate of a label run before it starts: its files and the time that they take. */
@Injectable()
export class RunExpectation {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: PlacesService,
    private readonly drafts: LabelDraftsService,
  ) {}

  /** Files, bytes and seconds of a run over some places; over all of them without any. */
  async of(ids: readonly string[]): Promise<LabelRunExpectation> {
    const places = await this.places.find(ids);
    const lists = await Promise.all(places.map((place) => this.places.filesOf(place)));
    const files = lists.reduce((sum, list) => sum + list.length, 0);
    const bytes = lists.flat().reduce((sum, file) => sum + file.bytes, 0);
    const [last] = await this.manager.find(LabelRunEntity, {
      where: { state: 'done', seen: MoreThan(20) },
      order: { startedAt: 'DESC' },
      take: 1,
    });
    const pace = last && last.seconds > 0 ? last.seen / last.seconds : GUESSED_PACE;
    return {
      files,
      bytes,
      seconds: Math.ceil(files / pace),
      guessed: !last,
      empty: places.filter((_place, index) => lists[index]?.length === 0).map(({ name }) => name),
      withoutPlace: await this.withoutPlace(),
    };
  }

  private async withoutPlace(): Promise<string[]> {
    const { automatic } = await this.drafts.set();
    const owners = new Set((await this.places.find([])).map(({ owner }) => owner.toLowerCase()));
    const named = automatic.flatMap(({ places }) => places.filter(isPersonsStore));
    return [...new Set(named)].filter((address) => !owners.has(address.toLowerCase()));
  }
}
