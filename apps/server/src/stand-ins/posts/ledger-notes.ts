import type { Way } from './posts.service.js';

/** What the ledger is called in rules. */
export const LEDGER_NAME = 'Booking and freight ledger';

/** Where notes between colleagues stand. */
export const NOTES = 'notes';

/** How a note moves: everybody who uses the ledger reads it. */
export const NOTE_WAY: Way = {
  ...{ channel: 'business', activity: 'write', to: [], link: 'whole-house' },
  into: [{ kind: 'application', name: LEDGER_NAME }],
};
