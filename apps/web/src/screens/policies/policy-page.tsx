import { newRule } from '@lantern/core/policy';
import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { PolicyView } from '@lantern/contracts';
import type { Policy, Problem } from '@lantern/core/policy';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useCreatePolicy, usePolicy, useRemovePolicy } from '../../data/policies';
import { usePatterns } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { placeRule, problemsAt } from './edit';
import { PolicyFrame } from './policy-frame';
import { ProblemLine, RuleCard } from './rule/rule-card';
import { TextView } from './text-view/text-view';
import { type SaveState, useDraftPolicy } from './use-draft-policy';
import { toast } from 'sonner';
import { useGoesUntouched } from './use-goes-untouched';

export function PolicyPage() {
  const { id = '' } = useParams();
  const view = usePolicy(id);
  // What somebody else saves meanwhile must not replace what is being typed: the first answer is the one edited.
  const [edited, setEdited] = useState<PolicyView | null>(null);
  if (view.data && edited?.policy.id !== id) setEdited(view.data);
  if (view.isError) {
    return (
      <div className="p-7">
        <Notice look="stop">{errorSentence(view.error)}</Notice>
      </div>
    );
  }
  if (!edited || edited.policy.id !== id) return <Loading what="the policy" />;
  return <PolicyEditor key={id} view={edited} />;
}

/** One policy as a page that is read from top to bottom and edited in place. */
function PolicyEditor({ view }: { readonly view: PolicyView }) {
  const { policy, problems, state, change, undo, canUndo, saveNow } = useDraftPolicy(view);
  useGoesUntouched(view, canUndo);
  const firstPattern = usePatterns().data?.[0]?.id ?? 'payment-card';
  const navigate = useNavigate();
  const remove = useRemovePolicy();
  const create = useCreatePolicy();
  const readOnly = !useMay('policies.write');
  const [search, setSearch] = useSearchParams();
  const asText = search.get('view') === 'text';
  useHotkeys('mod+z', undo, { preventDefault: true });
  const discard = () =>
    remove.mutate(policy.id, {
      onSuccess: () => {
        void navigate('/policies');
        toast(`"${policy.name || 'The policy'}" was removed from the drafts`, {
          action: {
            label: 'Undo',
            // This page is gone by then: the promise outlives it, its callbacks would not.
            onClick: () =>
              void create.mutateAsync(policy).then(
                (back) => navigate(`/policies/${back.policy.id}`),
                (error: unknown) => toast.error(errorSentence(error)),
              ),
          },
        });
      },
    });
  const general = [
    ...problemsAt(problems, ['name']),
    ...problems.filter((problem) => problem.code === 'no-rules'),
  ];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/policies">
          Policies
        </Link>
      </p>
      <div className="flex max-w-5xl items-start gap-3">
        <div className="flex-1">
          <input
            aria-label="Name of the policy"
            readOnly={readOnly}
            placeholder="What does it protect?"
            maxLength={120}
            className="w-full bg-transparent font-head text-[19px] font-semibold"
            value={policy.name}
            onChange={(event) => change({ ...policy, name: event.target.value })}
          />
          <textarea
            aria-label="Purpose"
            readOnly={readOnly}
            placeholder="Why does it exist?"
            maxLength={4000}
            rows={2}
            className="w-full resize-none bg-transparent text-ink-2"
            value={policy.purpose}
            onChange={(event) => change({ ...policy, purpose: event.target.value })}
          />
        </div>
        <SaveMark state={state} />
        {!readOnly && (
          <>
            <Button onClick={undo} refusal={canUndo ? undefined : 'Nothing to undo'}>
              Undo
            </Button>
            <Button look="stop" onClick={discard}>
              Remove
            </Button>
          </>
        )}
        <Button aria-pressed={asText} onClick={() => setSearch(asText ? {} : { view: 'text' })}>
          {asText ? 'As sentences' : 'As text'}
        </Button>
        <Button look="main" onClick={() => void saveNow().then(() => navigate('/publish'))}>
          Review changes
        </Button>
      </div>
      <PolicyFrame
        policy={policy}
        problems={problems}
        readOnly={readOnly}
        firstPattern={firstPattern}
        onChange={change}
      />
      <div className="max-w-5xl">
        {state.status === 'failed' && (
          <Notice look="stop">{state.sentence} Your version stays on this page until you leave it.</Notice>
        )}
        {general.map((problem) => (
          <ProblemLine key={problem.code} problem={problem} />
        ))}
        {asText ? (
          <TextView policy={policy} readOnly={readOnly} onChange={change} />
        ) : (
          <Rules
            policy={policy}
            problems={problems}
            readOnly={readOnly}
            firstPattern={firstPattern}
            onChange={change}
          />
        )}
        <p className="mb-3 text-[12.5px] text-ink-2">
          Anything no rule matches is allowed and creates no incident. Across policies, the strongest answer
          wins.
        </p>
        {!readOnly && !asText && (
          <Button
            onClick={() =>
              change({ ...policy, rules: [...policy.rules, newRule(crypto.randomUUID(), firstPattern)] })
            }
          >
            Add a rule
          </Button>
        )}
      </div>
    </div>
  );
}

interface RulesProps {
  readonly policy: Policy;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly firstPattern: string;
  readonly onChange: (policy: Policy) => void;
}

/** The rules in reading order; they are dragged by their number, and moved with the buttons beside them. */
function Rules({ policy, problems, readOnly, firstPattern, onChange }: RulesProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const drop = ({ active, over }: DragEndEvent) => {
    const place = (id: unknown) => policy.rules.findIndex((rule) => rule.id === id);
    const [from, to] = [place(active.id), place(over?.id)];
    if (from !== -1 && to !== -1 && from !== to) onChange(placeRule(policy, from, to));
  };
  return (
    <DndContext sensors={sensors} onDragEnd={drop}>
      <SortableContext items={policy.rules.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <ol className="my-3 flex flex-col gap-2.5">
          {policy.rules.map((rule, index) => (
            <RuleCard
              key={rule.id}
              policy={policy}
              index={index}
              rule={rule}
              problems={problems}
              readOnly={readOnly}
              firstPattern={firstPattern}
              onChange={onChange}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function SaveMark({ state }: { readonly state: SaveState }) {
  const words = { saved: 'draft saved', saving: 'saving …', failed: 'not saved' }[state.status];
  return (
    <span
      role="status"
      className={`py-1 text-[12.5px] whitespace-nowrap ${state.status === 'failed' ? 'font-semibold text-stop' : 'text-ink-2'}`}
    >
      {words}
    </span>
  );
}
