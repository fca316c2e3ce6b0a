import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { Automations, type PlaceLabels } from '../../crossings/automations.service.js';
import { PlaceEntity } from '../../directory/place.entity.js';
import { DiscoveryPlaceEntity } from './discovery-place.entity.js';

/** Tells automations which labels places carry now, so that an assistant is judged by what it really reads. */
@Injectable()
export class PlacesOfAutomations implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly automations: Automations,
  ) {}

  onModuleInit(): void {
    this.automations.placesToldBy(() => this.labels());
  }

  private async labels(): Promise<PlaceLabels> {
    const found = await this.manager.find(DiscoveryPlaceEntity, {
      select: { id: true, name: true, labelId: true, directoryPlaceId: true },
    });
    const places = await this.manager.find(PlaceEntity, { select: { id: true, name: true } });
    const byDirectory = new Map(found.map(({ directoryPlaceId, labelId }) => [directoryPlaceId, labelId]));
    // A place of the directory is known by its name there, whatever a reader calls it.
    return new Map([
      ...found.map(({ name, labelId }) => [name, labelId] as const),
      ...places.map(({ id, name }) => [name, byDirectory.get(id) ?? null] as const),
    ]);
  }
}
