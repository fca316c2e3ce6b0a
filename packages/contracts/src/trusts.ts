import type { PersonPasskeyView } from './passkeys.js';

/** A confirmed identity: the person is not asked for a second factor again until a stated time. */
export interface TrustView {
  readonly id: string;
  readonly person: { readonly address: string; readonly name: string };
  /** `everywhere`, `application …` or `channel …`. */
  readonly place: string;
  /** The incident at which it was proved. */
  readonly incident: number;
  readonly since: string;
  readonly until: string;
  /** Ended before its time, by whom; null where nobody did. */
  readonly ended: { readonly at: string; readonly by: string } | null;
  readonly holds: boolean;
}

/** The code that a person's phone shows now. */
export interface PhoneView {
  readonly code: string;
  /** Until the next code. */
  readonly secondsLeft: number;
  readonly passkeys: readonly PersonPasskeyView[];
}
