import type { Finding } from '../../detection/model/finding.js';
import type { PatternId, PolicyId, RawOffset, RuleId } from '../../shared/brand.js';
import { type Answer, strength } from '../model/answers.js';
import { NO_LABELS, type WholeLabelSet } from '../../labels/label-problems.js';
import { compileItemJudge, type ItemJudge } from '../evaluate/judge-item.js';
import type { PersonFacts } from '../../directory/person.js';
import type { Channel, InspectedMovement } from '../../movement/movement.js';
import { assertNever } from '../../shared/assert-never.js';
import { clausesOf } from '../model/conditions.js';
import { type SpotTerm } from '../model/spots.js';
import { type Spot, spotName } from '../../movement/location.js';
import type { PolicySet } from '../model/rule.js';

/** What happens today to a kind of data on one way out, to some people. */
export interface CoverageShare {
  /** Null: it goes on and nobody learns of it. */
  readonly answer: Answer | null;
  readonly people: number;
  /** Smallest count of values that gets this answer. */
  readonly from: number;
  readonly policy: PolicyId | null;
  readonly rule: RuleId | null;
  /** What the rule would answer if no ceiling cut it. */
  readonly written: Answer | null;
  /** The application, site or device where it is given, for a rule that is about some alone; null: wherever it goes. */
  readonly at: string | null;
}

export interface CoverageCell {
  readonly pattern: string;
  readonly channel: Channel;
  readonly side: 'outside' | 'inside';
  /** Strongest first; together everybody. */
  readonly shares: readonly CoverageShare[];
}

export interface CoverageRequest {
  readonly set: PolicySet;
  /** Labels whose automatic rules are asked first; left out for none. */
  readonly labels?: WholeLabelSet;
  readonly patterns: readonly string[];
  readonly channels: readonly Channel[];
  /** Everybody who may send. People of whom the directory knows the same are asked about once. */
  readonly people: readonly PersonFacts[];
  /** Now, in milliseconds since 1970. */
  readonly at: number;
}

/** Somebody whom no list names, on each side. The domain is reserved and never anybody's (RFC 2606). */
const STRANGER = 'somebody@unknown.invalid';
const COLLEAGUE = 'somebody-else@colleague.invalid';

/**
 * The strongest answer that an item with some kind of data gets on each way out, for whom, and by which rule. It is
 * found by judging probes. One probe holds a single value, and another holds the highest count that any rule asks for.
 * All their values are certain matches.
 */
export function coverage(request: CoverageRequest): CoverageCell[] {
  const judge = compileItemJudge({ policies: request.set, labels: request.labels ?? NO_LABELS });
  const senders = alike(request.set, request.people);
  const spots = spotsAsked(request.set);
  return request.patterns.flatMap((pattern) => {
    const counts = countsOf(request.set, pattern);
    const rows = rowsAsked(request.set);
    return request.channels.flatMap((channel) =>
      (['outside', 'inside'] as const).map((side): CoverageCell => ({
        pattern,
        channel,
        side,
        shares: sharesOf(senders, (sender) =>
          strongestFor({
            judge,
            counts: channel === 'business' ? ordered([...counts, ...rows]) : counts,
            probe: {
              pattern,
              most: counts.at(-1) ?? 1,
              channel,
              side,
              sender,
              at: request.at,
              spots: spots.filter((spot) => isOn(spot, channel, side)),
            },
          }),
        ),
      })),
    );
  });
}

/** People by what rules can tell of them: persons named anywhere stand alone, the others by their facts. */
function alike(set: PolicySet, people: readonly PersonFacts[]): { facts: PersonFacts; count: number }[] {
  const text = JSON.stringify(set).toLowerCase();
  const classes = new Map<string, { facts: PersonFacts; count: number }>();
  for (const person of people) {
    const named = text.includes(JSON.stringify(person.address.toLowerCase()));
    const host = person.address.slice(person.address.lastIndexOf('@') + 1).toLowerCase();
    const facts = [host, person.department, person.office, [...(person.groups ?? [])].sort()];
    const key = named ? person.address : JSON.stringify(facts);
    const known = classes.get(key);
    if (known) known.count += 1;
    else classes.set(key, { facts: person, count: 1 });
  }
  return [...classes.values()];
}

/** Spots tried at most: a set that names more shows the first of them. */
const MOST_SPOTS = 40;

/** One spot for each that a rule asks something to be put into, groups taken apart. */
function spotsAsked({ policies, spots: groups }: PolicySet): Spot[] {
  const clauses = policies.flatMap(({ shared, rules }) =>
    [shared, ...rules.map(({ when }) => when)].flatMap((each) => (each ? clausesOf(each) : [])),
  );
  const terms = clauses
    .flatMap((clause) => (clause.kind === 'put-into' ? clause.spots : []))
    .flatMap((term) =>
      term.kind === 'spots' ? (groups.find(({ id }) => id === term.called)?.spots ?? []) : [term],
    );
  const spots = new Map(
    terms
      .flatMap((term) => (term.kind === 'spots' ? [] : [spotFor(term)]))
      .map((spot) => [JSON.stringify(spot), spot]),
  );
  return [...spots.values()].slice(0, MOST_SPOTS);
}

