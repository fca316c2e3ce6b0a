import {
  CONNECTIONS,
  INNER_PLACES,
  LINK_KINDS,
  MACHINE_STATES,
  NETWORK_STATES,
  PART_ROLES,
  PLACES_IN_ITEM,
  SIGN_IN_PROOFS,
  USE_DEEDS,
  USE_WAYS,
} from '@lantern/core/movement';
import type { Finding } from '@lantern/core/detection';
import type { Audience } from '@lantern/core/directory';
import type { InspectedMovement, Recipient, Spot } from '@lantern/core/movement';
import type {
  Answer,
  Condition,
  Exchange,
  ExchangeId,
  LeafCondition,
  Measure,
  PolicySet,
  Rule,
  Severity,
  SpotGroup,
  SpotGroupId,
  SpotTerm,
  Whereabouts,
  WhereTerm,
} from '@lantern/core/policy';
import { AMOUNTS, SUM_SCOPES } from '@lantern/core/policy';
import type { PatternId } from '@lantern/core/shared';
import { bandOf, findingOf, mailOf, policyOf, ruleOf, setOf, SOME_TIME } from './policies.js';
import type { Chance } from './random.js';

const PATTERNS = ['card', 'iban', 'words'];
const DOMAINS = ['a.example', 'b.example', 'sub.a.example', 'nota.example', 'own.example'];
const LABELS = ['quay', 'bridge', 'hold'];
const DEPARTMENTS = ['Crewing', 'Fleet'];
const ANSWERS: readonly Answer[] = ['note', 'advise', 'ask', 'hold', 'block'];
const SEVERITIES: readonly Severity[] = ['low', 'medium', 'high', 'critical'];
const DAY_MS = 86_400_000;
const REGISTER: readonly Exchange[] = [
  {
    id: 'x1' as ExchangeId,
    name: 'To A',
    from: { with: [], without: [] },
    to: ['a.example'],
    patterns: ['card'],
    why: '',
    until: '2026-03-05',
  },
  {
    id: 'x2' as ExchangeId,
    name: 'To one at B',
    from: { with: [{ kind: 'department', department: 'Fleet' }], without: [] },
    to: ['x@b.example'],
    patterns: [],
    why: '',
    until: null,
  },
];

const SPOTS: readonly Spot[] = [
  { kind: 'application', name: 'Booking' },
  { kind: 'host', host: 'up.a.example' },
  { kind: 'device', device: 'plugged-in', name: 'Stick 4', trusted: false },
  { kind: 'device', device: 'printer', name: 'Bridge printer', trusted: true },
  { kind: 'place', path: '/Crew/Lists' },
];
const GROUPS: readonly SpotGroup[] = [
  {
    id: 's1' as SpotGroupId,
    name: 'Ours',
    why: '',
    spots: [
      { kind: 'application', name: 'book*' },
      { kind: 'host', host: 'a.example', under: true },
    ],
  },
];
const SPOT_TERMS: readonly SpotTerm[] = [
  { kind: 'application', name: '*king' },
  { kind: 'host', host: 'a.example', under: false },
  { kind: 'host', host: 'a.example', under: true },
  { kind: 'device', device: 'plugged-in', name: '', trusted: null },
  { kind: 'device', device: 'printer', name: 'bridge*', trusted: false },
  { kind: 'place', path: '/crew' },
  { kind: 'spots', called: 's1' as SpotGroupId },
];

const several = <Item>(random: Chance, items: readonly Item[], most = 2): Item[] =>
  Array.from({ length: random.whole(1, most) }, () => random.pick(items));

function someFindings(random: Chance): Finding[] {
  return Array.from({ length: random.whole(0, 6) }, () =>
    findingOf(String(random.whole(1, 3)), {
      pattern: random.pick(PATTERNS) as PatternId,
      certainty: random.pick([10, 50, 80, 81, 100]),
    }),
  );
}

function someRecipient(random: Chance): Recipient {
  const domain = random.pick(DOMAINS);
  return {
    address: `${random.pick(['x', 'y'])}@${domain}`,
    outside: domain !== 'own.example',
    ...(random.happens(0.5) ? { country: random.pick(['DE', 'fr']) } : {}),
    ...(random.happens(0.5) ? { department: random.pick(DEPARTMENTS) } : {}),
  };
}

