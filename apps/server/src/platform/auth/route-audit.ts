import type { INestApplicationContext, Type } from '@nestjs/common';
import { METHOD_METADATA } from '@nestjs/common/constants.js';
import { MetadataScanner, ModulesContainer } from '@nestjs/core';
import { PERMIT } from './permit.js';

/** Names every route handler that declares no permission; the server refuses to start when there is one. */
export function undeclaredRoutes(application: INestApplicationContext): string[] {
  const scanner = new MetadataScanner();
  const undeclared: string[] = [];
  for (const module of application.get(ModulesContainer).values()) {
    for (const { metatype } of module.controllers.values()) {
      if (!metatype) continue;
      const prototype = (metatype as Type).prototype as Record<string, unknown>;
      for (const name of scanner.getAllMethodNames(prototype)) {
        const handler = prototype[name];
        if (typeof handler !== 'function' || !Reflect.hasMetadata(METHOD_METADATA, handler)) continue;
        if (!Reflect.hasMetadata(PERMIT, handler) && !Reflect.hasMetadata(PERMIT, metatype))
          undeclared.push(`${metatype.name}.${name}`);
      }
    }
  }
  return undeclared;
}
