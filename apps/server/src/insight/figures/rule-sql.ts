import type { Period, RuleFigures } from '@lantern/core/insight';
import type { EntityManager } from 'typeorm';

/** Matches `x` with their incidents `i` under a condition. */
export interface FromMatches {
  readonly from: string;
  readonly where: string;
  readonly values: readonly unknown[];
}

type Sums = Omit<
  RuleFigures,
  | 'forWork'
  | 'turnedBack'
  | 'noReply'
  | 'overridesAsked'
  | 'approved'
  | 'judgedWrong'
  | 'advicesKnown'
  | 'repeatedAfterAdvice'
>;

const REAL = 'i.test = 0';
/** Counts of a rule, each the sum of a condition. */
const SUMS: Readonly<Record<Exclude<keyof Sums, 'people'>, string>> = {
  matches: REAL,
  tests: 'i.test = 1',
  advised: `${REAL} AND x.answer = 'advise'`,
  asked: `${REAL} AND x.answer = 'ask'`,
  held: `${REAL} AND x.answer = 'hold'`,
  blocked: `${REAL} AND x.answer = 'block'`,
  decided: `${REAL} AND i.outcome IS NOT NULL`,
  falsePositives: `${REAL} AND i.outcome = 'false-positive'`,
  allowed: `${REAL} AND i.outcome = 'allowed'`,
  harm: `${REAL} AND i.outcome = 'harm'`,
  harmStopped: `${REAL} AND i.outcome = 'harm' AND x.answer IN ('ask', 'hold', 'block')`,
  reduced: `${REAL} AND x.cut = 'ceiling'`,
};

/** Sums of each rule, with the policy it stands in. */
export async function figuresOf(
  manager: EntityManager,
  { from, where, values }: FromMatches,
): Promise<Map<string, Sums & { readonly policy: string }>> {
  const columns = Object.entries(SUMS).map(([name, test]) => `COALESCE(SUM(${test}), 0) AS ${name}`);
  const rows = await manager.query<Record<string, string>[]>(
    `SELECT x.ruleId AS rule, MAX(x.policyId) AS policy, ${columns.join(', ')},
      COUNT(DISTINCT CASE WHEN ${REAL} AND x.answer <> 'note' THEN i.personAddress END) AS people
     FROM ${from} WHERE ${where} AND x.ruleId IS NOT NULL GROUP BY x.ruleId`,
    [...values],
  );
  return new Map(
    rows.map(({ rule = '', policy = '', ...sums }) => [
      rule,
      {
        policy,
        ...(Object.fromEntries(
          Object.entries(sums).map(([name, sum]) => [name, Number(sum)]),
        ) as unknown as Sums),
      },
    ]),
  );
}

const ANSWERED: Readonly<Record<string, keyof RuleFigures>> = {
  'reply work': 'forWork',
  'reply mistake': 'turnedBack',
  'reply no-reply': 'noReply',
  'override requested': 'overridesAsked',
  'override approved': 'approved',
  'override judged-wrong': 'judgedWrong',
};

/** Replies and overrides about the incidents of each rule: where several rules matched, for each of them. */
export async function answersOf(
  manager: EntityManager,
  { from, where, values }: FromMatches,
): Promise<Map<string, Partial<RuleFigures>>> {
  const rows = await manager.query<{ rule: string; field: string; value: string; n: string }[]>(
    `SELECT x.ruleId AS rule, t.field AS field, t.value AS value, COUNT(DISTINCT i.number) AS n
     FROM ${from} JOIN movement_trait t ON t.incidentNumber = i.number AND t.field IN ('reply', 'override')
     WHERE ${where} AND ${REAL} AND x.ruleId IS NOT NULL
     GROUP BY rule, field, value`,
    [...values],
  );
  const found = new Map<string, Partial<RuleFigures>>();
  for (const { rule, field, value, n } of rows) {
    const name = ANSWERED[`${field} ${value}`];
    if (name) found.set(rule, { ...found.get(rule), [name]: Number(n) });
  }
  return found;
}

/**
 * Advices of the period after which the same person tripped the same rule within a week, of those whose week is over or that
 * were repeated. `source` reaches a week beyond the period.
 */
export async function repeatsOf(
  manager: EntityManager,
  { from, where, values }: FromMatches,
  { to }: Period,
): Promise<Map<string, Partial<RuleFigures>>> {
  const rows = await manager.query<{ rule: string; known: string; repeated: string }[]>(
    `SELECT rule, SUM(again OR at < ?) AS known, SUM(again) AS repeated FROM (
       SELECT x.ruleId AS rule, i.at AS at, x.answer AS answer,
         COALESCE(LEAD(i.at) OVER (PARTITION BY x.ruleId, i.personAddress ORDER BY i.at, i.number)
           <= i.at + INTERVAL 7 DAY, 0) AS again
       FROM ${from} WHERE ${where} AND ${REAL} AND x.ruleId IS NOT NULL) AS followed
     WHERE answer = 'advise' AND at < ? GROUP BY rule`,
    [new Date(Date.now() - 7 * 86_400_000), ...values, new Date(to)],
  );
  return new Map(
    rows.map(({ rule, known, repeated }) => [
      rule,
      { advicesKnown: Number(known), repeatedAfterAdvice: Number(repeated) },
    ]),
  );
}

/** Median minutes from a movement to its decision, rule by rule. */
export async function timesOf(
  manager: EntityManager,
  { from, where, values }: FromMatches,
): Promise<Map<string, number>> {
  const rows = await manager.query<{ rule: string; minutes: string }[]>(
    `SELECT DISTINCT rule, MEDIAN(taken) OVER (PARTITION BY rule) AS minutes FROM (
       SELECT x.ruleId AS rule, TIMESTAMPDIFF(MINUTE, i.at, i.decidedAt) AS taken
       FROM ${from} WHERE ${where} AND ${REAL} AND x.ruleId IS NOT NULL AND i.decidedAt IS NOT NULL) AS decided`,
    [...values],
  );
  return new Map(rows.map(({ rule, minutes }) => [rule, Number(minutes)]));
}
