import { createParamDecorator, type ExecutionContext, Injectable } from '@nestjs/common';
import type { Request } from 'express';
import { PeopleService, type Player } from '../../directory/people.service.js';

/** Who uses the drive, and from where. */
export interface Played {
  readonly id: string;
  /** They use a machine that the organisation does not look after. */
  readonly onStrange: boolean;
  /** They come over a network that the organisation does not trust. */
  readonly onForeign: boolean;
  /** Somebody outside who said who they are. */
  readonly signedIn: boolean;
}

/**
 * Reads who is played out of the address: `?on=own` is a machine of their own, `?net=foreign` a network
 * that the organisation does not trust, `?signed=yes` a sign-in.
 */
export const PlayedBy = createParamDecorator((_: unknown, context: ExecutionContext): Played => {
  const { params, query } = context.switchToHttp().getRequest<Request>();
  return {
    id: String(params['player'] ?? ''),
    onStrange: query['on'] === 'own',
    onForeign: query['net'] === 'foreign',
    signedIn: query['signed'] === 'yes',
  };
});

/** Name under which a machine that nobody looks after stands in movements. */
const OWN_MACHINE = 'a machine of their own';

/** People at the drive with the machine they use. */
@Injectable()
export class Players {
  constructor(private readonly people: PeopleService) {}

  async of({ id, onStrange, onForeign, signedIn }: Played): Promise<Player> {
    const player = await this.people.player(id);
    // Machines of people outside are never the organisation's.
    const strange = onStrange || player.outside;
    return {
      ...player,
      ...(strange ? { machine: { name: OWN_MACHINE, state: 'strange' as const, groups: [] } } : {}),
      // Nor are their networks.
      ...(onForeign || player.outside ? { network: 'foreign' as const } : {}),
      ...(signedIn ? { signedIn } : {}),
    };
  }
}
