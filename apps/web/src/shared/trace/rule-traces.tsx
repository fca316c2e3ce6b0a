import type { ConditionTrace, Policy, Rule, RuleTrace, Verdict } from '@lantern/core/policy';
import { useNames } from '../../data/policies';
import { conditionWords, measureWords, rangeWords } from '../../wording/sentence';
import { clauseWords } from '../../wording/labels';
import { EFFECT_WORDS } from '../../wording/effects';
import { ANSWER_WORDS, CUT_WORDS } from '../../wording/terms';
import { shortTime } from '../../wording/times';

interface Props {
  readonly verdict: Verdict;
  /** The policies by which it was judged. */
  readonly policies: readonly Policy[];
}

/** How a verdict came about: every rule that was read, with the value each condition met; held ones open. */
export function RuleTraces({ verdict, policies }: Props) {
  const cut = verdict.decidedBy?.cut ?? null;
  const approved = verdict.matches.flatMap(({ approval, ...match }) =>
    approval ? [{ ...match, approval }] : [],
  );
  const away = verdict.trace.filter(({ applies }) => !applies);
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
    <>
      {(verdict.forbidden ?? []).map((match) => (
        <p key={`${match.label.id} ${match.effect}`} className="border-b border-dotted border-rule py-1">
          <b className="text-stop">{ANSWER_WORDS[match.answer]}</b> The label “{match.label.name}” on{' '}
          {match.item} does not let this person {EFFECT_WORDS[match.effect]}:{' '}
          {clauseWords(match.clause, match.owner || 'its owner')}.
        </p>
      ))}
      {cut &&
        cut !== 'approval' &&
        verdict.decidedBy &&
        verdict.decidedBy.written !== verdict.decidedBy.answer && (
          <p className="bg-sunk px-2 py-1 text-[13px]">
            As written it would be {ANSWER_WORDS[verdict.decidedBy.written]}: {CUT_WORDS[cut]}.
          </p>
        )}
      {approved.map(({ rule, written, approval }) => (
        <p key={rule} className="bg-sunk px-2 py-1 text-[13px]">
          Allowed by a standing approval from {approval.by}, valid until{' '}
          {shortTime(new Date(approval.until).toISOString(), new Date())} (version {approval.version}).
          Without it the answer would be {ANSWER_WORDS[written]}.
        </p>
      ))}
      {lines
        .filter(({ trace }) => trace.read && trace.held)
        .map((line) => (
          <RuleLine key={line.trace.rule} {...line} />
        ))}
      {away.length > 0 && (
        <p className="py-1 text-[12.5px] text-ink-2">
          {away.length} {away.length === 1 ? 'policy is' : 'policies are'} for other channels, people or
          places.
        </p>
      )}
      {others.length > 0 && (
        <details className="py-1">
          <summary className="cursor-pointer text-ink-2">
            {others.length} other {others.length === 1 ? 'rule' : 'rules'} did not match or{' '}
            {others.length === 1 ? 'was' : 'were'} not read
          </summary>
          <div className="pl-4">
            {others.map((line) => (
              <RuleLine key={line.trace.rule} {...line} />
            ))}
          </div>
        </details>
      )}
    </>
  );
}

const UNREAD = {
  'policy-ended': 'an earlier rule skips the later rules',
  'other-people': 'it applies to other people',
  over: 'it has expired',
  'shared-not-met': 'the policy’s condition for every rule is not met',
} as const;

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
        {name}: not read, {UNREAD[trace.because]}
      </p>
    );
  return (
    <details open={decided} className="border-b border-dotted border-rule py-1">
      <summary className="cursor-pointer">
        <span className={trace.held ? 'font-semibold' : 'text-ink-2'}>{name}</span>
        <span className="text-[12.5px] text-ink-2">
          : {decided ? 'matched, and decides' : trace.held ? 'matched' : 'did not match'}
          {trace.held && trace.recipients && `, for ${trace.recipients.join(', ')} alone`}
        </span>
      </summary>
      <table className="mt-1 w-full text-[13px]">
        <tbody>
          <Conditions trace={trace.when} depth={0} />
          {trace.unless && <Conditions trace={trace.unless} depth={0} unless />}
          <Counted trace={trace} rule={policy?.rules.find(({ id }) => id === trace.rule)} />
        </tbody>
      </table>
    </details>
  );
}

/** What the bands of a rule counted, and which band that is. */
function Counted({
  trace,
  rule,
}: {
  readonly trace: RuleTrace & { read: true };
  readonly rule: Rule | undefined;
}) {
  const names = useNames();
  if (!trace.measure || trace.counted === null) return null;
  const band = trace.band === null ? undefined : rule?.bands[trace.band];
  return (
    <tr className="border-t border-dotted border-rule align-baseline">
      <td className="py-0.5 pr-2 pl-3">number of {measureWords(trace.measure, names)}</td>
      <td className="py-0.5 pr-2 font-mono whitespace-nowrap">{trace.counted}</td>
      <td className="py-0.5 whitespace-nowrap">
        {band ? `band ${rangeWords(band)}: ${ANSWER_WORDS[band.answer]}` : 'in no band'}
      </td>
    </tr>
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
  const names = useNames();
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
          {trace.held ? 'met' : 'not met'}
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
