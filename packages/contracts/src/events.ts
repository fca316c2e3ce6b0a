import type { IntakeResult, UnfinishedChoice } from './intake.js';

export interface EventsAnswer {
  readonly results: readonly EventVerdict[];
  /** Each is answered within so many seconds; what was not read to its end by then is treated as `unfinished` says. */
  readonly seconds: number;
  readonly unfinished: UnfinishedChoice;
}

/** An answer to an event: `movement` is the id by which it is found, replied to and proved at the intake. */
export type EventVerdict =
  | (Omit<Extract<IntakeResult, { readonly status: 'judged' }>, 'id' | 'key'> & {
      readonly source: string;
      readonly id: string;
      readonly movement: string;
    })
  | {
      readonly status: 'refused';
      readonly source: string;
      readonly id: string;
      readonly code: string;
      readonly message: string;
    };
