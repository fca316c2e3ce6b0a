import { newPolicy, newRule } from '@lantern/core/policy';
import type { PolicyView } from '@lantern/contracts';
import { gravityOf } from '@lantern/core/policy';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useCreatePolicy, useDraft, useNames, useOrderPolicies, usePolicies } from '../../data/policies';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { problemSentence } from '../../wording/problems';
import { type Names, policySentences, ruleSentence } from '../../wording/sentence';
import { STATE_WORDS } from '../../wording/terms';
import { PolicyPlaces } from '../../shared/policy-places';

/** All policies in the order in which they are read, their rules as sentences. */
export function PoliciesList() {
  const policies = usePolicies();
  const names = useNames();
  const navigate = useNavigate();
  const create = useCreatePolicy();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('policies.write');
  const typed = search.get('find') ?? '';
  const start = () =>
    create.mutate(newPolicy(newRule(crypto.randomUUID(), 'payment-card')), {
      onSuccess: ({ policy }) => void navigate(`/policies/${policy.id}`),
    });
  const all = policies.data ?? [];
  const shown = all.filter((view) => holdsWords(view, typed, names));
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="mb-3 flex max-w-5xl items-center gap-3">
        <h1 className="flex-1">Policies</h1>
        <input
          aria-label="Find in policies"
          placeholder="Find in policies"
          className="field !w-56"
          value={typed}
          onChange={(event) =>
            setSearch(event.target.value ? { find: event.target.value } : {}, { replace: true })
          }
        />
        <Button
          look="main"
          onClick={start}
          refusal={mayWrite ? undefined : 'Your account may read policies but not edit them'}
        >
          Create policy
        </Button>
      </div>
      {create.isError && <Notice look="stop">{errorSentence(create.error)}</Notice>}
      {policies.isPending && <Loading what="the policies" />}
      {policies.isError && <Notice look="stop">{errorSentence(policies.error)}</Notice>}
      {policies.data?.length === 0 && (
        <Empty title="No policies yet">
          A policy says how one kind of data may move. Create the first policy, or start from a{' '}
          <Link className="part" to="/policies/packs">
            starter pack
          </Link>
          . It stays a draft until you publish it.
        </Empty>
      )}
      <ol className="max-w-5xl">
        {shown.map((view) => (
          <PolicyRow key={view.policy.id} view={view} all={all} names={names} mayWrite={mayWrite} />
        ))}
      </ol>
      <SetProblems />
      <p className="mt-3 max-w-5xl text-[12.5px] text-ink-2">
        Anything no rule matches is allowed and creates no incident.
      </p>
    </div>
  );
}

function holdsWords({ policy }: PolicyView, typed: string, names: Names): boolean {
  const text = [policy.name, policy.purpose, ...policy.rules.map((rule) => ruleSentence(rule, names))].join(
    ' ',
  );
  return text.toLowerCase().includes(typed.trim().toLowerCase());
}

interface RowProps {
  readonly view: PolicyView;
  readonly all: readonly PolicyView[];
  readonly names: Names;
  readonly mayWrite: boolean;
}

function PolicyRow({ view: { policy, state, problems }, all, names, mayWrite }: RowProps) {
  const order = useOrderPolicies();
  const ids = all.map((view) => String(view.policy.id));
  const at = ids.indexOf(policy.id);
  const must = problems.filter(({ code }) => gravityOf(code) === 'must').length;
  const look = problems.length - must;
  const move = (by: number) => order.mutate(ids.toSpliced(at, 1).toSpliced(at + by, 0, policy.id));
  return (
    <li className="border-b border-rule py-2.5">
      <div className="flex items-baseline gap-3">
        <span className="w-5 text-right font-head text-ink-2">{at + 1}</span>
        <Link className="part text-[15px]" to={`/policies/${policy.id}`}>
          {policy.name || 'Unnamed policy'}
        </Link>
        <span className="text-[12.5px] text-ink-2">{STATE_WORDS[state]}</span>
        {must > 0 && (
          <span className="bg-stop-soft px-1.5 text-[12.5px] text-stop">
            {must} {must === 1 ? 'problem' : 'problems'}
          </span>
        )}
        {look > 0 && <span className="bg-sunk px-1.5 text-[12.5px] text-ink-2">{look} to check</span>}
        <span className="flex-1" />
        {mayWrite && (
          <span className="text-[12.5px]">
            <Button
              look="quiet"
              aria-label={`Read ${policy.name} earlier`}
              refusal={at === 0 ? 'It is already first' : undefined}
              onClick={() => move(-1)}
            >
              ↑
            </Button>
            <Button
              look="quiet"
              aria-label={`Read ${policy.name} later`}
              refusal={at === all.length - 1 ? 'It is already last' : undefined}
              onClick={() => move(1)}
            >
              ↓
            </Button>
          </span>
        )}
      </div>
      <div className="pl-8">
        <p className="text-ink-2">{policy.purpose}</p>
        <p className="text-[12.5px] text-ink-2">{policySentences(policy, names).join(' ')}</p>
        <ol className="mt-1 list-decimal pl-6 text-[13px]">
          {policy.rules.map((rule) => (
            <li key={rule.id}>
              {rule.name && <b>{rule.name}. </b>}
              {ruleSentence(rule, names)}
            </li>
          ))}
        </ol>
      </div>
    </li>
  );
}

/** What the checks say about the set as a whole. */
function SetProblems() {
  const draft = useDraft();
  const own = (draft.data?.problems ?? []).filter(({ policy }) => policy === null);
  if (own.length === 0) return null;
  return (
    <section
      aria-label="About all policies together"
      className="mt-3 max-w-5xl bg-sunk px-3 py-2 text-[13px]"
    >
      {own.map(({ problem }) => (
        <p key={`${problem.code}${problem.value ?? ''}`}>
          <b>Check: </b>
          {problemSentence(problem)}
        </p>
      ))}
    </section>
  );
}
