import {
  type Label,
  mayInPlace,
  OPEN_PLACE,
  type Effect,
  type InPlace,
  opensByItself,
  type PlaceTerms,
} from '@lantern/core/labels';
import type { HandledPlace } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { handlerOf, type Player } from '../../../directory/people.service.js';
import { PlaceEntity } from '../../../directory/place.entity.js';
import { DiscoveryPlaceEntity } from '../../../discovery/places/discovery-place.entity.js';
import { labelRefusal } from '../../../movements/notice/label-refusal.js';
import { labelById, labelsOf } from '../../../published/published-labels.js';
import { PublishedRevision } from '../../../published/published-revision.js';

/** A place of the directory with what its label asks of everybody. */
export interface PlaceGuard {
  readonly place: PlaceEntity;
  readonly label: Label | null;
  readonly terms: PlaceTerms;
  /** The place itself is for more than the few who were added. */
  readonly isWide: boolean;
  /** Everybody inside comes in without being added. */
  readonly opensInside: boolean;
}

/** How something of a place is opened or used. */
export type PlaceUse = Pick<InPlace, 'kind'> & Partial<Pick<InPlace, 'byLink' | 'reachesOutside'>>;

/** Guards of places as they stand now: a label acts at once, because everybody who opens something asks here. */
@Injectable()
export class PlaceGuards {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly published: PublishedRevision,
  ) {}

  async of(placeId: string | null): Promise<PlaceGuard | null> {
    if (placeId === null) return null;
    const place = await this.manager.findOneBy(PlaceEntity, { id: placeId });
    return place && ((await this.all([place]))[0] ?? null);
  }

  async all(places: readonly PlaceEntity[]): Promise<PlaceGuard[]> {
    const known = await this.manager.find(DiscoveryPlaceEntity);
    return places.map((place) => {
      const found = known.find(({ directoryPlaceId }) => directoryPlaceId === place.id);
      return this.guard(place, found?.labelId ?? null, found?.reach !== 'few');
    });
  }

  /** The guard that a place would have under another label. */
  under({ place, isWide }: PlaceGuard, label: string | null): PlaceGuard {
    return this.guard(place, label, isWide);
  }

  private guard(place: PlaceEntity, labelId: string | null, isWide: boolean): PlaceGuard {
    const label = labelById(labelsOf(this.published.current?.document), labelId ?? undefined);
    const terms = label?.place ?? OPEN_PLACE;
    return { place, label, terms, isWide, opensInside: isWide && opensByItself(terms) };
  }
}

const isAt = (addresses: readonly string[], address: string): boolean =>
  addresses.some((each) => each.toLowerCase() === address.toLowerCase());

/** Whether somebody belongs to a place: its owner, and whoever was added. */
export function belongs({ place }: PlaceGuard, { address, outside }: Player): boolean {
  return isAt([place.owner, ...(outside ? place.sharedOutside : place.members)], address);
}

/** Whether somebody learns that a place exists. */
export function finds(guard: PlaceGuard, player: Player): boolean {
  return belongs(guard, player) || (!player.outside && guard.terms.found === 'inside');
}

/** Whether somebody comes in at all, before the terms are asked about what they do there. */
export function comesIn(guard: PlaceGuard, player: Player): boolean {
  return belongs(guard, player) || (!player.outside && guard.opensInside);
}

/** Why the place does not let somebody do something; null where it does. */
export function placeRefusal(
  guard: PlaceGuard | null,
  effect: Effect,
  player: Player,
  use: PlaceUse,
): string | null {
  if (!guard?.label) return null;
  const leave = mayInPlace(effect, handlerOf(player), asInPlace(player, use), guard.terms);
  if (leave.allowed) return null;
  return labelRefusal(
    { label: guard.label, effect, clause: leave.clause, owner: guard.place.owner },
    player.person?.language ?? 'en',
  );
}

/** How a movement says in which labelled place its item lies. */
export function handledPlaces(
  guard: PlaceGuard | null,
  item: string,
  player: Player,
  use: PlaceUse,
): HandledPlace[] {
  if (!guard?.label) return [];
  return [{ label: guard.label.id, item, owner: guard.place.owner, ...asInPlace(player, use) }];
}

function asInPlace(player: Player, { kind, byLink = false, reachesOutside = false }: PlaceUse): InPlace {
  return {
    ...{ kind, byLink, reachesOutside },
    strange: player.machine?.state === 'strange',
    foreign: player.network === 'foreign',
    // People whom the directory knows have said who they are; whoever else holds a link has not.
    signedIn: player.person !== null || player.signedIn === true,
  };
}