/** What is known of the way of a movement. */
function someWay(random: Chance): Partial<InspectedMovement> {
  return {
    ...(random.happens(0.6) ? { from: several(random, SPOTS) } : {}),
    ...(random.happens(0.6) ? { into: several(random, SPOTS) } : {}),
    ...(random.happens(0.4) ? { link: random.pick(LINK_KINDS) } : {}),
    ...(random.happens(0.5) ? { connection: random.pick(CONNECTIONS) } : {}),
    ...(random.happens(0.5)
      ? {
          machine: {
            name: random.pick(['quay-7', 'quay-8']),
            state: random.pick(MACHINE_STATES),
            groups: several(random, ['Desks', 'Bridge']),
          },
        }
      : {}),
    ...(random.happens(0.5) ? { network: random.pick(NETWORK_STATES) } : {}),
  };
}

/** What is done in an application, and what was moved before. */
function someUse(random: Chance): Partial<InspectedMovement> {
  if (random.happens(0.5)) return {};
  return {
    use: {
      deed: random.pick(USE_DEEDS),
      by: random.pick(USE_WAYS),
      objects: several(random, ['customers', 'bookings']),
      ...(random.happens(0.5) ? { report: 'Customers of the season' } : {}),
      ...(random.happens(0.5) ? { rows: random.pick([1, 60, 6_000]) } : {}),
      ...(random.happens(0.5) ? { columns: ['Name', 'Card'] } : {}),
      ...(random.happens(0.3) ? { rights: several(random, ['read bookings', 'export all']) } : {}),
      ...(random.happens(0.6)
        ? {
            signIn: {
              at: SOME_TIME - random.whole(0, DAY_MS),
              proof: random.pick(SIGN_IN_PROOFS),
              ...(random.happens(0.5) ? { country: random.pick(['NO', 'DE']) } : {}),
            },
          }
        : {}),
    },
    past: {
      'rows this-channel 24': { amount: random.pick([0, 50, 5_000]) },
      'movements every-channel 24 usual': { amount: 3, usual: random.pick([0, 1, 9]) },
      'values card 80 outside 24': { amount: random.whole(0, 3) },
    },
  };
}

/** One of each address, as a movement has them. */
const distinct = (recipients: readonly Recipient[]): Recipient[] => [
  ...new Map(recipients.map((each) => [each.address, each])).values(),
];

/** A movement over a small world, so that conditions and movements often meet. */
export function someMovement(random: Chance): InspectedMovement {
  const parts = Array.from({ length: random.whole(0, 3) }, (_unused, index) =>
    random.happens(0.2)
      ? {
          status: 'unreadable' as const,
          role: 'attachment' as const,
          path: [String(index)],
          reason: random.pick(['corrupt', 'encrypted'] as const),
        }
      : {
          status: 'read' as const,
          role: random.pick(PART_ROLES),
          ...(random.happens(0.4) ? { inner: random.pick(INNER_PLACES) } : {}),
          path: [String(index)],
          characters: random.pick([1, 5_000]),
          ...(random.happens(0.3) ? { rows: random.pick([1, 9, 60]) } : {}),
          ...(random.happens(0.3) ? { fields: { card: { Card: random.pick([50, 90]), Other: 80 } } } : {}),
          findings: someFindings(random),
        },
  );
  return mailOf([], [], {
    channel: random.pick(['mail', 'chat']),
    labels: random.happens(0.5) ? [] : several(random, LABELS).map((id) => ({ id, name: id })),
    at: SOME_TIME + random.whole(-2 * DAY_MS, 2 * DAY_MS),
    sender: {
      address: `${random.pick(['me', 'you'])}@own.example`,
      groups: several(random, ['Leads', 'Crew']),
      department: random.pick(DEPARTMENTS),
      office: 'Merrowhaven',
    },
    recipients: distinct(Array.from({ length: random.whole(0, 3) }, () => someRecipient(random))),
    parts,
    ...someWay(random),
    ...someUse(random),
    files: Array.from({ length: random.whole(0, 2) }, () => ({
      name: random.pick(['Report.pdf', 'list.xlsx', 'a.b']),
      kind: random.pick(['pdf', 'office', 'program'] as const),
      bytes: random.pick([10, 5_000, 2_000_000]),
      misnamed: random.happens(0.2),
    })),
    earlier: Array.from({ length: random.whole(0, 3) }, () => ({
      at: SOME_TIME - random.whole(0, 3 * 3_600_000),
      outside: random.happens(0.5),
      matched: random.happens(0.5),
      sameStopped: random.happens(0.3),
    })),
  });
}

