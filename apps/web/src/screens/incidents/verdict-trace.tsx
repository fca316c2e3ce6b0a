import type { IncidentDetail } from '@lantern/contracts';
import type { ConditionTrace, Policy, RuleTrace } from '@lantern/core';
import { usePatternNames } from '../../data/patterns';
import { conditionWords } from '../../wording/sentence';
import { ANSWER_DONE } from '../../wording/terms';

/** How the verdict came about: every rule that was read, with the value each condition met; held ones open. */
export function VerdictTrace({ incident }: { readonly incident: IncidentDetail }) {
  const { verdict, policies } = incident;
  const lines = verdict.trace.flatMap((trace) =>
    trace.rules.map((rule, index) => ({
      trace: rule,
      number: index + 1,
      policy: policies.find((candidate) => candidate.id === trace.policy),
      decided: verdict.decidedBy?.rule === rule.rule,
    })),
  );
  const others = lines.filter(({ trace }) => !trace.read || !trace.held);
  return (
    <section aria-label="Why it was decided so" className="mt-4">
      <h2 className="mb-1">Why it was {ANSWER_DONE[incident.answer]}</h2>
      {lines
        .filter(({ trace }) => trace.read && trace.held)
        .map((line) => (
          <RuleLine key={line.trace.rule} {...line} />
        ))}
      {others.length > 0 && (
        <details className="py-1">
          <summary className="cursor-pointer text-ink-2">
            {others.length} other {others.length === 1 ? 'rule' : 'rules'} did not hold or{' '}
            {others.length === 1 ? 'was' : 'were'} not read
          </summary>
          <div className="pl-4">
            {others.map((line) => (
              <RuleLine key={line.trace.rule} {...line} />
            ))}
          </div>
        </details>
      )}
    </section>
  );
}

interface LineProps {
  readonly trace: RuleTrace;
  readonly number: number;
  readonly policy: Policy | undefined;
  readonly decided: boolean;
}

function RuleLine({ trace, number, policy, decided }: LineProps) {
  const name = `${policy?.name ?? 'A policy'}, rule ${number}`;
  if (!trace.read)
    return (
      <p className="border-b border-dotted border-rule py-1 text-[12.5px] text-ink-2">
        {name}: not read, an earlier rule ended the policy
      </p>
    );
  return (
    <details open={decided} className="border-b border-dotted border-rule py-1">
      <summary className="cursor-pointer">
        <span className={trace.held ? 'font-semibold' : 'text-ink-2'}>{name}</span>
        <span className="text-[12.5px] text-ink-2">
          : {decided ? 'held, and decides' : trace.held ? 'held' : 'did not hold'}
        </span>
      </summary>
      <table className="mt-1 w-full text-[13px]">
        <tbody>
          <Conditions trace={trace.when} depth={0} />
          {trace.unless && <Conditions trace={trace.unless} depth={0} unless />}
        </tbody>
      </table>
    </details>
  );
}

function Conditions({
  trace,
  depth,
  unless = false,
}: {
  readonly trace: ConditionTrace;
  readonly depth: number;
  readonly unless?: boolean;
}) {
  const names = usePatternNames();
  if (trace.parts.length > 0 && trace.condition.kind === 'all') {
    return trace.parts.map((part, index) => (
      <Conditions key={index} trace={part} depth={depth} unless={unless} />
    ));
  }
  return (
    <>
      <tr className="border-t border-dotted border-rule align-baseline">
        <td className="py-0.5 pr-2" style={{ paddingLeft: 12 + depth * 14 }}>
          {unless && 'unless '}
          {conditionWords(trace.condition, names)}
        </td>
        <td className="py-0.5 pr-2 font-mono whitespace-nowrap">{valueWords(trace)}</td>
        <td className={`py-0.5 whitespace-nowrap ${trace.held ? '' : 'text-ink-2'}`}>
          {trace.held ? 'holds' : 'does not hold'}
        </td>
      </tr>
      {trace.parts.map((part, index) => (
        <Conditions key={index} trace={part} depth={depth + 1} />
      ))}
    </>
  );
}

function valueWords(trace: ConditionTrace): string {
  const of = trace.outOf === undefined ? '' : ` of ${trace.outOf}`;
  const distinct = trace.condition.kind === 'findings' && trace.condition.distinct ? ' distinct' : '';
  return `${trace.value}${distinct}${of}`;
}
