import type { MachineView, PersonView, PlayerView } from '@lantern/contracts';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import type { PersonEntity } from './person.entity.js';
import { MachinesService } from './machines/machines.service.js';
import { type KnownAddress, PeopleService } from './people.service.js';

@ApiTags('people')
@Controller('people')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
  ) {}

  @Get()
  @Permit('people.read')
  @Answers('PersonView', 'list')
  async all(): Promise<PersonView[]> {
    return (await this.people.all()).map(toPersonView);
  }

  /** Everybody who can be played in the stand-ins: people of the house, and partners outside. */
  @Get('players')
  @Permit('people.read')
  @Answers('PlayerView', 'list')
  async players(): Promise<PlayerView[]> {
    const people = (await this.people.all()).map(({ id, name, address, department, language }) => ({
      id,
      name,
      address,
      from: department,
      outside: false,
      language,
    }));
    const partners = (await this.people.allPartners()).map(({ name, address, organisation }) => ({
      id: address,
      name,
      address,
      from: organisation,
      outside: true,
      language: 'en',
    }));
    return [...people, ...partners];
  }

  /** Machines of the directory. */
  @Get('machines')
  @Permit('people.read')
  @Answers('MachineView', 'list')
  async machinesOfHouse(): Promise<MachineView[]> {
    return (await this.machines.all()).map(({ name, state, groups, owner }) => ({
      name,
      state,
      groups,
      owner,
    }));
  }

  /** Paths of places that rules can name. */
  @Get('places')
  @Permit('people.read')
  places(): Promise<string[]> {
    return this.machines.places();
  }

  /** Addresses inside and outside whose name or address holds what was typed. */
  @Get('addresses')
  @Permit('people.read')
  addresses(@Query('typed') typed = ''): Promise<KnownAddress[]> {
    return this.people.suggest(String(typed).slice(0, 100));
  }
}

export function toPersonView(person: PersonEntity): PersonView {
  const { id, name, address, department, port, title, groups, language } = person;
  return { id, name, address, department, port, title, groups, language };
}