export function someAudience(random: Chance): Audience {
  const term = (): Audience['with'][number] =>
    random.pick([
      { kind: 'person', address: 'Me@own.example' },
      { kind: 'group', group: 'leads' },
      { kind: 'department', department: 'Fleet' },
      { kind: 'office', office: 'Merrowhaven' },
      { kind: 'domain', domain: 'a.example' },
    ] as const);
  return {
    with: random.happens(0.5) ? [] : [term()],
    without: random.happens(0.7) ? [] : [term()],
  };
}

function someWhere(random: Chance): Whereabouts {
  const term = (): WhereTerm =>
    random.pick([
      { kind: 'machine', machine: 'QUAY-7' },
      { kind: 'machines', group: 'Desks' },
      { kind: 'place', path: '/Crew' },
    ] as const);
  return { with: random.happens(0.5) ? [term()] : [], without: random.happens(0.5) ? [term()] : [] };
}

function someMeasure(random: Chance): Measure {
  return {
    pattern: random.pick(PATTERNS),
    distinct: random.happens(0.5),
    certainty: random.pick([0, 50, 80, 100]),
    where: random.happens(0.7) ? [] : [random.pick(PLACES_IN_ITEM)],
  };
}

function someWayClause(random: Chance): LeafCondition {
  return random.pick<() => LeafCondition>([
    () => ({ kind: 'taken-from', spots: several(random, SPOT_TERMS) }),
    () => ({ kind: 'put-into', spots: several(random, SPOT_TERMS) }),
    () => ({ kind: 'link', links: random.happens(0.5) ? [] : ['whoever-holds-it'] }),
    () => ({ kind: 'connection', states: several(random, CONNECTIONS) }),
    () => ({ kind: 'machine', states: several(random, MACHINE_STATES) }),
    () => ({ kind: 'network', states: several(random, NETWORK_STATES) }),
  ])();
}

function someApplicationClause(random: Chance): LeafCondition {
  const pattern = random.pick(PATTERNS);
  return random.pick<() => LeafCondition>([
    () => ({
      kind: 'use',
      deeds: random.happens(0.5) ? [] : several(random, USE_DEEDS),
      by: random.pick([null, ...USE_WAYS]),
      objects: random.happens(0.5) ? [] : ['cust*'],
      reports: random.happens(0.7) ? [] : ['*season'],
    }),
    () => ({ kind: 'columns', atLeast: random.pick([1, 2, 9]) }),
    () => ({ kind: 'fields', pattern, certainty: random.pick([0, 80]), atLeast: random.whole(1, 2) }),
    () => ({ kind: 'rights', rights: ['*all*'] }),
    () => ({
      kind: 'sign-in',
      countries: random.happens(0.5) ? [] : ['no'],
      elsewhere: random.happens(0.5),
      proofs: random.happens(0.5) ? [] : several(random, SIGN_IN_PROOFS),
      olderThanMinutes: random.pick([null, 60, 600]),
    }),
    () => ({
      kind: 'sum',
      of: random.pick(AMOUNTS),
      over: random.pick(SUM_SCOPES),
      atLeast: random.pick([1, 60, 5_001]),
      hours: 24,
    }),
    () => ({
      kind: 'values',
      pattern,
      certainty: 80,
      over: random.pick(SUM_SCOPES),
      atLeast: random.whole(1, 4),
      hours: 24,
    }),
    () => ({
      kind: 'usual',
      of: random.pick(AMOUNTS),
      over: random.pick(SUM_SCOPES),
      times: random.pick([2, 10]),
      atLeast: random.whole(1, 4),
      hours: 24,
    }),
  ])();
}

