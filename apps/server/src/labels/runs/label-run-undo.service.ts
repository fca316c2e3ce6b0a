import { join } from 'node:path';
import { labelShift, printedMarks, type WholeLabelSet } from '@lantern/core/labels';
import { labelOnDisk, labelsOnDisk } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { LabelChangeEntity } from '../label-change.entity.js';
import { LabelDraftsService } from '../label-drafts.service.js';
import { labelById } from '../../published/published-labels.js';
import { type LabelRunEntity, LabelRunItemEntity } from './label-run.entity.js';
import { type PlaceEntity } from '../../directory/place.entity.js';
import { PlacesService } from './places.service.js';

/** Puts back what files carried before a run, except where somebody changed their label since. */
@Injectable()
export class LabelRunUndo {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: PlacesService,
    private readonly drafts: LabelDraftsService,
  ) {}

  /** All of a run, or as far as it came before the server was told to stop; says whether that was all. */
  async undo(run: LabelRunEntity, caller: Caller, isClosing: () => boolean): Promise<boolean> {
    const set = await this.drafts.set();
    const places = new Map((await this.places.find([])).map((place) => [place.id, place]));
    const items = await this.manager.find(LabelRunItemEntity, {
      where: { runId: run.id, applied: true },
      order: { id: 'ASC' },
    });
    for (const item of items) {
      if (isClosing()) return false;
      const place = places.get(item.placeId);
      if (place) await this.undoItem(run, item, { place, set, caller });
    }
    return true;
  }

  private async undoItem(
    run: LabelRunEntity,
    item: LabelRunItemEntity,
    { place, set, caller }: { place: PlaceEntity; set: WholeLabelSet; caller: Caller },
  ): Promise<void> {
    const path = join(this.places.folderOf(place), item.path);
    const before = item.before;
    let reason = 'changed-since';
    try {
      const { own } = await labelsOnDisk(path);
      if (own?.id === item.labelId && own?.setAt === item.setAt) {
        const label = labelById(set, before?.id);
        const done = await labelOnDisk(
          path,
          before && {
            label: before,
            marks: label
              ? printedMarks(label, {
                  owner: place.owner,
                  setter: before.setBy,
                  at: Date.parse(before.setAt) || 0,
                  how: before.how,
                })
              : [],
          },
        );
        if (done.status === 'refused') ({ reason } = done);
        else {
          await this.noteUndone(run, item, { place, set, caller });
          return;
        }
      }
    } catch (error) {
      reason = (error as NodeJS.ErrnoException).code ?? 'unknown';
    }
    await this.manager.update(LabelRunItemEntity, { id: item.id }, { reason: reason.slice(0, 60) });
  }

  private async noteUndone(
    run: LabelRunEntity,
    item: LabelRunItemEntity,
    { place, set, caller }: { place: PlaceEntity; set: WholeLabelSet; caller: Caller },
  ): Promise<void> {
    const was = labelById(set, item.labelId);
    const now = item.before;
    const shift = labelShift(was, now && { id: now.id as NonNullable<typeof was>['id'], rank: now.rank });
    await this.manager.transaction(async (manager) => {
      await manager.update(LabelRunItemEntity, { id: item.id }, { applied: false, reason: 'undone' });
      if (shift === 'same') return;
      await manager.save(
        manager.create(LabelChangeEntity, {
          at: new Date(),
          by: caller.name,
          how: 'automatically',
          shift,
          carrier: 'document',
          item: `${place.name}/${item.path}`.slice(0, 500),
          itemId: null,
          runId: run.id,
          before: was && { id: was.id, name: was.name, rank: was.rank },
          after: now && { id: now.id, name: now.name, rank: now.rank },
          reason: 'The run that set this label was undone',
        }),
      );
    });
  }
}
