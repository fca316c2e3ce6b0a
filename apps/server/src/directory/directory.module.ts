import { Global, Module } from '@nestjs/common';
import { MachinesService } from './machines.service.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';

const PROVIDERS = [PeopleService, MachinesService];

/** People, machines, places and partners. */
@Global()
@Module({ controllers: [PeopleController], providers: PROVIDERS, exports: PROVIDERS })
export class DirectoryModule {}
