import {
  type Answer,
  CHANNEL_ANSWERS,
  type Policy,
  type Problem,
  type Rule,
  SEVERITIES,
  type Severity,
} from '@lantern/core';
import { Button } from '../../ui/button';
import { SelectField, TextArea } from '../../ui/field';
import { EditorPopover } from '../../ui/popover';
import { problemSentence } from '../../wording/problems';
import { ANSWER_MEANING, ANSWER_WORDS, SEVERITY_WORDS } from '../../wording/terms';
import { Clauses, type ClauseContext, NewClauses } from './clauses';
import { changeRule, moveRule, problemsAt, removeRule } from './edit';

interface Props {
  readonly policy: Policy;
  readonly index: number;
  readonly rule: Rule;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly firstPattern: string;
  readonly onChange: (policy: Policy) => void;
}

/** A rule as a sentence that is edited in place, with its problems where they stand. */
export function RuleCard({ policy, index, rule, problems, readOnly, firstPattern, onChange }: Props) {
  const mine = problemsAt(problems, ['rules', index]);
  const change = (part: Partial<Rule>) => onChange(changeRule(policy, index, part));
  const context = (side: 'when' | 'unless'): ClauseContext => ({
    rule: index,
    side,
    root: (side === 'when' ? rule.when : rule.unless) ?? { kind: 'all', of: [] },
    problems,
    readOnly,
    firstPattern,
    onChange: (root) =>
      change(side === 'when' ? { when: root ?? { kind: 'all', of: [] } } : { unless: root }),
  });
  return (
    <>
      <li
        className="flex gap-4 rounded border border-rule bg-sheet px-4 py-3 text-[14.5px] leading-7"
        aria-label={`Rule ${index + 1}`}
      >
        <span className="font-head text-[15px] font-semibold text-ink-2">{index + 1}</span>
        <div className="min-w-0 flex-1">
          <div className="flex gap-1.5">
            <span className="whitespace-nowrap">When</span>
            <div>
              <Clauses clause={rule.when} path={[]} context={context('when')} />
            </div>
          </div>
          <Unless rule={rule} context={context('unless')} onAdd={(clause) => change({ unless: clause })} />
          <Outcome rule={rule} policy={policy} readOnly={readOnly} change={change} />
          {mine.map((problem) => (
            <p
              key={`${problem.code}${problem.path.join('.')}`}
              role="alert"
              className="mt-1.5 bg-stop-soft px-2.5 py-1 text-[13px] text-stop"
            >
              {problemSentence(problem)}
            </p>
          ))}
        </div>
        {!readOnly && (
          <div className="flex items-start text-[12.5px] leading-normal">
            <Button
              look="quiet"
              aria-label={`Move rule ${index + 1} up`}
              refusal={index === 0 ? 'It is the first rule' : undefined}
              onClick={() => onChange(moveRule(policy, index, -1))}
            >
              ↑
            </Button>
            <Button
              look="quiet"
              aria-label={`Move rule ${index + 1} down`}
              refusal={index === policy.rules.length - 1 ? 'It is the last rule' : undefined}
              onClick={() => onChange(moveRule(policy, index, 1))}
            >
              ↓
            </Button>
            <Button
              look="quiet"
              aria-label={`Remove rule ${index + 1}`}
              onClick={() => onChange(removeRule(policy, index))}
            >
              Remove
            </Button>
          </div>
        )}
      </li>
      {rule.endsPolicy && (
        <li
          aria-label={`Rule ${index + 1} ends the policy`}
          className="flex items-center gap-3 py-2 text-[12.5px] text-ink-2"
        >
          <span aria-hidden className="h-px flex-1 bg-rule-strong" />
          rule {index + 1} ends this policy for what it answers
          <span aria-hidden className="h-px flex-1 bg-rule-strong" />
        </li>
      )}
    </>
  );
}

interface UnlessProps {
  readonly rule: Rule;
  readonly context: ClauseContext;
  readonly onAdd: (clause: Rule['when']) => void;
}

function Unless({ rule, context, onAdd }: UnlessProps) {
  if (rule.unless) {
    return (
      <div className="flex gap-1.5">
        <span className="whitespace-nowrap">unless</span>
        <div>
          <Clauses clause={rule.unless} path={[]} context={context} />
        </div>
      </div>
    );
  }
  if (context.readOnly) return null;
  return (
    <EditorPopover
      label="Add an exception"
      trigger={
        <button type="button" className="text-[12.5px] text-press">
          + unless
        </button>
      }
    >
      <NewClauses firstPattern={context.firstPattern} onAdd={onAdd} />
    </EditorPopover>
  );
}

interface OutcomeProps {
  readonly rule: Rule;
  readonly policy: Policy;
  readonly readOnly: boolean;
  readonly change: (part: Partial<Rule>) => void;
}

function Outcome({ rule, policy, readOnly, change }: OutcomeProps) {
  const answers = [...new Set(policy.channels.flatMap((channel) => CHANNEL_ANSWERS[channel]))];
  const told = rule.answer !== 'note';
  const words =
    rule.notice.trim() === ''
      ? 'nothing yet'
      : `"${rule.notice.length > 60 ? `${rule.notice.slice(0, 57)}…` : rule.notice}"`;
  if (readOnly) {
    return (
      <p>
        then <b>{ANSWER_WORDS[rule.answer]}</b>
        {told && <>, tell the sender {words}</>}, severity <b>{rule.severity}</b>.
      </p>
    );
  }
  return (
    <p>
      then{' '}
      <EditorPopover
        label="Change the answer"
        trigger={
          <button type="button" className="part">
            {ANSWER_WORDS[rule.answer]}
          </button>
        }
      >
        <SelectField<Answer>
          label="Answer"
          value={rule.answer}
          hint={ANSWER_MEANING[rule.answer]}
          options={(answers.includes(rule.answer) ? answers : [rule.answer, ...answers]).map((answer) => ({
            value: answer,
            label: `${ANSWER_WORDS[answer]}: ${ANSWER_MEANING[answer]}`,
          }))}
          onChange={(answer) => change({ answer })}
        />
        <label className="mt-2.5 flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={rule.endsPolicy}
            onChange={(event) => change({ endsPolicy: event.target.checked })}
          />
          when it holds, later rules of this policy are not read
        </label>
      </EditorPopover>
      {told && (
        <>
          , tell the sender{' '}
          <EditorPopover
            wide
            label="Change what the sender reads"
            trigger={
              <button type="button" className="part">
                {words}
              </button>
            }
          >
            <TextArea
              label="What the sender reads"
              rows={5}
              maxLength={4000}
              value={rule.notice}
              hint="Say why, and what to do instead. What was found and the rule's name are added by themselves."
              onChange={(event) => change({ notice: event.target.value })}
            />
          </EditorPopover>
        </>
      )}
      , severity{' '}
      <EditorPopover
        label="Change the severity"
        trigger={
          <button type="button" className="part">
            {rule.severity}
          </button>
        }
      >
        <SelectField<Severity>
          label="Severity"
          value={rule.severity}
          options={SEVERITIES.map((severity) => ({ value: severity, label: SEVERITY_WORDS[severity] }))}
          onChange={(severity) => change({ severity })}
        />
      </EditorPopover>
      .
    </p>
  );
}
