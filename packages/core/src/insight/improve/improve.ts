import type { MachineGap, MachineGapCode } from './machine-gaps.js';
import type { Label } from '../../labels/label.js';
import type { Offer } from '../../labels/offer.js';
import type { Channel } from '../../movement/movement.js';
import type { CoverageCell } from '../../policy/coverage/coverage.js';
import type { Policy } from '../../policy/model/rule.js';
import { remarksOnRule, type RuleFigures } from '../rules/rule-cost.js';

const DAY_MS = 86_400_000;
/** An agent that said nothing for so long guards nothing. */
export const SILENT_AFTER_MS = DAY_MS;
/** Days after which a draft that nobody publishes is forgotten rather than thought over. */
const FORGOTTEN_DAYS = 7;

/** Something that could be better, with its effect in numbers. */
export type Improvement =
  | {
      readonly code: 'rule-mostly-false';
      readonly rule: string;
      readonly falsePositives: number;
      readonly decided: number;
      readonly people: number;
    }
  | {
      readonly code: 'rule-against-work';
      readonly rule: string;
      readonly approved: number;
      readonly asked: number;
    }
  | { readonly code: 'rule-never-fired'; readonly rule: string; readonly policy: string }
  | {
      readonly code: 'unguarded';
      readonly channel: Channel;
      readonly patterns: readonly string[];
      readonly movements: number;
    }
  | {
      readonly code: 'ceiling-over';
      readonly policy: string;
      readonly until: string;
      readonly matches: number;
    }
  | { readonly code: 'label-offered-to-nobody'; readonly label: string; readonly name: string }
  | { readonly code: 'requests-late'; readonly count: number; readonly oldest: number }
  | { readonly code: 'incidents-overdue'; readonly count: number }
  | {
      readonly code: 'agent-silent';
      readonly agent: string;
      readonly name: string;
      readonly since: number | null;
    }
  | {
      readonly code: 'machine-gap';
      readonly name: string;
      readonly gaps: readonly MachineGapCode[];
      readonly since: number | null;
    }
  | {
      readonly code: 'clean-up-overdue';
      readonly place: string;
      readonly name: string;
      readonly left: number;
      readonly dueOn: string;
    }
  | { readonly code: 'specimens-failing'; readonly pattern: string; readonly count: number }
  | { readonly code: 'draft-forgotten'; readonly changes: number; readonly since: number }
  | { readonly code: 'decided-differently'; readonly groups: number; readonly numbers: readonly number[] };

/** What is read of the real state. Times are milliseconds since 1970, UTC. */
export interface StateFacts {
  readonly now: number;
  readonly policies: readonly Policy[];
  readonly labels: readonly Label[];
  readonly offers: readonly Offer[];
  /** Figures of the last weeks by rule; those without matches are missing. */
  readonly rules: ReadonlyMap<string, RuleFigures>;
  /** Since when everything is published: what is younger had no time to fire. */
  readonly publishedAt: number | null;
  readonly coverage: readonly CoverageCell[];
  readonly movements: Readonly<Partial<Record<Channel, number>>>;
  /** Requests that wait beyond their deadline, or for more than a day where they have none. */
  readonly lateRequests: readonly number[];
  readonly overdue: number;
  readonly agents: readonly {
    readonly id: string;
    readonly name: string;
    readonly created: number;
    readonly lastSeen: number | null;
  }[];
  /** Machines that watch folders, and on which rules hold for less than they say. */
  readonly machineGaps: readonly MachineGap[];
  /** Requests to clean up a place that are past their day with something left. */
  readonly lateCleanUps: readonly {
    readonly place: string;
    readonly name: string;
    readonly left: number;
    readonly dueOn: string;
  }[];
  readonly failingSpecimens: ReadonlyMap<string, number>;
  readonly draft: { readonly changes: number; readonly since: number } | null;
  readonly differently: { readonly groups: number; readonly numbers: readonly number[] };
}

/** Weeks without a match after which a rule is pointed out. */
export const NEVER_FIRED_DAYS = 28;

/** What to do next, the heaviest first: what lets data out, then what stops people without need, then what is left lying. */
export function improvements(facts: StateFacts): Improvement[] {
  return [
    ...unguarded(facts),
    ...ceilings(facts),
    ...facts.agents.flatMap((agent) => silent(agent, facts.now)),
    ...machines(facts),
    ...facts.lateCleanUps.map((late) => ({ code: 'clean-up-overdue' as const, ...late })),
    ...rules(facts),
    ...late(facts),
    ...(facts.overdue > 0 ? [{ code: 'incidents-overdue' as const, count: facts.overdue }] : []),
    ...[...facts.failingSpecimens].map(([pattern, count]) => ({
      code: 'specimens-failing' as const,
      pattern,
      count,
    })),
    ...(facts.differently.groups > 0 ? [{ code: 'decided-differently' as const, ...facts.differently }] : []),
    ...labels(facts),
    ...forgotten(facts),
    ...unused(facts),
  ];
}

