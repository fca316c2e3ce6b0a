import type { CallHandler, ExecutionContext, NestInterceptor } from '@nestjs/common';
import { Injectable } from '@nestjs/common';
import { finalize, mergeMap, Observable } from 'rxjs';
import type { RequestWithCaller } from '../auth/permit.js';
import { type RecordedAct, recording } from '../database/recorded-act.js';
import { Trail } from './trail.service.js';

/** Requests that only read. */
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);
/**
 * Routes that change nothing of the workbench: people of the stand-ins act there and their movements are recorded as
 * incidents; the Lantern and previews keep nothing; signing in and out is recorded where it is decided.
 */
const ELSEWHERE =
  /^\/api\/(?:stand-ins|lantern|session|intake|events|welcome|questions)(?:\/|$)|^\/api\/(?:set\/policy-text|set\/policies\/[^/]+\/text|specimens\/journal|scim\/v2\/[^/]+\/\.search|labels\/suggestions|records\/uploads|insight\/prevent|insight\/reports\/schedule|insight\/weights\/of\/[^/]+)$/;

/**
 * Writes every change that somebody signed in made into the trail, in the transaction of its first change, named by its
 * route: a new route is recorded without its author thinking of it. Ids of the route are kept, nothing of the body.
 */
@Injectable()
export class TrailInterceptor implements NestInterceptor {
  constructor(private readonly trail: Trail) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<RequestWithCaller>();
    const { caller, method } = request;
    const path = request.originalUrl.split('?')[0] ?? '';
    if (!caller || READING.has(method) || ELSEWHERE.test(path)) return next.handle();
    const { path: route } = (request.route ?? {}) as { readonly path?: string };
    const params = Object.entries(request.params).filter(
      (entry): entry is [string, string] => typeof entry[1] === 'string',
    );
    const act = {
      actor: caller.email,
      action: `${method} ${(route ?? path).replace(/^\/api/, '')}`,
      target: params[0]?.[1] ?? '',
      facts: {
        ...Object.fromEntries(params.slice(1)),
        ...(caller.inPlaceOf ? { inPlaceOf: caller.inPlaceOf } : {}),
      },
    };
    const recorded: RecordedAct = {
      write: (manager) => this.trail.write(manager, act),
      isWritten: false,
      isOver: false,
    };
    const handled = new Observable<unknown>((subscriber) =>
      recording(recorded, () => next.handle().subscribe(subscriber)),
    );
    return handled.pipe(
      mergeMap(async (answer): Promise<unknown> => {
        // What it changed stands elsewhere than in the database.
        if (!recorded.isWritten) await this.trail.add(act);
        return answer;
      }),
      finalize(() => (recorded.isOver = true)),
    );
  }
}
