import type { Machine } from '@lantern/core/movement';
import type { KnownMachines } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PlaceEntity } from '../place.entity.js';
import { MachineEntity } from './machine.entity.js';

/** Machines of the directory, and the places that rules can name. */
@Injectable()
export class MachinesService {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  all(): Promise<MachineEntity[]> {
    return this.manager.find(MachineEntity, { order: { name: 'ASC' } });
  }

  /** Paths of places, as spots name them. */
  async places(): Promise<string[]> {
    const places = await this.manager.find(PlaceEntity, { order: { name: 'ASC' } });
    return places.map(({ name }) => `/${name}`);
  }

  /** Everything that a policy's whereabouts can name, in small letters. */
  async known(): Promise<KnownMachines> {
    const machines = await this.all();
    const lower = (names: readonly string[]): ReadonlySet<string> =>
      new Set(names.map((name) => name.toLowerCase()));
    return {
      machines: lower(machines.map(({ name }) => name)),
      groups: lower(machines.flatMap(({ groups }) => groups)),
      places: lower(await this.places()),
    };
  }

  /** What the directory knows of a machine; one it does not know is a stranger. */
  async machine(name: string): Promise<Machine> {
    const found = await this.manager.findOneBy(MachineEntity, { name });
    return found
      ? { name: found.name, state: found.state, groups: found.groups }
      : { name, state: 'strange', groups: [] };
  }

  /** The machine somebody usually works at. */
  async ofPerson(address: string): Promise<Machine | undefined> {
    const found = await this.manager.findOneBy(MachineEntity, { owner: address });
    return found ? { name: found.name, state: found.state, groups: found.groups } : undefined;
  }
}
