import type { ReadingData } from './read-tasks.js';

/** The published revision as this machine holds it. */
export interface Revision extends ReadingData {
  readonly revision: number | null;
  /** Patterns that it cannot look for. */
  readonly notHere: readonly string[];
}
