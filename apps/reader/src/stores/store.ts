import type { Store, StoreAddress, StoreProblem } from '@lantern/contracts/discovery';

/** An item as a store lists it. */
export interface StoreItem {
  /** Path below the place, with `/`. */
  readonly path: string;
  readonly bytes: number;
  /** ISO 8601; null where the store does not know. */
  readonly changedAt: string | null;
  /** The store's own sign of a version. */
  readonly marker: string;
  readonly owner?: string;
}

/** Content of an item: bytes, or a path that a process can open itself; or why there is neither. */
export type StoreContent =
  /** `large` is its size in bytes where it is more than is opened in one go. */
  | { readonly kind: 'path'; readonly path: string; readonly large?: number }
  | { readonly kind: 'bytes'; readonly name: string; readonly bytes: Uint8Array }
  | { readonly kind: 'unreadable'; readonly reason: string }
  | { readonly kind: 'gone' };

/** A place that is open. */
export interface OpenStore {
  /** Every item, in pages, as the store gives them; nothing is held but a page. `skips` leaves out whole folders. */
  list(skips: (folder: string) => boolean): AsyncIterable<StoreItem>;
  content(path: string): Promise<StoreContent>;
  close(): Promise<void>;
}

/** What is wrong with a whole place, so that nothing of it can be read. */
export class StoreFault extends Error {
  constructor(readonly problem: StoreProblem) {
    super(problem);
  }
}

/** Where a place is, with its secret in the clear. */
export interface StoreOpening {
  readonly store: Store;
  readonly address: StoreAddress;
  readonly secret: string | null;
  /** Folders of this machine that may be opened. */
  readonly allowed: readonly string[];
}
