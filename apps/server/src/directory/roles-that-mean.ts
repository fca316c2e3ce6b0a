import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { OwnRoleEntity } from '../accounts/access/access.entity.js';
import { DirectoryReferences, type Reference } from './directory-references.js';

/** Tells the directory which roles are limited to its departments: one that is renamed would drop out of them unseen. */
@Injectable()
export class RolesThatMean implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly references: DirectoryReferences,
  ) {}

  onModuleInit(): void {
    this.references.add(async () => {
      const roles = await this.manager.find(OwnRoleEntity, { order: { name: 'ASC' } });
      return roles.flatMap(({ name, limits }): Reference[] => {
        const departments = limits?.departments ?? [];
        if (departments.length === 0) return [];
        const terms = departments.map((department) => ({ kind: 'department' as const, department }));
        return [{ of: `role "${name}"`, draft: false, audience: { with: terms, without: [] } }];
      });
    });
  }
}
