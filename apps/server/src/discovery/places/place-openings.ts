import type { EntityManager } from 'typeorm';

/** What a label on a place would end or close, counted before anybody sets it. */
export interface OpeningsEnded {
  /** Links and shares of single items that would stop working. */
  readonly links: number;
  /** People outside who would no longer come in, by address. */
  readonly people: readonly string[];
  /** Everybody inside who was not added would no longer come in. */
  readonly closesInside: boolean;
  /** People who took copies lately and could no longer. */
  readonly takers: readonly string[];
}

/** Whoever opens places for people provides this: a label on a place acts at once, also on what was opened before. */
export abstract class PlaceOpenings {
  /** What the terms of a label would end at a place of the directory; null takes the label off. */
  abstract preview(directoryPlaceId: string, label: string | null): Promise<OpeningsEnded>;

  /** Links and shares by which people outside open single items of a place now. */
  abstract outsideLinks(directoryPlaceId: string): Promise<number>;

  /** Ends those. */
  abstract endOutside(directoryPlaceId: string): Promise<void>;

  /** A file lies in another place from now on, at the same path: what was opened of it goes with it. */
  abstract moved(
    manager: EntityManager,
    path: string,
    way: { readonly from: string; readonly to: string },
  ): Promise<void>;

  /** A place has another label, or another reach: everything that was opened in it is looked at anew. */
  abstract follow(directoryPlaceId: string): Promise<void>;
}
