import type { ReadResult } from '@lantern/contracts/discovery';

/** An item that could not be looked into, with the reason. */
export function unreadable(id: string, reason: string): ReadResult {
  return {
    ...{
      id,
      status: reason === 'gone' ? 'gone' : 'unreadable',
      reason,
      digest: null,
      bytes: 0,
      characters: 0,
    },
    ...{
      found: [],
      excerpts: [],
      unreadableParts: [],
      label: null,
      suggested: null,
      labelled: false,
      refusal: null,
    },
  };
}