function spotFor(term: Exclude<SpotTerm, { kind: 'spots' }>): Spot {
  switch (term.kind) {
    case 'application':
      return { kind: 'application', name: term.name.replaceAll('*', '') };
    case 'host':
      return { kind: 'host', host: term.host };
    case 'device':
      return {
        kind: 'device',
        device: term.device,
        name:
          term.name.replaceAll('*', '') || `any ${term.trusted === false ? 'strange ' : ''}${term.device}`,
        trusted: term.trusted ?? false,
      };
    case 'place':
      return { kind: 'place', path: term.path };
    default:
      return assertNever(term);
  }
}

/** Sites are reached by browsers, devices and programs by machines, places by drives. */
function isOn(spot: Spot, channel: Channel, side: 'outside' | 'inside'): boolean {
  if (spot.kind === 'host') return channel === 'browser' && side === 'outside';
  if (spot.kind === 'place') return channel === 'drive';
  if (spot.kind === 'device') return channel === 'endpoint' && (side === 'inside') === spot.trusted;
  return channel === 'endpoint' && side === 'inside';
}

/** Counts at which some rule about a pattern may change its mind, smallest first. */
function countsOf(set: PolicySet, pattern: string): number[] {
  const counts = new Set([1]);
  for (const rule of set.policies.flatMap(({ rules }) => rules)) {
    for (const clause of [rule.when, ...(rule.unless ? [rule.unless] : [])].flatMap(clausesOf)) {
      if (clause.kind === 'findings' && clause.pattern === pattern) counts.add(clause.atLeast);
    }
    if (rule.measure?.pattern === pattern) for (const { from } of rule.bands) counts.add(from);
  }
  // A probe holds its values one by one; beyond this a rule is about bulk that no probe needs to show.
  return [...counts]
    .filter((count) => count >= 1 && count <= MOST_PROBED)
    .sort((left, right) => left - right);
}

const MOST_PROBED = 10_000;

/** Numbers of records at which some rule about business applications may change its mind. */
function rowsAsked({ policies }: PolicySet): number[] {
  return policies
    .filter(({ channels }) => channels.includes('business'))
    .flatMap(({ rules }) => rules.flatMap(({ when }) => clausesOf(when)))
    .flatMap((clause) =>
      clause.kind === 'rows' || (clause.kind === 'sum' && clause.of === 'rows') ? [clause.atLeast] : [],
    );
}

const ordered = (counts: readonly number[]): number[] =>
  [...new Set(counts)].sort((one, other) => one - other);

interface Probe {
  readonly pattern: string;
  /** Values of a probe at most: records beyond the counts that rules ask for hold no more of them. */
  readonly most: number;
  readonly channel: Channel;
  readonly side: 'outside' | 'inside';
  readonly sender: PersonFacts;
  readonly at: number;
  /** Spots that some rule asks about, each tried beside nowhere in particular. */
  readonly spots: readonly Spot[];
}

interface Probing {
  readonly judge: ItemJudge;
  readonly counts: readonly number[];
  readonly probe: Probe;
}

function strongestFor({ judge, counts, probe }: Probing): Omit<CoverageShare, 'people'> {
  let best: Omit<CoverageShare, 'people'> = {
    answer: null,
    from: 1,
    policy: null,
    rule: null,
    written: null,
    at: null,
  };
  for (const spot of [null, ...probe.spots]) {
    for (const count of counts) {
      const { answer, decidedBy } = judge.judge(probeOf(probe, count, spot));
      if (answer === null || !decidedBy) continue;
      if (best.answer !== null && strength(answer) <= strength(best.answer)) continue;
      const { policy, rule, written } = decidedBy;
      best = { answer, from: count, policy, rule, written, at: spot && spotName(spot) };
    }
  }
  return best;
}

function probeOf(
  { pattern, most, channel, side, sender, at }: Probe,
  count: number,
  spot: Spot | null,
): InspectedMovement {
  return {
    ...(spot ? { into: [spot] } : {}),
    // One record for each value is taken out: the commonest thing that is done there.
    ...(channel === 'business'
      ? { use: { deed: 'export', by: 'screen', objects: [], rows: count } as const }
      : {}),
    channel,
    at,
    sender,
    recipients: [{ address: side === 'outside' ? STRANGER : COLLEAGUE, outside: side === 'outside' }],
    parts: [
      {
        ...{ status: 'read', role: 'body', path: ['body'], characters: 0 },
        ...(channel === 'business' ? { fields: { [pattern]: { column: 100 } } } : {}),
        findings: findingsFor(pattern, Math.min(count, most)),
      },
    ],
    files: [],
    earlier: [],
  };
}

function findingsFor(pattern: string, count: number): Finding[] {
  return Array.from({ length: count }, (_unused, index) => ({
    pattern: pattern as PatternId,
    start: 0 as RawOffset,
    end: 0 as RawOffset,
    certainty: 100,
    evidence: [],
    canonical: String(index),
    rivals: [],
  }));
}

function sharesOf(
  senders: readonly { facts: PersonFacts; count: number }[],
  answerFor: (sender: PersonFacts) => Omit<CoverageShare, 'people'>,
): CoverageShare[] {
  const shares = new Map<string, CoverageShare>();
  for (const { facts, count } of senders) {
    const share = answerFor(facts);
    const key = JSON.stringify(share);
    shares.set(key, { ...share, people: (shares.get(key)?.people ?? 0) + count });
  }
  const rank = (share: CoverageShare): number => (share.answer === null ? -1 : strength(share.answer));
  return [...shares.values()].sort((left, right) => rank(right) - rank(left) || right.people - left.people);
}
