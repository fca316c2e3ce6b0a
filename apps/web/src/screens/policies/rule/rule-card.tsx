import { RulePromises } from '../../../shared/prevention/rule-promises';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { gravityOf, type Policy, type Problem, type Rule } from '@lantern/core/policy';
import { Button } from '../../../ui/button';
import { EditorPopover } from '../../../ui/popover';
import { problemSentence } from '../../../wording/problems';
import { audienceWords } from '../../../wording/audience';
import { Clauses, type ClauseContext } from '../clauses/clauses';
import { NewClauses } from '../clauses/new-clauses';
import { changeRule, placeRule, problemsAt, removeRule } from '../edit';
import { Beside } from './beside';
import { RuleOutcome } from './outcome';

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
  const sortable = useSortable({ id: rule.id, disabled: readOnly });
  const change = (part: Partial<Rule>) => onChange(changeRule(policy, index, part));
  const context = (side: 'when' | 'unless'): ClauseContext => ({
    place: ['rules', index, side],
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
        ref={sortable.setNodeRef}
        style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
        className={`flex gap-4 rounded border border-rule bg-sheet px-4 py-3 text-[14.5px] leading-7 ${sortable.isDragging ? 'opacity-60' : ''}`}
        aria-label={`Rule ${index + 1}`}
      >
        <span
          {...(readOnly ? {} : sortable.listeners)}
          title={readOnly ? undefined : 'Drag to move this rule'}
          className={`font-head text-[15px] font-semibold text-ink-2 ${readOnly ? '' : 'cursor-grab touch-none'}`}
        >
          {index + 1}
        </span>
        <div className="min-w-0 flex-1">
          <div className="flex gap-1.5">
            <span className="whitespace-nowrap">
              {rule.people && (
                <>
                  For <b>{audienceWords(rule.people)}</b>, when
                </>
              )}
              {!rule.people && 'When'}
            </span>
            <div>
              <Clauses clause={rule.when} path={[]} context={context('when')} />
            </div>
          </div>
          <Unless rule={rule} context={context('unless')} onAdd={(clause) => change({ unless: clause })} />
          <RuleOutcome
            rule={rule}
            policy={policy}
            problems={mine}
            readOnly={readOnly}
            firstPattern={firstPattern}
            onChange={change}
          />
          <Beside rule={rule} readOnly={readOnly} onChange={change} />
          <RulePromises rule={rule.id} />
          {mine.map((problem) => (
            <ProblemLine key={`${problem.code}${problem.path.join('.')}`} problem={problem} />
          ))}
        </div>
        {!readOnly && <RuleButtons policy={policy} index={index} onChange={onChange} />}
      </li>
      {rule.endsPolicy && (
        <li
          aria-label={`Rule ${index + 1} ends the policy`}
          className="flex items-center gap-3 py-2 text-[12.5px] text-ink-2"
        >
          <span aria-hidden className="h-px flex-1 bg-rule-strong" />
          rule {index + 1} skips the later rules of this policy
          <span aria-hidden className="h-px flex-1 bg-rule-strong" />
        </li>
      )}
    </>
  );
}

/** What must be mended stands out; what is worth a look is told quietly. */
export function ProblemLine({ problem }: { readonly problem: Problem }) {
  const must = gravityOf(problem.code) === 'must';
  return (
    <p
      role={must ? 'alert' : 'note'}
      className={`mt-1.5 px-2.5 py-1 text-[13px] leading-normal ${must ? 'bg-stop-soft text-stop' : 'bg-sunk text-ink-2'}`}
    >
      {!must && <b>Check: </b>}
      {problemSentence(problem)}
    </p>
  );
}

function RuleButtons({ policy, index, onChange }: Pick<Props, 'policy' | 'index' | 'onChange'>) {
  return (
    <div className="flex items-start text-[12.5px] leading-normal">
      <Button
        look="quiet"
        aria-label={`Move rule ${index + 1} up`}
        refusal={index === 0 ? 'It is already the first rule' : undefined}
        onClick={() => onChange(placeRule(policy, index, index - 1))}
      >
        ↑
      </Button>
      <Button
        look="quiet"
        aria-label={`Move rule ${index + 1} down`}
        refusal={index === policy.rules.length - 1 ? 'It is already the last rule' : undefined}
        onClick={() => onChange(placeRule(policy, index, index + 1))}
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
      wide
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
