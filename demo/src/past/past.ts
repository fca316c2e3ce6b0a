import { chance } from '@lantern/testkit';
import { directory } from '../directory.js';
import type { DemoPastMovement } from './movement.js';
import {
  flood,
  leaver,
  ordinary,
  others,
  purchase,
  refunds,
  singleCards,
  type Stage,
  tides,
} from './scenes.js';

/**
 * Some 20,000 movements of the last twelve weeks, the oldest first, the same for the same `now` (milliseconds since
 * 1970). `part` is the share of the quiet ones and of the repeated scenes that are made, for tests that need less.
 */
export function past(now: number, part = 1): DemoPastMovement[] {
  const stage: Stage = { random: chance(12_026), people: directory(), now };
  const thinned = (movements: DemoPastMovement[]) => movements.slice(0, Math.ceil(movements.length * part));
  const scenes = [ordinary, tides, refunds, singleCards, others].flatMap((scene) => thinned(scene(stage)));
  return [...scenes, ...leaver(stage), ...thinned(flood(stage)), ...purchase(stage)].sort(
    (one, other) => one.at - other.at,
  );
}
