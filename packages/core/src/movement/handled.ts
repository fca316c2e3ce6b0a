import type { Effect, Named } from '../labels/handling.js';
import type { InPlace } from '../labels/place-terms.js';

/** A labelled item that a movement does something with. */
export interface HandledInMovement {
  /** Id of its label. */
  readonly label: string;
  /** Name of the item as people know it. */
  readonly item: string;
  /** Address of its owner, who keeps every effect; empty where nobody knows. */
  readonly owner: string;
  /** When the label was set, in milliseconds since 1970, UTC. */
  readonly since: number;
  /** People whom the setter named. */
  readonly named: Named;
}

/** A place with a label, where something lies that a movement does something with. */
export interface HandledPlace extends InPlace {
  /** Id of the label of the place. */
  readonly label: string;
  /** Name of the item as people know it. */
  readonly item: string;
  /** Address of whoever answers for the place. */
  readonly owner: string;
}

/** What a movement does in terms of labels, and with which items. */
export interface Handled {
  readonly effects: readonly Effect[];
  /** Whether whoever moves it is outside the organisation. */
  readonly outside: boolean;
  readonly items: readonly HandledInMovement[];
  readonly places?: readonly HandledPlace[];
}
