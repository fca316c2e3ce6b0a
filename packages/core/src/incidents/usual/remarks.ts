import { LEAST_HISTORY_DAYS, medianOf, unusual, UNUSUAL_CHANCE } from './rate.js';

const DAY_MS = 86_400_000;
/** "Lately" in the remarks. */
export const LATELY_DAYS = 7;
/** Amounts below which "so many times the usual" says nothing. */
const LEAST_AMOUNTS = 8;
const NOTABLE_FACTOR = 5;

/** One earlier movement of a person, as far as the remarks ask. */
export interface PastMovement {
  /** Milliseconds since 1970, UTC. */
  readonly at: number;
  readonly channel: string;
  readonly domains: readonly string[];
  readonly incident: boolean;
  /** Rules that held for it. */
  readonly rules: readonly string[];
  /** Distinct values found in it. */
  readonly values: number;
}

/** What is worth saying about a movement beside what its person usually does. */
export type Remark =
  | {
      readonly code: 'incidents-lately';
      readonly count: number;
      readonly days: number;
      readonly usual: number;
      readonly chance: number;
    }
  | {
      readonly code: 'same-rule-lately';
      readonly rule: string;
      readonly count: number;
      readonly days: number;
      readonly usual: number;
      readonly chance: number;
    }
  | {
      readonly code: 'more-movements';
      readonly count: number;
      readonly days: number;
      readonly usual: number;
      readonly chance: number;
    }
  | { readonly code: 'first-to-domain'; readonly domain: string; readonly days: number }
  | { readonly code: 'first-by-channel'; readonly channel: string; readonly days: number }
  | {
      readonly code: 'times-usual-values';
      readonly values: number;
      readonly usual: number;
      readonly factor: number;
    }
  | { readonly code: 'short-history'; readonly days: number };

/**
 * Remarks about a movement from what its person moved before, the most unusual first. `since` is the instant from which
 * movements are known; with less than {@link LEAST_HISTORY_DAYS} before the last week only that is said.
 */
export function remarksOn(movement: PastMovement, past: readonly PastMovement[], since: number): Remark[] {
  const lately = movement.at - LATELY_DAYS * DAY_MS;
  const beforeDays = (lately - since) / DAY_MS;
  if (beforeDays < LEAST_HISTORY_DAYS)
    return [{ code: 'short-history', days: Math.max(0, Math.round((movement.at - since) / DAY_MS)) }];
  const earlier = past.filter(({ at }) => at < movement.at && at >= since);
  const rates = [
    ...rate('incidents-lately', earlier, movement.incident ? movement : null, ({ incident }) => incident),
    ...rate('more-movements', earlier, movement, () => true),
  ];
  const sameRules = movement.rules.flatMap((rule) =>
    rate('same-rule-lately', earlier, movement, ({ rules }) => rules.includes(rule)).map((remark) => ({
      ...remark,
      rule,
    })),
  );
  const [worstRule] = sameRules.sort((one, other) => one.chance - other.chance);
  const unusualRates = [...rates, ...(worstRule ? [worstRule] : [])].sort(
    (one, other) => one.chance - other.chance,
  ) as Remark[];
  return [...unusualRates, ...firsts(movement, earlier, since), ...amounts(movement, earlier)];

  function rate<Code extends string>(
    code: Code,
    before: readonly PastMovement[],
    now: PastMovement | null,
    counts: (one: PastMovement) => boolean,
  ) {
    if (!now) return [];
    const counted = before.filter(counts);
    const count = counted.filter(({ at }) => at >= lately).length + 1;
    const older = counted.length - count + 1;
    const found = unusual({ count, days: LATELY_DAYS }, { before: older, beforeDays });
    return found && count > 1 && found.chance < UNUSUAL_CHANCE
      ? [{ code, count, days: LATELY_DAYS, ...found }]
      : [];
  }
}

function firsts(movement: PastMovement, earlier: readonly PastMovement[], since: number): Remark[] {
  const days = Math.round((movement.at - since) / DAY_MS);
  const domains = new Set(earlier.flatMap((one) => one.domains));
  const firstDomain = movement.domains.find((domain) => !domains.has(domain));
  const newChannel = earlier.length > 0 && !earlier.some(({ channel }) => channel === movement.channel);
  return [
    ...(firstDomain ? [{ code: 'first-to-domain' as const, domain: firstDomain, days }] : []),
    ...(newChannel ? [{ code: 'first-by-channel' as const, channel: movement.channel, days }] : []),
  ];
}

function amounts(movement: PastMovement, earlier: readonly PastMovement[]): Remark[] {
  const held = earlier.flatMap(({ values }) => (values > 0 ? [values] : []));
  const usual = held.length >= LEAST_AMOUNTS ? medianOf(held) : null;
  if (!usual || movement.values < usual * NOTABLE_FACTOR) return [];
  return [
    {
      code: 'times-usual-values',
      values: movement.values,
      usual,
      factor: Math.round(movement.values / usual),
    },
  ];
}
