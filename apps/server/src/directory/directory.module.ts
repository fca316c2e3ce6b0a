import { Global, Module } from '@nestjs/common';
import { DirectoryChanges } from './changes/directory-changes.service.js';
import { DirectoryServer } from './changes/directory-server.service.js';
import { DirectoryWriter } from './changes/directory-writer.js';
import { DirectoryReferences } from './directory-references.js';
import { DirectoryChangesController, DirectoryController } from './directory.controller.js';
import { MachinesService } from './machines/machines.service.js';
import { MachinesController } from './machines/machines.controller.js';
import { MachinesDesk } from './machines/machines-desk.service.js';
import { PlacesController } from './places/places.controller.js';
import { PlacesDesk } from './places/places-desk.service.js';
import { RolesThatMean } from './roles-that-mean.js';
import { PeopleController } from './people.controller.js';
import { PeopleDesk } from './people-desk.service.js';
import { ScimController } from './scim/scim.controller.js';
import { ScimResources } from './scim/scim-resources.service.js';
import { ScimTakeover } from './scim/scim-takeover.service.js';
import { PeopleService } from './people.service.js';

const PROVIDERS = [
  ...[PeopleService, MachinesService, DirectoryReferences, RolesThatMean],
  ...[DirectoryWriter, DirectoryChanges, DirectoryServer, PeopleDesk],
  ...[ScimResources, ScimTakeover, MachinesDesk, PlacesDesk],
];

/** People, machines, places and partners. */
@Global()
@Module({
  controllers: [
    PeopleController,
    DirectoryController,
    DirectoryChangesController,
    ScimController,
    MachinesController,
    PlacesController,
  ],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class DirectoryModule {}
