import { domainOf } from '../../directory/address.js';
import type { LinkKind, Recipient } from '../../movement/movement.js';
import type { Spot } from '../../movement/location.js';

/** Who is meant by a link, told apart by direction as people are. */
const LINKED: Readonly<Record<LinkKind, Recipient | undefined>> = {
  'only-named': undefined,
  'whole-house': { address: 'everybody in the house', outside: false },
  'whoever-holds-it': { address: 'anybody with the link', outside: true },
};

/**
 * What data is put into and whoever a link opens for, as recipients: a site that is not under an own domain, a device that
 * is not trusted and a link for whoever holds it are outside, so that rules about direction hold on every channel.
 */
export function targetsOf(
  { into = [], link }: { readonly into?: readonly Spot[] | undefined; readonly link?: LinkKind | undefined },
  isOutside: (domain: string) => boolean,
): Recipient[] {
  const spots = into.flatMap((spot): Recipient[] => {
    if (spot.kind === 'host')
      return [{ address: spot.host.toLowerCase(), outside: isOutside(domainOf(spot.host)) }];
    return spot.kind === 'device' ? [{ address: spot.name, outside: !spot.trusted }] : [];
  });
  const linked = link && LINKED[link];
  return linked ? [...spots, linked] : spots;
}
