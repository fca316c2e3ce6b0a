import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type Config } from '../../platform/config.js';

/** Where a mail is handed in next. */
export interface MailRoute {
  readonly host: string;
  readonly port: number;
}

/** The relay that the configuration names, or what stands in for the world outside. */
@Injectable()
export class MailRoutes {
  private standIn: ((address: string) => MailRoute) | undefined;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  /** The stand-in for the world outside, where there is no relay. */
  standInBy(route: (address: string) => MailRoute): void {
    this.standIn = route;
  }

  /** Throws where neither a relay nor a stand-in is there: the mail stays queued. */
  routeFor(address: string): MailRoute {
    if (this.config.relay) return this.config.relay;
    if (this.standIn) return this.standIn(address);
    throw Object.assign(new Error('No relay is configured'), { code: 'NO-RELAY' });
  }
}
