import type { Crossings } from '@lantern/contracts/crossings';
import type { RevisionDocument } from './revision.entity.js';

export const NO_CROSSINGS: Crossings = { services: [], workspaces: [], sets: [] };

/** What a revision says about automations; earlier versions say nothing. */
export function crossingsOf(document: RevisionDocument | undefined): Crossings {
  return document?.crossings ?? NO_CROSSINGS;
}
