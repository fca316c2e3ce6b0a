import type { CallHandler, ExecutionContext, NestInterceptor } from '@nestjs/common';
import { Inject, Injectable, SetMetadata, StreamableFile } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { InjectEntityManager } from '@nestjs/typeorm';
import { from, map, mergeMap, type Observable } from 'rxjs';
import { EntityManager } from 'typeorm';
import type { Caller, RequestWithCaller } from '../../platform/auth/permit.js';
import { hidesNames } from '../../platform/auth/sight.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PeopleService } from '../people.service.js';
import { type KnownPerson, Pseudonyms } from './pseudonyms.js';

const SHOWS_NAMES = 'lantern:shows-names';
/** Marks a route that shows names to those from whom they are hidden, because they were asked for with a reason. */
export const ShowsNames = () => SetMetadata(SHOWS_NAMES, true);

/** The directory is read again so often: a new person is hidden by their address at once, and by their name then. */
const FRESH_MS = 30_000;

/**
 * Hides names of people from callers whose roles all say so. It works on whole answers, whatever route they come from, so
 * that no route has to think of it; what leaves as a file is refused.
 */
@Injectable()
export class HiddenNames implements NestInterceptor {
  private readonly remembered = new Map<string, string>();
  private known: { readonly since: number; readonly pseudonyms: Promise<Pseudonyms> } | null = null;

  constructor(
    private readonly reflector: Reflector,
    private readonly people: PeopleService,
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<RequestWithCaller>();
    const { caller } = request;
    if (!caller || !isConcerned(caller, request)) return next.handle();
    if (NAMES.test(pathOf(request))) throw new AppError('not-permitted', NOT_FOR_THEM);
    const shows = this.reflector.get<boolean | undefined>(SHOWS_NAMES, context.getHandler()) === true;
    return from(this.pseudonyms()).pipe(
      mergeMap((pseudonyms) => {
        // What is asked for is read by pipes after this.
        request.body = pseudonyms.show(request.body as unknown);
        request.params = pseudonyms.show(request.params);
        Object.defineProperty(request, 'query', { value: pseudonyms.show(request.query), writable: true });
        return next.handle().pipe(
          map((answer: unknown) => {
            if (answer instanceof StreamableFile)
              throw new AppError(
                'not-permitted',
                'Your role hides names of people, and this file would contain them.',
              );
            return shows ? answer : pseudonyms.hide(answer);
          }),
        );
      }),
    );
  }

  private pseudonyms(): Promise<Pseudonyms> {
    if (this.known && Date.now() - this.known.since <= FRESH_MS) return this.known.pseudonyms;
    const pseudonyms = this.read();
    this.known = { since: Date.now(), pseudonyms };
    // A database that was away for a moment is asked again by the next request.
    pseudonyms.catch(() => (this.known = null));
    return pseudonyms;
  }

  private async read(): Promise<Pseudonyms> {
    const isOutside = await this.people.outsideTest();
    const people: KnownPerson[] = await this.manager.query(
      'SELECT address, name FROM person UNION ALL SELECT address, name FROM former_person',
    );
    const accounts: { email: string; name: string }[] = await this.manager.query(
      'SELECT email, name FROM account',
    );
    const colleagues = new Set(
      accounts.flatMap(({ email, name }) => [email.toLowerCase(), name.toLowerCase()]),
    );
    const isInside = (address: string): boolean => !isOutside(address);
    return new Pseudonyms(this.config.keys.installation, people, {
      ...{ isInside, colleagues, remembered: this.remembered },
    });
  }
}

/** Whoever signs in reads their own name. */
const OWN = /^\/api\/(?:session|own-account|events)(?:\/|$)/u;

/** Where people are looked up by what they are called. */
const NAMES = /^\/api\/(?:people|directory|stand-ins)(?:\/|$)/u;
const NOT_FOR_THEM = 'Your role hides names of people, so your account cannot look people up.';

const pathOf = ({ originalUrl }: RequestWithCaller): string => originalUrl.split('?')[0] ?? '';

const isConcerned = (caller: Caller, request: RequestWithCaller): boolean =>
  hidesNames(caller) && !OWN.test(pathOf(request));
