import type { PersonView } from '@lantern/contracts';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import type { PersonEntity } from './person.entity.js';
import { type KnownAddress, PeopleService } from './people.service.js';

@ApiTags('people')
@Controller('people')
export class PeopleController {
  constructor(private readonly people: PeopleService) {}

  @Get()
  @Permit('people.read')
  @Answers('PersonView', 'list')
  async all(): Promise<PersonView[]> {
    return (await this.people.all()).map(toPersonView);
  }

  /** Addresses inside and outside whose name or address holds what was typed. */
  @Get('addresses')
  @Permit('people.read')
  addresses(@Query('typed') typed = ''): Promise<KnownAddress[]> {
    return this.people.suggest(String(typed).slice(0, 100));
  }
}

export function toPersonView(person: PersonEntity): PersonView {
  const { id, name, address, department, port, title, groups } = person;
  return { id, name, address, department, port, title, groups };
}
