import type { DemoFile } from '../documents.js';

/** What an analyst of the demo made of an incident. */
export type DemoOutcome = 'false-positive' | 'allowed' | 'harm-slip' | 'harm-ignorance' | 'harm-intent';

/** One movement of the weeks that the demo looks back on. Nobody's mailbox or machine keeps it: it is history. */
export interface DemoPastMovement {
  /** Milliseconds since 1970, UTC. */
  readonly at: number;
  readonly person: string;
  readonly channel: 'mail' | 'browser' | 'endpoint';
  readonly to: readonly string[];
  readonly subject: string;
  readonly text: string;
  readonly files: readonly DemoFile[];
  /** A site, a program or a device of the stand-ins; empty for mail. */
  readonly place: string;
  readonly activity: 'send' | 'type' | 'paste' | 'copy' | 'print';
  /** The program it was taken from; empty for none. */
  readonly takenFrom: string;
  /** What is decided about the incident, if it becomes one and is old enough. */
  readonly outcome: DemoOutcome | null;
  /** The person's reason for an override, and what became of it. */
  readonly override: { readonly words: string; readonly approved: boolean } | null;
}

/** A movement with what most of them do not have. */
export function pastMovement(
  given: Pick<DemoPastMovement, 'at' | 'person' | 'channel'> & Partial<DemoPastMovement>,
): DemoPastMovement {
  return {
    to: [],
    subject: '',
    text: '',
    files: [],
    place: '',
    activity: given.channel === 'mail' ? 'send' : 'paste',
    takenFrom: '',
    outcome: null,
    override: null,
    ...given,
  };
}
