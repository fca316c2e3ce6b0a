/** Somebody who showed who they are, and is believed for a while. */
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

/** What the phone of somebody at work shows: the code of their second factor. */
export interface PhoneView {
  readonly code: string;
  /** Until the next code. */
  readonly secondsLeft: number;
}
