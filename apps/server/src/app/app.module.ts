import { type DynamicModule, Global, Module } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, APP_INTERCEPTOR, APP_PIPE } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import type { DataSourceOptions } from 'typeorm';
import { AccountsModule } from '../accounts/accounts.module.js';
import { DemoModule } from '../demo/demo.module.js';
import { DirectoryModule } from '../directory/directory.module.js';
import { CrossingsModule } from '../crossings/crossings.module.js';
import { DiscoveryModule } from '../discovery/discovery.module.js';
import { DoorsModule } from '../doors/doors.module.js';
import { ResponseModule } from '../response/response.module.js';
import { IncidentsModule } from '../incidents/incidents.module.js';
import { InspectionModule } from '../inspection/inspection.module.js';
import { InsightModule } from '../insight/insight.module.js';
import { JournalModule } from '../journal/journal.module.js';
import { LabelsModule } from '../labels/labels.module.js';
import { LanternModule } from '../lantern/lantern.module.js';
import { MovementsModule } from '../movements/movements.module.js';
import { OverviewModule } from '../overview/overview.module.js';
import { PatternsModule } from '../patterns/patterns.module.js';
import { PlatformModule } from '../platform/platform.module.js';
import { PoliciesModule } from '../policies/policies.module.js';
import { PublishedModule } from '../published/published.module.js';
import { ReplayModule } from '../replay/replay.module.js';
import { RevisionsModule } from '../revisions/revisions.module.js';
import { RetentionModule } from '../retention/retention.module.js';
import { StandInsModule } from '../stand-ins/stand-ins.module.js';
import { AccessGuard } from '../platform/auth/access-guard.js';
import { CONFIG, type Config } from '../platform/config.js';
import { sealOldVerdicts } from '../incidents/verdicts.js';
import { openInstallationKey } from '../platform/keys/installation-key.js';
import { TransactionalDataSource } from '../platform/database/transactional-data-source.js';
import { HiddenNames } from '../directory/hidden-names/hidden-names.interceptor.js';
import { TrailInterceptor } from '../platform/trail/trail.interceptor.js';
import { ErrorFilter } from '../platform/errors/error-filter.js';
import { validationPipe } from '../platform/errors/validation.js';
import { databaseOptions, ENTITIES } from './database.js';

/** The configuration and the tables, for all domains. */
@Global()
@Module({})
class FoundationModule {
  static of(config: Config): DynamicModule {
    const tables = TypeOrmModule.forFeature(ENTITIES);
    return {
      module: FoundationModule,
      imports: [
        TypeOrmModule.forRootAsync({
          useFactory: () => databaseOptions(config),
          dataSourceFactory: async (options) => {
            const database = await new TransactionalDataSource(options as DataSourceOptions).initialize();
            await openInstallationKey(database, config.keys);
            await sealOldVerdicts(database.manager, config.keys);
            return database;
          },
        }),
        tables,
      ],
      providers: [{ provide: CONFIG, useValue: config }],
      exports: [CONFIG, tables],
    };
  }
}

/** One module a domain, from the ground up; each may use those above it in this list. */
@Module({})
export class AppModule {
  /** The whole server for one configuration. */
  static of(config: Config): DynamicModule {
    return {
      module: AppModule,
      imports: [
        FoundationModule.of(config),
        PlatformModule,
        AccountsModule,
        DirectoryModule,
        PublishedModule,
        InspectionModule,
        JournalModule,
        IncidentsModule,
        ResponseModule,
        PatternsModule,
        LabelsModule,
        PoliciesModule,
        MovementsModule,
        DoorsModule,
        RevisionsModule,
        ReplayModule,
        InsightModule,
        CrossingsModule,
        DiscoveryModule,
        LanternModule,
        OverviewModule,
        StandInsModule.of(config.standIns),
        RetentionModule,
        DemoModule,
      ],
      providers: [
        { provide: APP_GUARD, useClass: AccessGuard },
        { provide: APP_INTERCEPTOR, useClass: TrailInterceptor },
        { provide: APP_INTERCEPTOR, useClass: HiddenNames },
        { provide: APP_FILTER, useClass: ErrorFilter },
        { provide: APP_PIPE, useFactory: validationPipe },
      ],
    };
  }
}
