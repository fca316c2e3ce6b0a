import { randomUUID } from 'node:crypto';
import type {
  AutomationKept,
  AutomationRequest,
  AutomationSummary,
  AutomationView,
  BuilderRegister,
  JudgedWhileBuilding,
} from '@lantern/contracts/crossings';
import type { AnyAutomation } from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import { Automations } from '../../crossings/automations.service.js';
import { AutomationTelling } from '../../crossings/automation-telling.service.js';
import type { Player } from '../../directory/people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { DrivePlaces } from '../drive/places/drive-places.service.js';

/** The editor in which people build flows and assistants: they are told while they choose, not after. */
@Injectable()
export class Builder {
  constructor(
    private readonly automations: Automations,
    private readonly telling: AutomationTelling,
    private readonly places: DrivePlaces,
  ) {}

  /** What can be built with: published services, workspaces, and places this person may know of. */
  async register(player: Player): Promise<BuilderRegister> {
    this.demandInside(player);
    const { crossings, labels } = await this.automations.basis('published');
    const places = await this.places.list(player);
    return {
      ...{ services: crossings.services, workspaces: crossings.workspaces },
      places: places.map(({ name, label }) => ({
        name,
        label: labels.some(({ id }) => String(id) === label?.id) ? (label?.id ?? null) : null,
        labelName: label?.name ?? null,
      })),
    };
  }

  async mine(player: Player): Promise<AutomationSummary[]> {
    this.demandInside(player);
    return (await this.automations.list('published')).filter(({ owner }) => owner === player.address);
  }

  async get(id: string, player: Player): Promise<AutomationView> {
    await this.demandOwn(id, player);
    return this.automations.get(id);
  }

  /** What would be said about it as it stands, step by step, with what would be allowed instead. */
  async judge(given: AnyAutomation, player: Player): Promise<JudgedWhileBuilding> {
    const automation = { ...given, owner: player.address, madeAt: Date.now() };
    return this.telling.told(automation, 'published');
  }

  /** Saves it; one in breach is kept, and stays off. */
  async save({ automation, isOn, version }: AutomationRequest, player: Player): Promise<AutomationKept> {
    this.demandInside(player);
    const isNew = automation.id === NEW;
    if (!isNew) await this.demandOwn(automation.id, player);
    const id = isNew ? randomUUID() : automation.id;
    return this.automations.keep(
      { ...automation, id, owner: player.address },
      { isOn, version, by: player.address },
    );
  }

  async remove(id: string, player: Player): Promise<void> {
    await this.demandOwn(id, player);
    await this.automations.remove(id);
  }

  /** Throws `not-permitted` for an automation of somebody else. */
  async demandOwn(id: string, player: Player): Promise<void> {
    this.demandInside(player);
    const { owner } = await this.automations.row(id);
    if (owner !== player.address)
      throw new AppError('not-permitted', 'Only its owner can open and change this automation.');
  }

  private demandInside(player: Player): void {
    if (player.outside) throw new AppError('not-permitted', 'People outside cannot build automations here.');
  }
}

/** Id under which something is saved first. */
const NEW = 'new';
