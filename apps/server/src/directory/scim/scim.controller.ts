import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Inject,
  Param,
  Patch,
  Post,
  Put,
  Query,
  Res,
  UseFilters,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { Permit } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { SCIM_TYPE, ScimErrors, ScimRefusal } from './scim-errors.js';
import { ScimResources } from './scim-resources.service.js';
import { resourceTypes, schemas, type ScimKind, serviceConfig } from './scim-schemas.js';
import { ScimTakeover } from './scim-takeover.service.js';

const KINDS: Readonly<Record<string, ScimKind>> = { Users: 'User', Groups: 'Group' };

function kindOf(endpoint: string): ScimKind {
  const kind = KINDS[endpoint];
  if (!kind) throw new ScimRefusal(404, null, 'There are Users and Groups.');
  return kind;
}

type Answer = Record<string, unknown>;

/** A SCIM 2.0 service (RFC 7643, 7644): an identity provider tells of people and groups with the key of a service account. */
@ApiTags('scim')
@Controller('scim/v2')
@UseFilters(ScimErrors)
export class ScimController {
  constructor(
    private readonly resources: ScimResources,
    private readonly takeover: ScimTakeover,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** What the service can do. */
  @Get('ServiceProviderConfig')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  serviceConfig(): Answer {
    return serviceConfig(this.config.address);
  }

  @Get('ResourceTypes')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  resourceTypes(): Answer {
    return listOf(resourceTypes(this.config.address));
  }

  @Get('Schemas')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  schemas(): Answer {
    return listOf(schemas(this.config.address));
  }

  @Get('Schemas/:schema')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  schema(@Param('schema') id: string): Answer {
    const found = schemas(this.config.address).find((each) => each['id'] === id);
    if (!found) throw new ScimRefusal(404, null, 'There is no such schema.');
    return found;
  }

  @Get(':endpoint')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  list(@Param('endpoint') endpoint: string, @Query() query: Record<string, unknown>): Promise<Answer> {
    return this.resources.list(kindOf(endpoint), textsOf(query));
  }

  /** The same as a list, with what is asked for in the body (RFC 7644, 3.4.3). */
  @Post(':endpoint/.search')
  @Permit('people.manage')
  @HttpCode(200)
  @Header('content-type', SCIM_TYPE)
  search(@Param('endpoint') endpoint: string, @Body() body: unknown): Promise<Answer> {
    return this.resources.list(kindOf(endpoint), textsOf((body ?? {}) as Record<string, unknown>));
  }

  @Get(':endpoint/:id')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  get(
    @Param('endpoint') endpoint: string,
    @Param('id') id: string,
    @Query() query: Record<string, unknown>,
  ): Promise<Answer> {
    return this.resources.get(kindOf(endpoint), id, textsOf(query));
  }

  @Post(':endpoint')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  async create(
    @Param('endpoint') endpoint: string,
    @Body() body: unknown,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Answer> {
    const made = await this.resources.create(kindOf(endpoint), body);
    const { location } = made['meta'] as { location: string };
    response.setHeader('location', location);
    this.takeover.changed();
    return made;
  }

  @Put(':endpoint/:id')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  async replace(
    @Param('endpoint') endpoint: string,
    @Param('id') id: string,
    @Body() body: unknown,
  ): Promise<Answer> {
    const changed = await this.resources.replace(kindOf(endpoint), id, body);
    this.takeover.changed();
    return changed;
  }

  @Patch(':endpoint/:id')
  @Permit('people.manage')
  @Header('content-type', SCIM_TYPE)
  async patch(
    @Param('endpoint') endpoint: string,
    @Param('id') id: string,
    @Body() body: unknown,
  ): Promise<Answer> {
    const changed = await this.resources.patch(kindOf(endpoint), id, body);
    this.takeover.changed();
    return changed;
  }

  @Delete(':endpoint/:id')
  @Permit('people.manage')
  @HttpCode(204)
  async remove(@Param('endpoint') endpoint: string, @Param('id') id: string): Promise<void> {
    await this.resources.remove(kindOf(endpoint), id);
    this.takeover.changed();
  }
}

const listOf = (found: readonly Answer[]): Answer => ({
  schemas: ['urn:ietf:params:scim:api:messages:2.0:ListResponse'],
  ...{ totalResults: found.length, startIndex: 1, itemsPerPage: found.length },
  Resources: found,
});

/** Parameters as texts; a list of attributes may be an array in a body. */
function textsOf(given: Readonly<Record<string, unknown>>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(given).flatMap(([name, value]): [string, string][] => {
      if (typeof value === 'string') return [[name, value]];
      if (typeof value === 'number') return [[name, String(value)]];
      return Array.isArray(value) && value.every((each) => typeof each === 'string')
        ? [[name, value.join(',')]]
        : [];
    }),
  );
}
