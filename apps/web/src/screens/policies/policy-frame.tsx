import { EVERYBODY } from '@lantern/core/directory';
import { CHANNELS } from '@lantern/core/movement';
import { ANSWERS, type Ceiling, type Policy, type Problem } from '@lantern/core/policy';
import { useNavigate } from 'react-router';
import { useCeilingRecord } from '../../data/policies';
import { useStartReplay } from '../../data/replays';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { EditorPopover } from '../../ui/popover';
import { whereaboutsWords } from '../../wording/sentence';
import { audienceWords } from '../../wording/audience';
import { WhereEditor } from './where-editor';
import { ANSWER_DONE, CHANNEL_WORDS } from '../../wording/terms';
import { AudienceEditor, useReach } from '../../shared/audience/audience-editor';
import { ChooseSeveral } from './clauses/choose-several';
import { Clauses, type ClauseContext } from './clauses/clauses';
import { NewClauses } from './clauses/new-clauses';
import { problemsAt } from './edit';
import { ProblemLine } from './rule/rule-card';
import { SentencePart } from './sentence-part';

interface Props {
  readonly policy: Policy;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly firstPattern: string;
  readonly onChange: (policy: Policy) => void;
}

/** What stands before the rules: for whom, on which channels, under which condition, up to which answer. */
export function PolicyFrame({ policy, problems, readOnly, firstPattern, onChange }: Props) {
  const change = (part: Partial<Policy>) => onChange({ ...policy, ...part });
  const reach = useReach(policy.people);
  const context: ClauseContext = {
    place: ['shared'],
    root: policy.shared ?? { kind: 'all', of: [] },
    problems,
    readOnly,
    firstPattern,
    onChange: (shared) => change({ shared }),
  };
  const mine = ['owner', 'channels', 'people', 'where', 'shared'].flatMap((field) =>
    problemsAt(problems, [field]),
  );
  return (
    <section aria-label="Scope and owner" className="max-w-5xl text-[14px] leading-7">
      <p>
        For{' '}
        <SentencePart
          words={audienceWords(policy.people)}
          label="Change whom the policy applies to"
          readOnly={readOnly}
        >
          <AudienceEditor audience={policy.people} onChange={(people) => change({ people })} />
        </SentencePart>{' '}
        <span className="text-[12.5px] text-ink-2">
          ({reach.meant} of {reach.all} people)
        </span>
        , on{' '}
        <SentencePart
          words={policy.channels.map((channel) => CHANNEL_WORDS[channel]).join(' and ') || 'no channel yet'}
          label="Change the channels"
          readOnly={readOnly}
        >
          <ChooseSeveral
            label="Channels"
            options={CHANNELS.map((channel) => ({ value: channel, label: CHANNEL_WORDS[channel] }))}
            chosen={policy.channels}
            onChange={(channels) => change({ channels })}
          />
        </SentencePart>
        ,{' '}
        <SentencePart
          words={whereaboutsWords(policy.where)}
          label="Change where the policy applies"
          readOnly={readOnly}
        >
          <WhereEditor where={policy.where} onChange={(where) => change({ where })} />
        </SentencePart>
        . Owner:{' '}
        <SentencePart words={policy.owner || 'nobody yet'} label="Change the owner" readOnly={readOnly}>
          <TextField
            label="Owner"
            maxLength={120}
            value={policy.owner}
            onChange={(event) => change({ owner: event.target.value })}
          />
        </SentencePart>
        .
      </p>
      <Shared context={context} policy={policy} onAdd={(shared) => change({ shared })} />
      <Ceilings policy={policy} problems={problems} readOnly={readOnly} onChange={change} />
      {mine.map((problem) => (
        <ProblemLine key={`${problem.code}${problem.path.join('.')}`} problem={problem} />
      ))}
    </section>
  );
}

interface SharedProps {
  readonly context: ClauseContext;
  readonly policy: Policy;
  readonly onAdd: (shared: NonNullable<Policy['shared']>) => void;
}

/** A condition that stands before every rule. */
function Shared({ context, policy, onAdd }: SharedProps) {
  if (policy.shared)
    return (
      <div className="flex gap-1.5">
        <span className="whitespace-nowrap">Every rule applies only when</span>
        <div>
          <Clauses clause={policy.shared} path={[]} context={context} />
        </div>
      </div>
    );
  if (context.readOnly) return null;
  return (
    <EditorPopover
      wide
      label="Add a condition for every rule"
      trigger={
        <button type="button" className="text-[12.5px] text-press">
          + condition for every rule
        </button>
      }
    >
      <NewClauses firstPattern={context.firstPattern} onAdd={onAdd} />
    </EditorPopover>
  );
}