/** Names one improvement, so that it is known again when it is gone. */
export function improvementKey(improvement: Improvement): string {
  switch (improvement.code) {
    case 'rule-mostly-false':
    case 'rule-against-work':
    case 'rule-never-fired':
      return `${improvement.code} ${improvement.rule}`;
    case 'unguarded':
      return `${improvement.code} ${improvement.channel}`;
    case 'ceiling-over':
      return `${improvement.code} ${improvement.policy}`;
    case 'label-offered-to-nobody':
      return `${improvement.code} ${improvement.label}`;
    case 'agent-silent':
      return `${improvement.code} ${improvement.agent}`;
    case 'machine-gap':
      return `${improvement.code} ${improvement.name}`;
    case 'clean-up-overdue':
      return `${improvement.code} ${improvement.place}`;
    case 'specimens-failing':
      return `${improvement.code} ${improvement.pattern}`;
    case 'requests-late':
    case 'incidents-overdue':
    case 'draft-forgotten':
    case 'decided-differently':
      return improvement.code;
  }
}

function rules({ policies, rules: figures }: StateFacts): Improvement[] {
  return policies.flatMap((policy) =>
    policy.rules.flatMap(({ id }): Improvement[] => {
      const found = figures.get(id);
      if (!found) return [];
      const { falsePositives, decided, people, approved, overridesAsked } = found;
      return remarksOnRule(found).flatMap((remark): Improvement[] => {
        if (remark.code === 'mostly-false')
          return [{ code: 'rule-mostly-false', rule: id, falsePositives, decided, people }];
        return remark.code === 'against-work'
          ? [{ code: 'rule-against-work', rule: id, approved, asked: overridesAsked }]
          : [];
      });
    }),
  );
}

function unused({ policies, rules: figures, publishedAt, now }: StateFacts): Improvement[] {
  if (publishedAt === null || now - publishedAt < NEVER_FIRED_DAYS * DAY_MS) return [];
  return policies.flatMap((policy) =>
    policy.rules
      .filter(({ id, silence }) => silence === null && (figures.get(id)?.matches ?? 0) === 0)
      .map(({ id }) => ({ code: 'rule-never-fired' as const, rule: id, policy: policy.id })),
  );
}

/** Channels on which data leaves that other channels guard. */
function unguarded({ coverage, movements }: StateFacts): Improvement[] {
  const outside = coverage.filter(({ side }) => side === 'outside');
  const isGuarded = ({ shares }: CoverageCell) => shares.some(({ answer }) => answer !== null);
  const guarded = new Set(outside.filter(isGuarded).map(({ pattern }) => pattern));
  const open = new Map<Channel, string[]>();
  for (const cell of outside)
    if (!isGuarded(cell) && guarded.has(cell.pattern))
      open.set(cell.channel, [...(open.get(cell.channel) ?? []), cell.pattern]);
  return [...open]
    .map(([channel, patterns]) => ({
      code: 'unguarded' as const,
      ...{ channel, patterns, movements: movements[channel] ?? 0 },
    }))
    .filter((one) => one.movements > 0)
    .sort((one, other) => other.movements - one.movements);
}

function ceilings({ policies, rules: figures, now }: StateFacts): Improvement[] {
  const today = new Date(now).toISOString().slice(0, 10);
  return policies.flatMap(({ id, ceilings: all, rules: own }) => {
    const over = all.flatMap(({ until }) => (until !== null && until < today ? [until] : [])).sort();
    const last = over.at(-1);
    const matches = own.reduce((sum, rule) => sum + (figures.get(rule.id)?.matches ?? 0), 0);
    return last === undefined ? [] : [{ code: 'ceiling-over' as const, policy: id, until: last, matches }];
  });
}

function labels({ labels: all, offers }: StateFacts): Improvement[] {
  const offered = new Set(offers.flatMap((offer) => offer.labels));
  return all
    .filter(({ id, retired }) => !retired && !offered.has(id))
    .map(({ id, name }) => ({ code: 'label-offered-to-nobody' as const, label: id, name }));
}

function silent(agent: StateFacts['agents'][number], now: number): Improvement[] {
  const heard = agent.lastSeen ?? agent.created;
  if (now - heard < SILENT_AFTER_MS) return [];
  return [{ code: 'agent-silent', agent: agent.id, name: agent.name, since: agent.lastSeen }];
}

/** One for each machine, whatever is wrong with it. */
function machines({ machineGaps }: StateFacts): Improvement[] {
  const names = [...new Set(machineGaps.map(({ name }) => name))];
  return names.map((name) => {
    const of = machineGaps.filter((gap) => gap.name === name);
    return { code: 'machine-gap', name, gaps: of.map(({ code }) => code), since: of[0]?.lastSeen ?? null };
  });
}

function late({ lateRequests }: StateFacts): Improvement[] {
  return lateRequests.length === 0
    ? []
    : [{ code: 'requests-late', count: lateRequests.length, oldest: Math.min(...lateRequests) }];
}

function forgotten({ draft, now }: StateFacts): Improvement[] {
  return draft && draft.changes > 0 && now - draft.since > FORGOTTEN_DAYS * DAY_MS
    ? [{ code: 'draft-forgotten', ...draft }]
    : [];
}
