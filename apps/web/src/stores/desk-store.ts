import type { LiveEvent } from '@lantern/contracts';
import { create } from 'zustand';

/** Incidents that are picked for one decision: one by one, or all under a filter but for exceptions. */
export type Picked =
  | { readonly kind: 'none' }
  | { readonly kind: 'some'; readonly numbers: ReadonlySet<number> }
  | {
      readonly kind: 'all';
      readonly filter: string;
      readonly total: number;
      readonly except: ReadonlySet<number>;
      /** What they are, as people read it. */
      readonly what: string;
    };

interface DeskStore {
  readonly picked: Picked;
  /** Incidents that came since the list was fetched. */
  readonly news: number;
  pick(numbers: readonly number[]): void;
  pickAll(all: { readonly filter: string; readonly total: number; readonly what: string }): void;
  /** `isUnder` says whether the row stands under the picked filter: elsewhere it begins a new choice. */
  toggle(number: number, isUnder?: boolean): void;
  clear(): void;
  noteNews(): void;
  newsSeen(): void;
}

/** Announces what was recorded since the list was fetched, instead of moving its rows. */
export function heardByDesk(event: LiveEvent): void {
  if (event.kind === 'incident-recorded') useDesk.getState().noteNews();
}

const NONE: Picked = { kind: 'none' };

export const useDesk = create<DeskStore>((set) => ({
  picked: NONE,
  news: 0,
  pick: (numbers) => set({ picked: numbers.length > 0 ? { kind: 'some', numbers: new Set(numbers) } : NONE }),
  pickAll: (all) => set({ picked: { kind: 'all', ...all, except: new Set() } }),
  toggle: (number, isUnder = true) =>
    set(({ picked }) => ({ picked: toggled(isUnder ? picked : NONE, number) })),
  clear: () => set({ picked: NONE }),
  noteNews: () => set(({ news }) => ({ news: news + 1 })),
  newsSeen: () => set({ news: 0 }),
}));

function toggled(picked: Picked, number: number): Picked {
  const changed = (numbers: ReadonlySet<number>) => {
    const next = new Set(numbers);
    if (!next.delete(number)) next.add(number);
    return next;
  };
  if (picked.kind === 'all') return { ...picked, except: changed(picked.except) };
  const numbers = changed(picked.kind === 'some' ? picked.numbers : new Set());
  return numbers.size > 0 ? { kind: 'some', numbers } : NONE;
}

/** How many incidents a decision would be about. */
export function countOf(picked: Picked): number {
  if (picked.kind === 'none') return 0;
  return picked.kind === 'some' ? picked.numbers.size : picked.total - picked.except.size;
}

/** Whether one incident is among them; `under` says whether it is under the picked filter. */
export function isPicked(picked: Picked, number: number, under: (filter: string) => boolean): boolean {
  if (picked.kind === 'some') return picked.numbers.has(number);
  return picked.kind === 'all' && under(picked.filter) && !picked.except.has(number);
}
