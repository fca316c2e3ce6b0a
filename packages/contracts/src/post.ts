/** A mail that arrived at the stand-in post office, and how. */
export interface PostMailView {
  readonly id: string;
  readonly at: string;
  readonly sender: string;
  readonly recipient: string;
  readonly subject: string;
  /** Version of the encrypted connection it came over; empty for none. */
  readonly tls: string;
  /** It came encrypted for its receiver. */
  readonly encrypted: boolean;
  readonly notToBePassedOn: boolean;
  /** What the receiver reads; null where it is encrypted for somebody whose key is not here. */
  readonly text: string | null;
  readonly files: readonly string[];
}

/** A mail on its way out that has not arrived. */
export interface WaitingPostView {
  readonly id: string;
  readonly at: string;
  readonly sender: string;
  readonly recipient: string;
  readonly state: 'queued' | 'stuck';
  readonly reason: string;
  readonly tries: number;
  readonly nextAt: string | null;
}

export interface PostView {
  readonly arrived: readonly PostMailView[];
  readonly underway: readonly WaitingPostView[];
  /** The SMTP door of the gateway. */
  readonly door: { readonly open: boolean; readonly port: number };
}
