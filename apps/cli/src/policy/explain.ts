import type { OwnPattern } from '@lantern/core/detection';
import type { ConditionTrace, Policy, PolicySet, RuleTrace, Verdict } from '@lantern/core/policy';

/** How a verdict came about, rule by rule, each condition with its value. One line an entry. */
export function explained(
  verdict: Verdict,
  set: PolicySet & { readonly patterns: readonly OwnPattern[] },
): string[] {
  const names = new Map(
    [...set.texts, ...set.exchanges, ...set.patterns].map(({ id, name }) => [String(id), name]),
  );
  return linesOf(verdict, set).map((line) =>
    line.replace(/[0-9a-f]{8,}(?:-[0-9a-f]+)*/g, (id) => names.get(id) ?? id),
  );
}

function linesOf(verdict: Verdict, set: PolicySet): string[] {
  const { answer, decidedBy } = verdict;
  const head = answer === null ? 'It goes on: no rule names it.' : `Answer: ${answer}.`;
  const cut = decidedBy?.cut ? ` As written: ${decidedBy.written} (${decidedBy.cut}).` : '';
  const policies = verdict.trace.flatMap((trace) => {
    const policy = set.policies.find(({ id }) => id === trace.policy);
    if (!policy) return [];
    if (!trace.applies) return [`${policy.name}: not read (${trace.because ?? 'other'})`];
    const shared = trace.shared ? ['  every rule only when', ...conditionLines(trace.shared, 2)] : [];
    return [
      `${policy.name}:`,
      ...shared,
      ...trace.rules.flatMap((rule, index) =>
        ruleLines(rule, policy, { number: index + 1, decides: rule.rule === decidedBy?.rule }),
      ),
    ];
  });
  return [`${head}${cut}`, ...policies];
}

function ruleLines(
  trace: RuleTrace,
  policy: Policy,
  { number, decides }: { readonly number: number; readonly decides: boolean },
): string[] {
  const rule = policy.rules[number - 1];
  const name = `  rule ${number}${rule?.name ? ` (${rule.name})` : ''}`;
  if (!trace.read) return [`${name}: not read (${trace.because})`];
  const band = trace.band === null ? undefined : rule?.bands[trace.band];
  const counted = trace.measure
    ? [`    counted ${trace.counted ?? 0} of ${trace.measure.pattern}: ${band ? band.answer : 'in no band'}`]
    : [];
  return [
    `${name}: ${decides ? 'held, and decides' : trace.held ? 'held' : 'did not hold'}`,
    ...conditionLines(trace.when, 2),
    ...(trace.unless ? ['    unless', ...conditionLines(trace.unless, 3)] : []),
    ...counted,
  ];
}

function conditionLines(trace: ConditionTrace, depth: number): string[] {
  const { condition, held, value, outOf, names, parts } = trace;
  const fields = Object.entries(condition)
    .filter(
      ([field, given]) => field !== 'kind' && field !== 'of' && !(Array.isArray(given) && given.length === 0),
    )
    .map(([field, given]) => `${field} ${typeof given === 'object' ? JSON.stringify(given) : String(given)}`);
  const met = `met ${value}${outOf === undefined ? '' : ` of ${outOf}`}${names.length > 0 ? ` (${names.join(', ')})` : ''}`;
  const line = `${'  '.repeat(depth)}${held ? '+' : '-'} ${[condition.kind, ...fields].join(', ')}: ${met}`;
  return [line, ...parts.flatMap((part) => conditionLines(part, depth + 1))];
}
