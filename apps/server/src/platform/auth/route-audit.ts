import { type INestApplicationContext, RequestMethod, type Type } from '@nestjs/common';
import { METHOD_METADATA, PATH_METADATA } from '@nestjs/common/constants.js';
import { MetadataScanner, ModulesContainer } from '@nestjs/core';
import { NARROWED, PERMIT } from './permit.js';

/** A route of the interface, and what it needs; null where its author declared nothing. */
export interface DeclaredRoute {
  readonly method: string;
  /** Below `/api`, with its parameters: `/policies/:id`. */
  readonly path: string;
  readonly needs: string | null;
  /** Whether the route applies the limits of its caller. */
  readonly isNarrowed: boolean;
  /** Class and method, for whoever looks for it. */
  readonly handler: string;
}

/** Every route of every controller, by path and method. */
export function declaredRoutes(application: INestApplicationContext): DeclaredRoute[] {
  const scanner = new MetadataScanner();
  const routes: DeclaredRoute[] = [];
  for (const module of application.get(ModulesContainer).values()) {
    for (const { metatype } of module.controllers.values()) {
      if (!metatype) continue;
      const prototype = (metatype as Type).prototype as Record<string, unknown>;
      for (const name of scanner.getAllMethodNames(prototype)) {
        const handler = prototype[name];
        if (typeof handler !== 'function' || !Reflect.hasMetadata(METHOD_METADATA, handler)) continue;
        const needs = (Reflect.getMetadata(PERMIT, handler) ?? Reflect.getMetadata(PERMIT, metatype)) as
          string | undefined;
        const method = RequestMethod[Reflect.getMetadata(METHOD_METADATA, handler) as number] ?? 'GET';
        const path = joined(
          Reflect.getMetadata(PATH_METADATA, metatype) as string,
          Reflect.getMetadata(PATH_METADATA, handler) as string,
        );
        const isNarrowed = Reflect.hasMetadata(NARROWED, handler) || Reflect.hasMetadata(NARROWED, metatype);
        routes.push({ method, path, needs: needs ?? null, isNarrowed, handler: `${metatype.name}.${name}` });
      }
    }
  }
  return routes.sort((left, right) =>
    `${left.path} ${left.method}` < `${right.path} ${right.method}` ? -1 : 1,
  );
}

const joined = (...parts: readonly string[]): string =>
  `/${parts
    .flatMap((part) => part.split('/'))
    .filter(Boolean)
    .join('/')}`;

/** Names every route handler that declares no permission; the server refuses to start when there is one. */
export function undeclaredRoutes(application: INestApplicationContext): string[] {
  return declaredRoutes(application).flatMap(({ needs, handler }) => (needs === null ? [handler] : []));
}
