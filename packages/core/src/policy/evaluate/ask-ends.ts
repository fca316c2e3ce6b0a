import { CHANNEL_ABILITIES } from '../model/answers.js';
import { clockIn, minutesOf } from './condition.js';
import type { Channel } from '../../movement/movement.js';
import type { AskTerms } from '../model/rule.js';

const MINUTE_MS = 60_000;
const DAY_MINUTES = 24 * 60;

/**
 * When a question ends that is put at `at` (milliseconds since 1970, UTC): after the minutes it is given or, where the rule
 * names a time of day and the channel leaves time, at the first such time that leaves at least those minutes.
 */
export function askEnds({ minutes, closes }: AskTerms, channel: Channel, at: number): number {
  const least = at + minutes * MINUTE_MS;
  const wanted = closes ? minutesOf(closes.time) : -1;
  if (!closes || wanted === -1 || CHANNEL_ABILITIES[channel].question === 'while-open') return least;
  // To the minute, and not before the least.
  const from = Math.ceil(least / MINUTE_MS) * MINUTE_MS;
  const missing = (there: number): number =>
    (((wanted - clockIn(closes.zone, there).minutes) % DAY_MINUTES) + DAY_MINUTES) % DAY_MINUTES;
  const end = from + missing(from) * MINUTE_MS;
  // Clocks that were set on or back in between are an hour off; the nearer way round mends it.
  const off = missing(end);
  return off === 0 ? end : end + (off > DAY_MINUTES / 2 ? off - DAY_MINUTES : off) * MINUTE_MS;
}