interface CeilingProps {
  readonly policy: Policy;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly onChange: (change: Partial<Policy>) => void;
}

const CEILING_ANSWERS = [
  { value: 'as-written', label: 'as written' },
  ...ANSWERS.map((answer) => ({ value: answer, label: `${answer} at most` })),
] as const;

/** The strongest answers, read from the top; what the present ones caught stands beside them. */
function Ceilings({ policy, problems, readOnly, onChange }: CeilingProps) {
  const { ceilings } = policy;
  const change = (index: number, part: Partial<Ceiling>) =>
    onChange({ ceilings: ceilings.map((each, at) => (at === index ? { ...each, ...part } : each)) });
  const add = () => onChange({ ceilings: [...ceilings, { people: EVERYBODY, answer: 'note', until: null }] });
  return (
    <div>
      {ceilings.length === 0 && <span>Applies in full to everyone. </span>}
      {ceilings.map((ceiling, index) => (
        <p key={index} className="flex flex-wrap items-baseline gap-x-1.5">
          <span>{index === 0 ? 'Ceiling for' : 'then for'}</span>
          <SentencePart words={audienceWords(ceiling.people)} label="Change for whom" readOnly={readOnly}>
            <AudienceEditor audience={ceiling.people} onChange={(people) => change(index, { people })} />
          </SentencePart>
          :
          <SentencePart
            words={`${ceiling.answer === 'as-written' ? 'as written' : `${ceiling.answer} at most`}${ceiling.until ? ` until ${ceiling.until}` : ''}`}
            label="Change the ceiling"
            readOnly={readOnly}
          >
            <div className="flex flex-col gap-2.5">
              <SelectField
                label="Ceiling"
                value={ceiling.answer}
                options={CEILING_ANSWERS}
                onChange={(answer) => change(index, { answer })}
              />
              <TextField
                label="Last day"
                type="date"
                hint="Empty: no end."
                value={ceiling.until ?? ''}
                onChange={(event) => change(index, { until: event.target.value || null })}
              />
              <Button
                look="quiet"
                onClick={() => onChange({ ceilings: ceilings.filter((_each, at) => at !== index) })}
              >
                Remove ceiling
              </Button>
            </div>
          </SentencePart>
        </p>
      ))}
      {!readOnly && (
        <button type="button" className="text-[12.5px] text-press" onClick={add}>
          + ceiling
        </button>
      )}
      {problemsAt(problems, ['ceilings']).map((problem) => (
        <ProblemLine key={`${problem.code}${problem.path.join('.')}`} problem={problem} />
      ))}
      {ceilings.length > 0 && <CeilingCaught policy={policy} />}
    </div>
  );
}

const MONTH_MS = 30 * 86_400_000;

/** What ceilings kept the policy from doing, and what pilot people said, for whoever thinks of raising them. */
function CeilingCaught({ policy }: { readonly policy: Policy }) {
  const record = useCeilingRecord(policy.id);
  const replay = useStartReplay();
  const navigate = useNavigate();
  const mayReplay = useMay('replay.run');
  if (!record.data) return null;
  const { cut, people, decided, pilot, said } = record.data;
  const cuts = Object.entries(cut).map(
    ([answer, count]) => `${count} ${ANSWER_DONE[answer as keyof typeof ANSWER_DONE]}`,
  );
  const tryIt = () => {
    const now = Date.now();
    replay.mutate(
      {
        since: new Date(now - MONTH_MS).toISOString(),
        until: new Date(now).toISOString(),
        unlimited: policy.id,
      },
      { onSuccess: ({ id }) => void navigate(`/policies/replay?of=${id}`) },
    );
  };
  return (
    <div className="my-1 bg-sunk px-3 py-1.5 text-[13px] leading-6">
      {cuts.length === 0
        ? 'The ceilings have not reduced any answer yet.'
        : `Without them: ${cuts.join(', ')}, of ${people} ${people === 1 ? 'person' : 'people'}. Decided so far: ${decided.falsePositive} false positive, ${decided.allowed} allowed, ${decided.harm} harm.`}{' '}
      {pilot.wentOn + pilot.takenBack + pilot.refused > 0 &&
        `People to whom it applies in full: ${pilot.wentOn} went on, ${pilot.takenBack} turned back, ${pilot.refused} were refused. `}
      {said.length > 0 && (
        <details>
          <summary className="cursor-pointer">What they wrote</summary>
          <ul className="list-disc pl-5">
            {said.map((words, index) => (
              <li key={index}>{words}</li>
            ))}
          </ul>
        </details>
      )}
      <Button
        look="quiet"
        onClick={tryIt}
        refusal={mayReplay ? undefined : 'Your account may not run replays'}
      >
        Replay the last 30 days without these ceilings
      </Button>
    </div>
  );
}