/** One clause of any kind. */
export function someLeaf(random: Chance): LeafCondition {
  const quantity = random.pick(['any', 'every'] as const);
  const atLeast = random.whole(1, 4);
  const minutes = random.pick([30, 120, 1_440]);
  const measure = someMeasure(random);
  return random.pick<() => LeafCondition>([
    () => ({ kind: 'findings', ...measure, atLeast }),
    () => ({ kind: 'findings', ...measure, atLeast }),
    () => ({ kind: 'unreadable', reasons: random.happens(0.5) ? [] : ['encrypted'] }),
    () => ({ kind: 'recipient', quantity, side: random.pick(['inside', 'outside'] as const) }),
    () => ({ kind: 'domain', quantity, domains: several(random, DOMAINS) }),
    () => ({ kind: 'country', quantity, countries: several(random, ['DE', 'FR']) }),
    () => ({ kind: 'receivers', quantity, people: someAudience(random) }),
    () => ({ kind: 'sender', people: someAudience(random) }),
    () => ({ kind: 'reach', side: random.pick(['outside', 'anywhere'] as const), atLeast }),
    () => ({
      kind: 'file',
      kinds: random.happens(0.5) ? [] : ['pdf'],
      names: random.happens(0.5) ? [] : [random.pick(['*.pdf', 'l*t*', 'a.b'])],
      atLeastKilobytes: random.happens(0.5) ? null : random.pick([1, 1_000]),
      misnamed: random.happens(0.2),
    }),
    () => ({
      kind: 'label',
      carries: random.happens(0.3) ? 'none' : 'one-of',
      labels: random.happens(0.3) ? [] : several(random, LABELS),
    }),
    () => someWayClause(random),
    () => someWayClause(random),
    () => someWayClause(random),
    () => someWayClause(random),
    () => someApplicationClause(random),
    () => someApplicationClause(random),
    () => ({ kind: 'rows', atLeast: random.pick([1, 10, 100]) }),
    () => ({ kind: 'size', atLeastKilobytes: random.pick([1, 4, 1_000]) }),
    () => ({
      kind: 'time',
      from: random.pick(['08:00', '22:00']),
      to: random.pick(['06:00', '17:00']),
      days: random.happens(0.5) ? [] : [1, 2, 3],
      zone: random.pick(['UTC', 'Europe/Oslo']),
      ofSender: random.happens(0.3),
    }),
    () => ({ kind: 'rate', of: random.pick(['all', 'outside', 'matched'] as const), atLeast, minutes }),
    () => ({ kind: 'tries', atLeast, minutes }),
    () => ({ kind: 'exchange', exchanges: random.happens(0.5) ? [] : ['x1' as ExchangeId] }),
    () => ({ kind: 'channel', channels: several(random, ['mail', 'chat'] as const) }),
  ])();
}

/** A condition with groups up to `depth` inside each other. */
export function someCondition(random: Chance, depth: number): Condition {
  if (depth === 0 || random.happens(0.4)) return someLeaf(random);
  return {
    kind: random.pick(['all', 'any', 'none'] as const),
    of: Array.from({ length: random.whole(1, 3) }, () => someCondition(random, depth - 1)),
  };
}

function someRule(random: Chance, id: string): Rule {
  const graded = random.happens(0.3);
  const cut = random.whole(1, 3);
  const band = (from: number, to: number | null) =>
    bandOf(random.pick(ANSWERS), {
      from,
      to,
      severity: random.pick(SEVERITIES),
      treatments: random.happens(0.3) ? [{ kind: 'no-passing-on' }] : [],
    });
  return ruleOf(id, {
    when: someCondition(random, 2),
    unless: random.happens(0.3) ? someCondition(random, 1) : null,
    people: random.happens(0.2) ? someAudience(random) : null,
    measure: graded ? { pattern: random.pick(PATTERNS), distinct: true, certainty: 50, where: [] } : null,
    bands: graded ? [band(random.pick([0, 1]), cut), band(cut + 1, null)] : [band(1, null)],
    silence: random.happens(0.1) ? { until: random.pick(['2026-03-03', '2026-03-09']), why: '' } : null,
    bindsFrom: random.happens(0.1) ? '2026-03-04' : null,
    perRecipient: random.happens(0.3),
    endsPolicy: random.happens(0.3),
  });
}

/** A set of one to three policies. */
export function someSet(random: Chance): PolicySet {
  const policies = Array.from({ length: random.whole(1, 3) }, (_unused, policy) =>
    policyOf(
      `p${policy}`,
      Array.from({ length: random.whole(1, 4) }, (_rule, rule) => someRule(random, `p${policy}r${rule}`)),
      {
        channels: random.pick([['mail'], ['mail', 'chat'], ['chat']] as const),
        people: random.happens(0.3) ? someAudience(random) : { with: [], without: [] },
        where: random.happens(0.3) ? someWhere(random) : { with: [], without: [] },
        shared: random.happens(0.2) ? someCondition(random, 1) : null,
        ceilings: random.happens(0.4)
          ? [
              {
                people: someAudience(random),
                answer: random.pick([...ANSWERS, 'as-written' as const]),
                until: random.pick([null, '2026-03-04']),
              },
              { people: { with: [], without: [] }, answer: random.pick(ANSWERS), until: null },
            ]
          : [],
      },
    ),
  );
  return setOf(policies, { exchanges: REGISTER, spots: GROUPS });
}
